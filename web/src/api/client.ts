import createClient from "openapi-fetch";

import type { components, paths } from "./schema";
import { windowName } from "./window";

type Schemas = components["schemas"];
export type Build = Schemas["Build"];
export type BuildSummary = Schemas["BuildSummary"];
export type BuildDocument = Schemas["Document"];
export type Part = NonNullable<BuildDocument["parts"]>[number];
export type Group = Schemas["Group"];
export type Step = NonNullable<Part["steps"]>[number];
export type Board = NonNullable<BuildDocument["boards"]>[number];
export type PartStatus = Schemas["PartStatus"];
export type StepStatus = Schemas["StepStatus"];
export type FindingInfo = Schemas["FindingInfo"];
export type KindInfo = Schemas["KindInfo"];
export type ParameterValue = Schemas["Value"];
export type Parameter = Schemas["Parameter"];
export type Fault = Schemas["Fault"];
export type Operation = Schemas["PatchOperation"];
export type Unit = NonNullable<BuildDocument["unit"]>;
export type BoardView = NonNullable<Board["view"]>;
export type View = Exclude<BoardView, "free">;
export type PartLayout = Schemas["PartLayout"];
export type Pattern = NonNullable<BuildDocument["patterns"]>[number];
export type Layer = NonNullable<Pattern["layers"]>[number];
export type Guide = NonNullable<BuildDocument["guides"]>[number];
export type Size = NonNullable<BuildDocument["sizes"]>[number];
export type SizeInfo = Schemas["SizeInfo"];
export type Tracing = Schemas["Tracing"];
export type Pick = NonNullable<Schemas["Target"]["pick"]>;
export type Stroke = Schemas["Stroke"];

/** Sent with every request: no page of another origin can, and it says which window asks. What is refused comes as an answer
 * like others: a browser takes note of every other as an error of the page. */
export function own(): Record<string, string> {
  return { "X-Rhytonic": windowName(), "X-Rhytonic-Quiet": "1" };
}

/** An answer with the status it was meant to have. */
export function asMeant(response: Response): Response {
  const refused = response.headers.get("X-Refused");
  return refused === null ? response : new Response(response.body, { status: Number(refused), headers: response.headers });
}

export const api = createClient<paths>({ baseUrl: "/" });
api.use({
  onRequest({ request }) {
    for (const [key, value] of Object.entries(own())) request.headers.set(key, value);
    return request;
  },
  onResponse: ({ response }) => asMeant(response),
});

/** A refusal of the server, told in its own sentence. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly fault: Fault,
  ) {
    super(fault.said ?? fault.message);
  }
}

/** Nothing answered, or the database is away: worth trying again. */
export class Unreachable extends Error {}

function faultOf(body: unknown, status: number): Fault {
  if (typeof body === "object" && body !== null && "message" in body && "code" in body) return body as Fault;
  return { code: "fault", message: `the server answered with status ${status}` };
}

/** The data of an answer; throws Refused or Unreachable. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got: { data?: T; error?: unknown; response: Response };
  try {
    got = await call;
  } catch {
    throw new Unreachable("the server cannot be reached");
  }
  if (got.response.status === 503 || got.response.status === 502) throw new Unreachable(faultOf(got.error, 503).message);
  if (!got.response.ok) throw new Refused(got.response.status, faultOf(got.error, got.response.status));
  return got.data as T;
}

/** What an error says to a person. */
export function sentence(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

/** A build from an answer. The client library widens tuples to arrays in what it returns; the schema says they are tuples. */
export async function answerBuild(call: Promise<{ data?: unknown; error?: unknown; response: Response }>): Promise<Build> {
  return (await answer(call)) as Build;
}
