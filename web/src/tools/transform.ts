import { Vector3 } from "three";

import { unedited } from "../model/steps/freshForm";
import { prefs } from "../model/prefs";
import { triple } from "../model/session/toolStep";
import { editor, METRES, partOf, type ToolSession, type Triple, unitOf, type Values } from "../model/store";
import { linearOf, turned } from "../model/places/turns";
import { format, shownUnit, steady, toShown } from "../model/units";
import type { Overlay } from "../scene/overlay";
import type { Pointer } from "../scene/pointer";
import { snapping, SnapTargets, toStep } from "../scene/snap";
import { token } from "../theme/theme";
import { AXES, fieldOf, type Handle, handle } from "./Handle";
import { angleAt, drawHandles, handleAt, OVER, type Stand } from "./handles";
import { MoveDrag } from "./moveDrag";
import { fault, type Tool, type ToolPlace, type Wish } from "./Tool";

/** Turning by hand goes in whole degrees, tenths when fine; scaling in hundredths, thousandths when fine. */
const DEGREE: readonly [number, number] = [1, 0.1];
const SHARE: readonly [number, number] = [0.01, 0.001];

/** One set of handles: arrows, patches, arcs, bars and the middle knob; collars that make; the rim of soft selection. */
export class TransformTool implements Tool {
  private move: MoveDrag | null = null;
  private start: { handle: Handle; values: Values; at: Pointer; angle: number; turned: number } | null = null;

  private stand(place: ToolPlace): Stand {
    const { session } = place;
    const linear = linearOf(place.view.group.matrix);
    const metres = METRES[unitOf(editor.get())];
    const spans = session.axes.map((a) => new Vector3(...a).applyMatrix3(linear)) as [Vector3, Vector3, Vector3];
    const origin = new Vector3(...session.pivot).applyMatrix4(place.view.group.matrix);
    triple(session.values, "translate").forEach((t, i) => origin.addScaledVector(spans[i] as Vector3, t * metres));
    return { origin, axes: spans.map((a) => a.clone().normalize()) as [Vector3, Vector3, Vector3], ...this.works() };
  }

  /** Whether there is anything to turn and scale, and what the collars make. */
  protected works(): Pick<Stand, "whole" | "makes"> {
    const { pick } = editor.get();
    return { whole: pick !== null && !(pick.kind === "vertices" && pick.elements.length === 1), makes: pick?.kind === "faces" ? "geometry" : null };
  }

  /** What one metre along each axis is in the build. */
  private spans(place: ToolPlace): [Vector3, Vector3, Vector3] {
    const linear = linearOf(place.view.group.matrix);
    return place.session.axes.map((a) => new Vector3(...a).applyMatrix3(linear)) as [Vector3, Vector3, Vector3];
  }

  handleAt(place: ToolPlace, at: Pointer): Handle | null {
    const stand = this.stand(place);
    const found = handleAt(stand, place.camera, at);
    if (found !== null) return found;
    const rim = this.rim(place, stand);
    if (rim !== null && Math.abs(Math.hypot(at.x - rim.x, at.y - rim.y) - rim.radius) <= 5) return handle("rim");
    // with an axis locked, dragging anywhere moves along it
    const { axisLock } = editor.get();
    return axisLock === null ? null : handle("move", axisLock);
  }

  /** The ring of soft selection in the pixels of the pane. */
  private rim(place: ToolPlace, stand: Stand): { x: number; y: number; radius: number } | null {
    const falloff = place.session.values["falloff"] as { radius: number } | undefined;
    if (falloff === undefined || falloff === null) return null;
    const p = place.camera.project(stand.origin);
    return { x: p.x, y: p.y, radius: (falloff.radius * METRES[unitOf(editor.get())]) / place.camera.pixel(stand.origin) };
  }

  /** Collars make new geometry; scaling what is already turned begins another step; a form nobody edited takes its true size. */
  instead(place: ToolPlace, pressed: Handle): Wish | null {
    if (pressed.kind === "inset") return { arm: "inset" };
    if (pressed.kind === "extrude") return { arm: "extrude", along: this.outward(place, pressed.axis) };
    if (fieldOf(pressed) !== "scale") return null;
    const { session } = place;
    const part = partOf(editor.get(), session.part);
    const form = part === null ? null : unedited(part);
    const { pick, meshes } = editor.get();
    const cage = meshes[session.part]?.mesh.cage;
    const whole = pick?.kind === "faces" && pick.elements.length === cage?.shape.faceCount;
    if (form !== null && whole && session.stored === null && pressed.kind === "stretch") return { arm: "step", part: session.part, step: form.id ?? "" };
    return triple(session.values, "rotate").some((v) => v !== 0) ? { arm: "again" } : null;
  }

  /** An arrow's direction as extrude tells it. */
  private outward(place: ToolPlace, axis: number): string | Triple {
    const [x, y, z] = place.session.axes[axis] as Triple;
    const plain = [x, y, z].findIndex((v) => Math.abs(v) > 1 - 1e-9);
    return plain >= 0 && place.session.axes[axis]!.filter((v) => Math.abs(v) < 1e-9).length === 2 ? `+${AXES[plain] as string}` : [x, y, z];
  }

