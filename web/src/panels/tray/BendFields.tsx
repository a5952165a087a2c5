import { Button, type InputRef, Select } from "antd";
import type { Ref } from "react";

import { focusView } from "../../interaction/focus";
import { cancel, finish, store } from "../../interaction/session/storing";
import { tryValues } from "../../interaction/session/trial";
import type { ToolSession } from "../../model/store";
import { NumberField } from "../fields/NumberField";
import { Tip } from "../fields/Tip";
import { nextAxis, put, quarterOn, RangeFields } from "./RangeFields";
import { Riders } from "./Riders";

/** The bend by its numbers; the direction is the wrong one first, so a press turns it by a quarter. */
export function BendFields({ session, inputRef }: { readonly session: ToolSession; readonly inputRef: Ref<InputRef> | undefined }) {
  const { values } = session;
  const [along, toward] = [String(values["along"]), String(values["toward"])];
  return (
    <span className="fields">
      <span className="field">
        <NumberField
          {...(inputRef !== undefined ? { inputRef } : {})}
          label="angle"
          unit={null}
          suffix="°"
          width={66}
          value={Number(values["angle"] ?? 0)}
          onTry={(angle) => tryValues({ angle }, true)}
          onCommit={(angle) => {
            tryValues({ angle }, false);
            void store();
          }}
          onCancel={cancel}
          onEnter={finish}
          onLeave={focusView}
        />
      </span>
      <Tip title="Which way the part is bent; on to the next axis">
        <Button size="small" aria-label="Bend along the next axis" onClick={() => put({ along: nextAxis(along), toward: nextAxis(along) === "y" ? "+x" : "+y" })}>
          along {along}
        </Button>
      </Tip>
      <Tip title="Where the upper end goes; on by a quarter turn">
        <Button size="small" aria-label="Turn the bend by a quarter" onClick={() => put({ toward: quarterOn(along, toward) })}>
          toward {toward.replace("-", "−")} ↻
        </Button>
      </Tip>
      <RangeFields session={session} />
      <span className="field">
        hold
        <Select
          size="small"
          aria-label="hold"
          popupMatchSelectWidth={false}
          value={String(values["hold"] ?? "from")}
          options={["from", "middle", "to"].map((value) => ({ value, label: value }))}
          onChange={(hold: string) => put({ hold })}
        />
      </span>
      <Riders session={session} />
    </span>
  );
}
