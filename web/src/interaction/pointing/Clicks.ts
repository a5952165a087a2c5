import { setMark } from "../../model/document/intents";
import { isLockedPart } from "../../model/document/parts";
import { changeKind, idsOf, setPick } from "../../model/picks/picks";
import { stepsBelow } from "../../model/steps/workingMark";
import { editor, kindOf, partOf } from "../../model/store";
import { bandWay } from "../../scene/bandWay";
import { curveUnder, ghostUnder, hitAt } from "../../scene/hit";
import type { Pointer } from "../../scene/pointer";
import type { Pane } from "../../scene/Sheet";
import { change, tell } from "../../sync/build";
import { lookOf } from "../../tools/manifest";
import { pickLoop, pickPath } from "../picks/pickRules";
import { accept } from "../session/storing";
import { chooseMember, setMembers } from "../parts/wholes";
import { hitIn, type Scenery, sightOf } from "../views";

/** Picks by single clicks, each going on from the one before. */
export class Clicks {
  private last: { x: number; y: number; nth: number; view: string; kind: string; revision: number } | null = null;
  /** id of what was clicked last: a path goes on from it */
  private anchor: string | null = null;

  constructor(private readonly views: Scenery) {}

  /** The element here, in place of the pick, beside it or out of it; the same place again takes what lies behind. */
  async one(pane: Pane, at: Pointer, toggle: boolean, remove: boolean): Promise<void> {
    const before = editor.get();
    const kind = before.auto ? "auto" : before.pickKind; // another kind of pick begins anew, and so does a click after a change
    const revision = before.build?.revision ?? 0;
    const again = this.last !== null && this.last.kind === kind && this.last.revision === revision && this.last.view === pane.view && Math.hypot(this.last.x - at.x, this.last.y - at.y) <= 2 && !toggle && !remove;
    const nth = again && this.last !== null ? this.last.nth + 1 : 0;
    const hit = hitIn(this.views, pane, at.x, at.y, nth);
    await accept();
    this.last = hit === null ? null : { x: at.x, y: at.y, nth, view: pane.view, kind, revision };
    const cage = hit === null ? undefined : editor.get().meshes[hit.part]?.mesh.cage;
    this.anchor = hit === null || cage === undefined ? null : (idsOf(cage, hit.kind, [hit.element])[0] ?? null);
    if (!remove) editor.set({ clicked: this.anchor });
    const { pick, pickKind, current, placing } = editor.get();
    if (placing) {
      if (hit !== null && !isLockedPart(editor.get(), hit.part)) await chooseMember(`p:${hit.part}`, toggle ? "toggle" : "alone", []);
      return;
    }
    editor.set({ stack: hit === null || hit.stacked < 2 ? null : { nth: (nth % hit.stacked) + 1, of: hit.stacked } });
    const maker = hit === null || hit.aside === true ? this.madeBelow() : null;
    if (maker !== null) tell(`What is seen here is made below “you work here”, by ${maker.title}.`, { title: "Work below it", go: () => void change("Move working mark", setMark(maker.part, maker.step)) });
    if (hit === null) {
      const curve = toggle || remove ? null : curveUnder(at.x, at.y, sightOf(this.views, pane));
      if (curve !== null && curve !== current) {
        editor.set({ current: curve, pick: null, openStep: null });
        return;
      }
      // a curve has points alone: one that is clicked is meant, whatever was picked before
      const point = curve === null ? null : hitAt(at.x, at.y, "vertices", sightOf(this.views, pane), 0, false);
      if (point !== null && point.part === curve && kind === "faces") {
        changeKind("vertices");
        setPick(curve, "vertices", [point.element]);
        return;
      }
      if (maker === null) this.tellGhost(pane, at);
      if (!toggle && !remove && current !== null) setPick(current, pickKind, []);
      return;
    }
    if (isLockedPart(editor.get(), hit.part)) {
      tell(`${partOf(editor.get(), hit.part)?.name ?? "It"} is locked; unlock it in the list of parts to pick on it`);
      return;
    }
    const held = pick !== null && pick.part === hit.part && pick.kind === hit.kind ? pick.elements : [];
    if (remove) setPick(hit.part, hit.kind, held.filter((e) => e !== hit.element));
    else if (toggle) setPick(hit.part, hit.kind, held.includes(hit.element) ? held.filter((e) => e !== hit.element) : [...held, hit.element]);
    else setPick(hit.part, hit.kind, [hit.element]);
  }

  /** What is drawn see-through is not picked; said where only it lies. */
  private tellGhost(pane: Pane, at: Pointer): void {
    const id = ghostUnder(at.x, at.y, sightOf(this.views, pane));
    const part = id === null ? null : partOf(editor.get(), id);
    if (part?.id == null) return;
    const key = `p:${part.id}`;
    if (part.template === true) tell(`${part.name} is a template: it is seen, and not picked.`, { title: "Template no more", go: () => void setMembers("Template no more", [key], { template: false }) });
    else if (part.ghosted === true) tell(`${part.name} is ghosted: drawn see-through, and not picked.`, { title: "Draw it solid", go: () => void setMembers(`Draw ${part.name} solid`, [key], { ghosted: false }) });
    else tell(`${part.name} is ghosted with its group, and not picked; draw the group solid in the list of parts`);
  }

  /** The step below the working mark that makes faces of its own, where there is one. */
  private madeBelow(): { readonly part: string; readonly step: string; readonly title: string } | null {
    const state = editor.get();
    const part = partOf(state, state.current);
    const step = part === null ? undefined : stepsBelow(part).find((s) => lookOf(s.kind).adds === true);
    return part?.id == null || step?.id == null ? null : { part: part.id, step: step.id, title: step.label ?? kindOf(state, step.kind)?.title ?? step.kind };
  }

  /** The shortest way from what was clicked last to what lies here, beside the pick. */
  async path(pane: Pane, at: Pointer): Promise<void> {
    const hit = hitIn(this.views, pane, at.x, at.y, 0);
    await accept();
    const mesh = hit === null ? undefined : editor.get().meshes[hit.part]?.mesh.cage;
    if (hit === null || mesh === undefined) return;
    const [to] = idsOf(mesh, hit.kind, [hit.element]);
    const { pick } = editor.get();
    const from = this.anchor ?? pick?.ids[pick.ids.length - 1] ?? null;
    if (from === null || pick === null || pick.part !== hit.part || pick.kind !== hit.kind || hit.kind === "vertices") {
      setPick(hit.part, hit.kind, [hit.element]);
    } else {
      await pickPath(hit.kind, from, to as string, pick);
    }
    this.anchor = to ?? null;
  }

  /** A second click at once: the loop of an edge, the band of a face; with Ctrl the ring. */
  async loop(pane: Pane, at: Pointer, ring: boolean, beside: boolean): Promise<void> {
    const hit = hitIn(this.views, pane, at.x, at.y, 0);
    const mesh = hit === null ? undefined : editor.get().meshes[hit.part]?.mesh.cage;
    const view = hit === null ? undefined : this.views.parts.get(hit.part);
    if (hit === null || mesh === undefined || view === undefined || hit.kind === "vertices") return;
    const edge = hit.kind === "edges" ? hit.element : bandWay(mesh, hit.element, view, pane.camera, at.x, at.y).edge;
    const [id] = idsOf(mesh, "edges", [edge]);
    await pickLoop(hit.kind, id as string, ring && hit.kind === "edges", beside ? editor.get().pick : null);
    this.last = null;
  }
}
