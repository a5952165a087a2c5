import { Vector3 } from "three";

import { lastLead } from "../model/steps/leads";
import { othersOf } from "../model/steps/kinds";
import { othersFor } from "../model/document/parts";
import { editor, kindOf, partOf, type Values } from "../model/store";
import { curveUnder, hitAt } from "../scene/hit";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { token } from "../theme/theme";
import type { Handle } from "./Handle";
import { type Click, fault, type Tool, type ToolPlace } from "./Tool";

/** Other parts that a step takes: clicked one after the other in any view; a click on one that is taken leaves it out again. */
export class OtherPartTool implements Tool {
  handleAt(): Handle | null {
    return null;
  }

  press(): void {}

  drag(): Values {
    return {};
  }

  private under(place: ToolPlace, at: Pointer): string | null {
    const parts = new Map([...place.sight.parts].filter(([id]) => id !== place.session.part));
    const sight = { ...place.sight, parts, current: null };
    return hitAt(at.x, at.y, "faces", sight, 0, false)?.part ?? curveUnder(at.x, at.y, sight);
  }

  click(place: ToolPlace, at: Pointer): Click | null {
    const parameter = othersOf(kindOf(editor.get(), place.session.tool));
    const part = this.under(place, at);
    if (parameter === null || part === null || !othersFor(editor.get(), place.session.part).some((p) => p.id === part)) return null;
    if (place.session.tool === "follow") {
      const step = lastLead(partOf(editor.get(), part)?.steps ?? undefined);
      return step === null ? null : { values: { part, step }, stores: false };
    }
    if (parameter.quantity === "part") return { values: { [parameter.name]: part }, stores: false };
    const held = taken(place.session.values, parameter.name);
    const next = held.includes(part) ? held.filter((p) => p !== part) : [...held, part];
    return { values: { [parameter.name]: next.length > 0 ? next : held }, stores: false };
  }

  draw(place: ToolPlace, overlay: Overlay): void {
    const parameter = othersOf(kindOf(editor.get(), place.session.tool));
    if (parameter === null) return;
    for (const id of taken(place.session.values, parameter.name)) {
      const view = place.sight.parts.get(id);
      if (view === undefined) continue;
      overlay.label(view.bounds().getCenter(new Vector3()), partOf(editor.get(), id)?.name ?? id, token("pick"), 0);
    }
    fault(overlay, new Vector3(...(place.session.spots[0] ?? [0, 0, 0])).applyMatrix4(place.view.group.matrix));
  }
}

function taken(values: Values, name: string): readonly string[] {
  const value = values[name];
  return Array.isArray(value) ? (value as readonly unknown[]).map(String) : typeof value === "string" ? [value] : [];
}
