import { setStep } from "../../model/document/intents";
import { redivided } from "../../model/shaping/latticePoints";
import { editor, type Triple, type Values } from "../../model/store";
import { change, tell } from "../../sync/build";
import { store } from "../session/storing";
import { tryValues } from "../session/trial";

const MOST = 32;

function fits(to: Triple): boolean {
  if (to.every((n) => Number.isInteger(n) && n >= 1 && n <= MOST)) return true;
  tell(`A lattice has 1 to ${MOST} cells along each axis`);
  return false;
}

/** Other divisions for the lattice at work; the shape stays as well as it can. */
export async function redivide(to: Triple): Promise<void> {
  const { session } = editor.get();
  if (session === null || session.tool !== "lattice" || !fits(to)) return;
  const got = await redivided(session.values, to);
  if (typeof got === "string") {
    tell(got);
    return;
  }
  editor.set({ gridPick: [] }); // other points carry these names now
  tryValues(got.values, false);
  await store();
  if (got.told !== null) tell(got.told);
}

/** Other divisions for a stored lattice. */
export async function redivideStored(part: string, step: string, held: Values, to: Triple): Promise<void> {
  if (!fits(to)) return;
  const got = await redivided(held, to);
  if (typeof got === "string") tell(got);
  else if ((await change("Change divisions", setStep(part, step, got.values))) && got.told !== null) tell(got.told);
}
