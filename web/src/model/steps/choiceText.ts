/** What choices of steps are called where the word of the file says too little. */
const WORDS: Readonly<Record<string, string>> = { ngon: "one face", fan: "fan of triangles", average: "mean direction", lower: "the lower end", form_first: "first in the form", form_last: "last in the form", bernstein: "felt all over", bspline: "felt nearby", rigid: "carried whole", deformed: "deformed with it" };

/** A choice as a person reads it. */
export function choiceText(word: string): string {
  return WORDS[word] ?? word.replaceAll("_", " ");
}
