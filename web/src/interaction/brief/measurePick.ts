import { addSize } from "../../model/document/intents";
import { type Measure, newSize, targetsFor } from "../../model/brief/sizes";
import { editor } from "../../model/store";
import { change, tell } from "../../sync/build";

/** A measurement of the pick, without a wanted value, kept and drawn. */
export async function measurePick(measure: Measure): Promise<void> {
  const of = targetsFor(measure, editor.get());
  if (typeof of === "string") {
    tell(`To measure ${measure}: ${of}`);
    return;
  }
  await change("Measure", addSize(newSize(measure, of)));
}
