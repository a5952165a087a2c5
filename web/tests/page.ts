// What of a page the modules ask for when nothing is drawn; imported before everything else.
const held = new Map<string, string>();
const storage = { getItem: (k: string) => held.get(k) ?? null, setItem: (k: string, v: string) => void held.set(k, v), removeItem: (k: string) => void held.delete(k) };
/** What the server answers; a test says so. */
export const server: { answer: (request: Request) => Response | Promise<Response> } = { answer: () => new Response(null, { status: 404 }) };

const Plain = globalThis.Request;

Object.assign(globalThis, {
  Request: class extends Plain {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(typeof input === "string" ? new URL(input, "http://127.0.0.1") : input, init);
    }
  },
  location: { origin: "http://127.0.0.1", href: "http://127.0.0.1/" },
  fetch: async (input: Request) => server.answer(input),
  localStorage: storage,
  document: { documentElement: { style: {}, dataset: {} } },
  getComputedStyle: () => ({ getPropertyValue: () => "#808080" }),
});
