import { focusView } from "../../interaction/focus";
import { cancel, finish, store } from "../../interaction/session/storing";
import { dropValue, tryValues } from "../../interaction/session/trial";
import { editor, METRES, type ToolSession, unitOf, useEditor } from "../../model/store";
import { NumberField } from "../fields/NumberField";

/** From where to where along its axis a part is bent, twisted or tapered: as far as it goes, unless told otherwise. */
export function RangeFields({ session }: { readonly session: ToolSession }) {
  const unit = useEditor(unitOf);
  const axis = "xyz".indexOf(String(session.values["along"] ?? session.values["axis"]));
  const metres = METRES[unit];
  const told = (name: "from" | "to") => session.values[name] as number | undefined;
  const extent = (name: "from" | "to") => {
    const corner = session.box?.[name === "from" ? 0 : 1];
    return corner === undefined ? undefined : Number(((corner[axis] as number) / metres).toPrecision(6)) + 0;
  };
  const put = (name: "from" | "to", v: number) => {
    if (v === extent(name)) dropValue(name);
    else tryValues({ [name]: v }, false);
    void store();
  };
  return (
    <>
      {(["from", "to"] as const).map((name) => (
        <span className="field" key={name}>
          {name}
          <NumberField label={name} unit={unit} suffix="" width={58} value={told(name) ?? extent(name) ?? 0} onTry={(v) => tryValues({ [name]: v }, true)} onCommit={(v) => put(name, v)} onCancel={cancel} onEnter={finish} onLeave={focusView} />
        </span>
      ))}
    </>
  );
}

/** One axis on: x, y, z and round again. */
export function nextAxis(axis: string): string {
  return "xyz"[("xyz".indexOf(axis) + 1) % 3] as string;
}

/** A quarter turn about an axis further: the four directions across it, one after the other. */
export function quarterOn(along: string, toward: string): string {
  const [u, v] = [0, 1, 2].filter((k) => "xyz"[k] !== along).map((k) => "xyz"[k]) as [string, string];
  const ways = [`+${u}`, `+${v}`, `-${u}`, `-${v}`];
  return ways[(ways.indexOf(toward) + 1) % 4] as string;
}

/** A bend that is worked: tried at once, stored once it was touched. */
export function put(values: Record<string, string | number>): void {
  tryValues(values, false);
  if (editor.get().session?.stored !== null) void store();
  focusView();
}
