/** A build and its revision as another window left it; null when something may have been missed. */
export type News = { readonly build: string; readonly revision: number } | null;

const CHANNEL = "rhytonic.news";
/** After so long, in milliseconds, a stream that was refused is asked for again. */
const AGAIN = 10_000;

/**
 * Tell of builds as they change, in whichever window. One stream serves a browser: the window that holds its lock listens
 * and passes on what it hears; when that one is closed, the next takes its place.
 */
export function follow(hear: (news: News) => void): () => void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.onmessage = (e: MessageEvent<News>) => hear(e.data);
  let stop: () => void = () => undefined;
  const ended = new Promise<void>((resolve) => (stop = resolve));
  const pass = (news: News) => {
    hear(news);
    channel.postMessage(news);
  };
  const lead = () => listen(pass, ended);
  const over = new AbortController();
  if (navigator.locks === undefined) void lead();
  else void navigator.locks.request("rhytonic.stream", { signal: over.signal }, lead).catch(() => undefined);
  return () => {
    over.abort();
    stop();
    channel.close();
  };
}

/** Listen until it is enough. */
async function listen(pass: (news: News) => void, ended: Promise<void>): Promise<void> {
  let source: EventSource | null = null;
  let again: ReturnType<typeof setTimeout> | undefined;
  const open = () => {
    source = new EventSource("/api/events");
    source.addEventListener("look", () => pass(null));
    source.addEventListener("changed", (e: MessageEvent<string>) => {
      const [build, revision] = e.data.split(" ");
      if (build !== undefined) pass({ build, revision: Number(revision) });
    });
    source.onerror = () => {
      if (source?.readyState === EventSource.CLOSED) again = setTimeout(open, AGAIN);
    };
  };
  open();
  await ended;
  clearTimeout(again);
  (source as EventSource | null)?.close();
}
