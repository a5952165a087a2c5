import { Button } from "antd";

import { commandOf, keyOf } from "../../interaction/keys/commands";
import { backToView } from "../../interaction/focus";
import { startWord } from "../../interaction/keys/startKind";
import { toggleFavourite, usePrefs } from "../../model/prefs";
import { useEditor } from "../../model/store";
import { Drop } from "../fields/Drop";

/** The person's own row: commands and kinds of step kept from the search. */
export function Favourites() {
  const favourites = usePrefs((p) => p.favourites);
  const kinds = useEditor((s) => s.kinds);
  return (
    <div className="trayrow favourites" role="toolbar" aria-label="Favourites">
      {favourites.map((id) => {
        const command = commandOf(id);
        const title = command?.title ?? kinds.find((k) => k.word === id)?.title;
        if (title === undefined) return null;
        const start = () => void Promise.resolve(command !== undefined ? command.run() : startWord(id)).then(backToView);
        return (
          <Drop key={id} trigger={["contextMenu"]} menu={{ items: [{ key: "drop", label: "Take out of the favourites", onClick: () => toggleFavourite(id) }] }}>
            <Button type="text" className="tool" onClick={start}>
              {title} {keyOf(id) !== "" && <kbd>{keyOf(id)}</kbd>}
            </Button>
          </Drop>
        );
      })}
    </div>
  );
}
