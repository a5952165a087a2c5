import { answer, api, type Unit, Unreachable } from "../api/client";
import { editor } from "../model/store";

const reading = new Set<Promise<unknown>>();

/** Once everything typed so far has been read: a press on a button, or Enter, may come before the field it left has been. */
export async function settleFields(): Promise<void> {
  while (reading.size > 0) await Promise.all(reading);
}

/** A value on its way, which {@link settleFields} waits for. */
export function track<T>(value: Promise<T>): Promise<T> {
  const held = value.catch(() => undefined);
  reading.add(held);
  void held.then(() => reading.delete(held));
  return value;
}

/** A number by itself means the same everywhere; it is read here, whether or not the server answers. */
const BARE = /^-?(0|[1-9]\d*)([.,]\d+)?$/;
const AGAIN = 1000;

/** Reads a typed value: the core does, so that units and sums mean the same everywhere. A patient reader waits for a server that is
 * away, and says so where changes do. */
async function read(text: string, unit: Unit | null, patient: boolean): Promise<number> {
  if (BARE.test(text.trim())) return Number(text.trim().replace(",", "."));
  for (;;) {
    try {
      const value = await ask(text, unit);
      if (patient && editor.get().save.kind === "waiting") editor.set({ save: { kind: "saved", message: null } });
      return value;
    } catch (error) {
      if (!patient || !(error instanceof Unreachable)) throw error;
      editor.set({ save: { kind: "waiting", message: `Not stored yet: ${error.message}. Trying again …` } });
      await new Promise((r) => setTimeout(r, AGAIN));
    }
  }
}

async function ask(text: string, unit: Unit | null): Promise<number> {
  if (unit === null) return (await answer(api.GET("/api/number", { params: { query: { text } } }))).value;
  return (await answer(api.GET("/api/length", { params: { query: { text, unit } } }))).value;
}

/**
 * A typed value, a length in a unit or a plain number, against the one that stands: `+2` adds, `*1.5` multiplies, `/2` divides, `+-2` subtracts; a leading minus is
 * a negative value. Rejects with a sentence when it cannot be read; what is meant, and not only tried, waits for a server that is away.
 */
export async function evaluate(text: string, base: number, unit: Unit | null, meant = false): Promise<number> {
  const trimmed = text.trim();
  const sign = trimmed[0];
  const rest = trimmed.slice(1);
  if (sign === "+") return tidy(base + (await read(rest, unit, meant)));
  if (sign === "*" || sign === "×") return tidy(base * (await plain(rest)));
  if (sign === "/") {
    const by = await plain(rest);
    if (by === 0) throw new Error("cannot divide by zero");
    return tidy(base / by);
  }
  return read(trimmed, unit, meant);
}

async function plain(text: string): Promise<number> {
  const value = Number(text.trim().replace(",", ".").replace("−", "-"));
  if (text.trim() === "" || !Number.isFinite(value)) throw new Error(`'${text}' is not a number`);
  return value;
}

function tidy(value: number): number {
  return Number(value.toPrecision(12));
}
