import { ConfigProvider } from "antd";

import { usePrefs } from "../../model/prefs";
import { useEditor } from "../../model/store";
import { DrawingFields } from "./DrawingFields";
import { Favourites } from "./Favourites";
import { OptionsRow } from "./OptionsRow";
import { PathFields } from "./PathFields";
import { PickRow } from "./PickRow";
import { StatusLine } from "./StatusLine";
import { WorkRow } from "./WorkRow";

/** What is picked, the tools that fit it and the values of the one in use, how hands work, and a hint. */
export function ToolTray() {
  const drawing = useEditor((s) => s.drawing !== null);
  const path = useEditor((s) => s.path !== null);
  const favourites = usePrefs((p) => p.favourites.length > 0);
  return (
    <ConfigProvider componentSize="small">
      <footer className="tray" aria-label="Tool tray">
        <PickRow />
        {path ? <PathFields /> : drawing ? <DrawingFields /> : <WorkRow />}
        {favourites && <Favourites />}
        <OptionsRow />
        <StatusLine />
      </footer>
    </ConfigProvider>
  );
}
