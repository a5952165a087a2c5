import { Button, type InputRef } from "antd";
import { type Ref, useMemo } from "react";

import { focusView } from "../../interaction/focus";
import { store } from "../../interaction/session/storing";
import { tryValues } from "../../interaction/session/trial";
import { buildMiddle } from "../../model/places/buildMiddle";
import { editor, partOf, type ToolSession, useEditor } from "../../model/store";

/** Across whose axis a placed part is mirrored, and the way to the middle of the build. */
export function MirrorFields({ session }: { readonly session: ToolSession; readonly inputRef: Ref<InputRef> | undefined }) {
  const axis = String(session.values["axis"] ?? "x") as "x" | "y" | "z";
  const build = useEditor((s) => s.build);
  const part = useEditor((s) => partOf(s, session.part));
  const middle = useMemo(() => (part === null || build === null ? null : buildMiddle(editor.get(), part, axis)), [build, part, axis]);
  const name = part?.name ?? "";
  if (middle === null) return null;
  const { across, at } = middle;
  const take = () => {
    tryValues({ at }, false);
    if (session.stored !== null) void store();
    focusView();
  };
  return (
    <span className="fields">
      <span className="muted ellipsis" style={{ maxWidth: 180 }} title={`${name} is placed: the plane lies across its own ${axis}`}>across {name}’s own {axis}</span>
      <Button size="small" disabled={across === null} title={across === null ? `${name} is turned: its own ${axis} runs along no axis of the build` : `The plane ${across} = 0 of the build`} onClick={take}>
        the build’s middle
      </Button>
    </span>
  );
}
