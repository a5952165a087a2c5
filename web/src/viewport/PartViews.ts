import { Box3, Scene } from "three";

import type { Group, Part } from "../api/client";
import { keepsNumbers } from "../model/steps/kinds";
import { groupKey, partKey } from "../model/document/members";
import { groupsAround, isSet } from "../model/document/parts";
import { useLaid } from "../model/wrap/layout";
import { matrixOf } from "../model/places/frames";
import { type EditorState, groupsOf, METRES, partsOf, unitOf } from "../model/store";
import { PartView } from "../scene/PartView";

/** The parts of the build in the scene, as the store says. */
export class PartViews {
  readonly views = new Map<string, PartView>();
  private readonly copies = new Map<string, PartView>();

  constructor(private readonly scene: Scene) {}

  dispose(): void {
    for (const view of [...this.views.values(), ...this.copies.values()]) view.dispose();
  }

  colours(): void {
    for (const view of this.views.values()) view.colours();
  }

  /** How far what is shown reaches, in the build and metres. */
  bounds(): Box3 {
    const box = new Box3();
    for (const view of this.views.values()) if (view.group.visible) box.union(view.bounds());
    return box;
  }

  /** Make them what the store says; whether elements of one were numbered anew. */
  sync(state: EditorState): boolean {
    const parts = state.build?.document.parts ?? [];
    for (const [id, view] of this.views) {
      if (!parts.some((p) => p.id === id)) {
        this.scene.remove(view.group);
        view.dispose();
        this.views.delete(id);
      }
    }
    this.syncCopies(state);
    return parts.map((part) => this.syncPart(part, state)).some(Boolean);
  }

  /** What a copy that is being dragged out will be, see-through. */
  private syncCopies(state: EditorState): void {
    const { moved } = state;
    const placed = <M extends Part | Group>(m: M, key: string): M => (moved?.[key] === undefined ? m : { ...m, placement: moved[key] });
    const groups = groupsOf(state).map((g) => placed(g, groupKey(g)));
    const rides = (p: Part) => moved !== null && (partKey(p) in moved || groupsAround(p, groups).some((g) => groupKey(g) in moved));
    const wanted = state.copying ? partsOf(state).filter(rides).map(partKey) : [];
    for (const [key, view] of this.copies) {
      if (wanted.includes(key)) continue;
      this.scene.remove(view.group);
      view.dispose();
      this.copies.delete(key);
    }
    for (const key of wanted) {
      const part = state.build?.document.parts?.find((p) => partKey(p) === key);
      const mesh = state.meshes[part?.id ?? ""]?.mesh;
      if (part === undefined || mesh === undefined) continue;
      let view = this.copies.get(key);
      if (view === undefined) {
        view = new PartView();
        this.copies.set(key, view);
        this.scene.add(view.group);
        view.show(mesh);
        view.ghosted = true;
      }
      view.place(matrixOf(placed(part, key), METRES[unitOf(state)], groups));
    }
  }

  private syncPart(part: Part, state: EditorState): boolean {
    const id = part.id ?? "";
    const held = state.meshes[id];
    if (held === undefined) return false;
    let view = this.views.get(id);
    if (view === undefined) {
      view = new PartView();
      this.views.set(id, view);
      this.scene.add(view.group);
    }
    const trial = state.session?.part === id ? state.preview : (state.preview?.others[id] ?? state.trailing?.[id] ?? null);
    const mesh = trial ?? held.mesh;
    const anew = view.mesh !== mesh && view.mesh?.cage.shape !== mesh.cage.shape;
    view.show(mesh);
    const groups = groupsOf(state);
    const { swung } = state;
    const moved = state.copying ? null : state.moved;
    const trialled = <M extends Part | Group>(member: M, key: string): M => {
      const placed = moved?.[key] === undefined ? member : { ...member, placement: moved[key] };
      return swung?.key === key && placed.joint != null ? { ...placed, joint: { ...placed.joint, now: swung.now } } : placed;
    };
    const still = swung === null && moved === null;
    view.place(matrixOf(still ? part : trialled(part, partKey(part)), METRES[unitOf(state)], still ? groups : groups.map((g) => trialled(g, groupKey(g)))));
    view.checker.show(state.checker && state.station === "wrap" ? mesh.cage : null);
    const laid = useLaid.getState();
    const told = state.station === "wrap" && laid.part === id && laid.layout !== null && (trial === null ? laid.key === held.key : mesh.cage.shape === held.mesh.cage.shape);
    view.seams(told ? (laid.layout?.seams ?? null) : null);
    view.paint(part.colour ?? groupsAround(part, groups).find((g) => g.colour != null)?.colour ?? null);
    view.group.visible = !isSet(part, groups, "hidden") && (state.isolated === null || state.isolated.includes(id));
    view.ghosted = isSet(part, groups, "ghosted") || isSet(part, groups, "template");
    // a trial that numbers elements anew shows itself, not what was picked for it
    const renumbered = trial !== null && !(state.session?.part === id && keepsNumbers(state.session));
    const pick = state.pick?.part === id && !renumbered ? state.pick : null;
    view.pick(pick?.kind ?? state.pickKind, pick?.elements ?? null);
    return anew;
  }
}
