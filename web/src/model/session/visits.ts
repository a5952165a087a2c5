/**
 * How often a field was left so far. Corrections of one number share an undo entry only while its field has not been left:
 * five seconds later in the same field is another thought.
 */
let left = 0;

if (typeof document !== "undefined") document.addEventListener("focusout", () => (left += 1));

/** The undo entry that corrections of what `key` names join, for as long as its field is not left. */
export function entryOf(key: string): string {
  return `${key}@${left}`;
}
