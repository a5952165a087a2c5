import { Button } from "antd";

import type { Step } from "../../api/client";
import { backToView } from "../../interaction/focus";
import { accept } from "../../interaction/session/storing";
import { type Intent, setHeldPlace, setStep } from "../../model/document/intents";
import { counted } from "../../model/units";
import { change } from "../../sync/build";
import { NumberField } from "../fields/NumberField";

interface Place {
  readonly face: string;
  readonly at: readonly [number, number];
  readonly quarter?: number;
}

/** More pieces than this are worked on the square. */
const MOST = 60;

/** What a step holds on the texture square: the pieces that stay where they lie, by their numbers, or what it went round. */
export function HeldPlaces({ part, step }: { readonly part: string; readonly step: Step }) {
  const id = step.id ?? "";
  const put = (label: string, intent: Intent) => accept().then(() => change(label, intent));
  if (step.kind === "unwrap") {
    const pins = (step as { readonly pins?: Record<string, { readonly ids?: readonly string[] } | null> | null }).pins;
    if (pins == null) return null;
    const stays = (["vertices", "edges", "faces"] as const).flatMap((kind) => (pins[kind]?.ids == null ? [] : [several(pins[kind]?.ids?.length ?? 0, ONE[kind], kind)]));
    return (
      <p className="muted">
        round {stays.length > 0 ? stays.join(" and ") : "what was picked"}, which {stays.length === 1 && stays[0]?.startsWith("1 ") === true ? "stays" : "stay"}{" "}
        <Button size="small" onClick={() => void put("Let the pins go", setStep(part, id, { pins: undefined })).then(backToView)}>let it go</Button>
      </p>
    );
  }
  const places = (step as { readonly places?: readonly Place[] | null }).places ?? [];
  if (step.kind !== "pack" || places.length === 0) return null;
  const set = (place: Place) => void put("Place of a piece", setHeldPlace(part, id, place.face, place));
  const letGo = (face: string) => void put("Let a piece go", setHeldPlace(part, id, face, null)).then(backToView);
  return (
    <div className="pathpoints" role="group" aria-label="Places of the pieces">
      <p className="muted">{several(places.length, "piece stays", "pieces stay")} where {places.length === 1 ? "it lies" : "they lie"}: lower left u, v and quarter turns</p>
      {places.slice(0, MOST).map((p, i) => (
        <div className="pathpoint" key={p.face}>
          <span className="ordinal">{i + 1}</span>
          <span className="triple">
            {([0, 1] as const).map((k) => (
              <NumberField key={k} label={`places ${i + 1} ${"uv"[k] ?? ""}`} unit={null} width={46} value={p.at[k]} onCommit={(v) => v !== p.at[k] && set({ ...p, at: k === 0 ? [v, p.at[1]] : [p.at[0], v] })} />
            ))}
            <NumberField label={`places ${i + 1} quarter`} unit={null} whole width={28} value={p.quarter ?? 0} onCommit={(v) => v !== (p.quarter ?? 0) && set({ ...p, quarter: ((v % 4) + 4) % 4 })} />
          </span>
          <Button size="small" type="text" aria-label={`let piece ${i + 1} go`} onClick={() => letGo(p.face)}>let go</Button>
        </div>
      ))}
      {places.length > MOST && <p className="muted">and {places.length - MOST} more, on the square</p>}
    </div>
  );
}

const ONE = { vertices: "vertex", edges: "edge", faces: "face" } as const;

function several(count: number, one: string, more: string): string {
  return `${counted(count)} ${count === 1 ? one : more}`;
}