  press(place: ToolPlace, pressed: Handle, at: Pointer): void {
    const stand = this.stand(place);
    const values = place.session.values;
    this.start = { handle: pressed, values, at, angle: angleAt(stand, place.camera, pressed, at), turned: 0 };
    if (fieldOf(pressed) === "translate") {
      const metres = METRES[unitOf(editor.get())];
      const frame = values["frame"] ?? "part";
      const moved = triple(values, "translate").map((v) => v * metres) as Triple;
      const base = frame === "normal" ? moved : frame === "build" ? (stand.origin.toArray() as Triple) : (place.session.pivot.map((v, i) => v + (moved[i] as number)) as Triple);
      this.move = new MoveDrag(pressed, this.spans(place), stand.origin, base, new SnapTargets(place.sight.parts, place.boards, true), place.camera, at);
    } else this.move = null;
  }

  drag(place: ToolPlace, at: Pointer): Values {
    const start = this.start;
    if (start === null) return {};
    const metres = METRES[unitOf(editor.get())];
    if (this.move !== null) {
      const by = this.move.by(place.camera, at);
      const from = triple(start.values, "translate");
      return { translate: from.map((v, i) => Number((v + by[i]! / metres).toPrecision(9))) as Triple };
    }
    const stand = this.stand(place);
    if (start.handle.kind === "rim") return this.dragRim(place, stand, at);
    if (start.handle.kind === "turn") return this.turn(place, stand, start.handle.axis, at);
    return this.scale(place, stand, at);
  }

  private dragRim(place: ToolPlace, stand: Stand, at: Pointer): Values {
    const p = place.camera.project(stand.origin);
    const pixel = place.camera.pixel(stand.origin);
    const metres = METRES[unitOf(editor.get())];
    const wanted = Math.max(Math.hypot(at.x - p.x, at.y - p.y) * pixel, 2 * pixel);
    const step = 10 ** Math.floor(Math.log10(Math.max((at.fine ? 0.5 : 5) * pixel, 1e-9) / metres));
    const radius = Math.max(toStep(wanted / metres, step), step);
    prefs.set({ soft: { ...prefs.get().soft, radius: radius * metres } });
    return { falloff: { ...(place.session.values["falloff"] as object), radius } as never };
  }

  private turn(place: ToolPlace, stand: Stand, axis: number, at: Pointer): Values {
    const start = this.start as NonNullable<typeof this.start>;
    const now = angleAt(stand, place.camera, start.handle, at);
    // past half a turn it goes on instead of jumping back
    let by = now - start.angle;
    by += 360 * Math.round((start.turned - by) / 360);
    start.turned = by;
    const snaps = snapping(at.invert) && prefs.get().snap.angle;
    const step = snaps ? prefs.get().angleStep : DEGREE[at.fine ? 1 : 0];
    return { rotate: turned(triple(start.values, "rotate"), axis, toStep(by, step as number)) };
  }

  private scale(place: ToolPlace, stand: Stand, at: Pointer): Values {
    const start = this.start as NonNullable<typeof this.start>;
    const { kind, axis } = start.handle;
    const o = place.camera.project(stand.origin);
    const reach = (p: Pointer) => {
      const [dx, dy] = [p.x - o.x, p.y - o.y];
      if (kind !== "stretch") return Math.hypot(dx, dy);
      const tip = place.camera.project(stand.origin.clone().addScaledVector(stand.axes[axis], 60 * place.camera.pixel(stand.origin)));
      const size = Math.hypot(tip.x - o.x, tip.y - o.y) || 1;
      return (dx * (tip.x - o.x) + dy * (tip.y - o.y)) / size;
    };
    const from = reach(start.at);
    const raw = Math.abs(from) < 1 ? 1 : reach(at) / from;
    const snaps = snapping(at.invert) && prefs.get().snap.scale;
    const by = toStep(raw, snaps ? prefs.get().scaleStep : (SHARE[at.fine ? 1 : 0] as number));
    const grows = (k: number) => kind === "even" || (kind === "spread" ? k !== axis : k === axis);
    const held = triple({ scale: start.values["scale"] ?? [1, 1, 1] }, "scale");
    return { scale: held.map((v, k) => (grows(k) ? Number((v * by).toPrecision(9)) : v)) as Triple };
  }

  draw(place: ToolPlace, overlay: Overlay, hot: Handle | null): void {
    const stand = this.stand(place);
    const rim = this.rim(place, stand);
    if (rim !== null) {
      const c = overlay.context;
      c.beginPath();
      c.arc(rim.x, rim.y, rim.radius, 0, 2 * Math.PI);
      c.setLineDash([3, 3]);
      c.lineWidth = hot?.kind === "rim" ? 3 : 1.5;
      c.strokeStyle = token("pick");
      c.stroke();
      c.setLineDash([]);
    }
    drawHandles(stand, overlay, hot);
    fault(overlay, stand.origin);
    const told = this.told(place.session);
    if (told !== null) overlay.label(stand.origin, told, token("pick"), OVER); // clear of what is moved
    const snapped = place.session.dragging ? this.move?.snapped : null;
    if (snapped != null) {
      overlay.dot(snapped.at, 7, "transparent", token("mark"), 2);
      overlay.label(snapped.at, snapped.what, token("mark"), 1);
    }
  }

  private told(session: ToolSession): string | null {
    const out: string[] = [];
    const [t, r, s] = (["translate", "rotate", "scale"] as const).map((k) => triple({ [k]: session.values[k] ?? [1, 1, 1] }, k));
    if (t!.some((v) => v !== 0)) out.push(`${t!.map((v) => steady(toShown(v))).join("  ")} ${shownUnit(editor.get())}`);
    if (r!.some((v) => v !== 0)) out.push(`${r!.map((v) => format(v)).join("  ")} °`);
    if (s!.some((v) => v !== 1)) out.push(`× ${s!.map(format).join("  ")}`);
    return out.length === 0 ? null : out.join("   ");
  }
}
