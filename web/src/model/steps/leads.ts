/** Kinds of step that others can follow. */
export const LEADS: readonly string[] = ["lattice", "bend", "twist", "taper", "stretch"];

interface Led {
  readonly id?: string | null;
  readonly kind: string;
}

/** The last step of a part that others can follow. */
export function lastLead(steps: readonly Led[] | undefined): string | null {
  return steps?.findLast((s) => LEADS.includes(s.kind))?.id ?? null;
}
