import type { Part } from "../api/client";

export type Axis = "x" | "y" | "z";
export type Copying = "plain" | "linked" | Axis;

/** A part that is a copy of another, where that stands or across a plane of the build. */
export function copyOf(part: Part, own: { id: string; name: string }, how: Copying): Record<string, unknown> {
  if (how === "plain") return { ...part, ...own };
  const { group, placement, pivot, joint } = part;
  const beside = Object.fromEntries(Object.entries({ group, placement, pivot, joint }).filter(([, v]) => v != null));
  if (how === "linked") return { ...own, ...beside, of: part.of ?? part.id, ...(part.mirrored == null ? {} : { mirrored: part.mirrored }) };
  // across the plane of the build or of the group: X·(T·R·S) = (X·T·X)·(X·R·X)·S·X, and turns about other axes run the other way
  const k = "xyz".indexOf(how);
  const turned = (v: number, i: number) => (i === k ? v : -v + 0);
  const across = (v: number, i: number) => (i === k ? -v + 0 : v);
  const swung = joint == null ? null : { ...joint, at: (joint.at ?? [0, 0, 0]).map(across), axis: joint.axis.map(joint.kind === "turn" ? turned : across) };
  const placed = {
    ...placement,
    ...(placement?.translate ? { translate: placement.translate.map(across) } : {}),
    ...(placement?.rotate ? { rotate: placement.rotate.map(turned) } : {}),
  };
  return {
    ...own,
    ...beside,
    ...(Object.keys(placed).length > 0 ? { placement: placed } : {}),
    ...(pivot == null ? {} : { pivot: pivot.map(across) }),
    ...(swung === null ? {} : { joint: swung }),
    of: part.id,
    mirrored: how,
  };
}
