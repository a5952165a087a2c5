import { editor, METRES, type Triple, unitOf, type Value, type Values } from "../store";

/** A side is thin where it is less than this share of the other. */
const THINNER = 0.5;
/** A lattice is so much larger than what it is laid round, so that it can be seen and picked. */
const ROOM = 0.02;

/** A lattice round a box of metres; flat ones get some depth. */
export function latticeRound([low, high]: readonly [Triple, Triple]): Values {
  const metres = METRES[unitOf(editor.get())];
  const size = Math.max(...high.map((v, k) => v - low[k]!), 1e-4);
  const tidy = (v: number) => Number((v / metres).toPrecision(6)) + 0;
  return { box: [low.map((v) => tidy(v - ROOM * size)), high.map((v) => tidy(v + ROOM * size))] as unknown as Value };
}

/** Twists and their like go along the longest side. */
export function upright([low, high]: readonly [Triple, Triple]): Values {
  const size = high.map((v, k) => v - low[k]!);
  return { axis: "xyz"[size.indexOf(Math.max(...size))] as string };
}

/** A bend runs along the longest side and goes where it is thinnest, as a panel gives way; up, or sideways, where it is as thick both
 * ways. */
export function bentAlong([low, high]: readonly [Triple, Triple]): Values {
  const size = high.map((v, k) => v - low[k]!);
  const along = size.indexOf(Math.max(...size));
  const [usual, other] = along === 1 ? [0, 2] : along === 0 ? [1, 2] : [1, 0];
  const toward = (size[other] as number) < THINNER * (size[usual] as number) ? other : usual;
  return { along: "xyz"[along] as string, toward: `+${"xyz"[toward] as string}` };
}
