/** What this window is called among those that work on builds: undo takes back its own changes. It stays over a reload. */
const KEY = "rhytonic.window";

let name: string | null = null;

function fresh(): string {
  const made = `w-${crypto.randomUUID()}`;
  globalThis.sessionStorage?.setItem(KEY, made);
  return made;
}

export function windowName(): string {
  name ??= globalThis.sessionStorage?.getItem(KEY) ?? fresh();
  return name;
}

/** Keep the name for this window alone as long as it is open, and let go of what it did when it is closed. */
export function holdName(): void {
  // a window opened as a copy of another brings its name along: whoever holds the name's lock keeps it
  void navigator.locks?.request(`rhytonic.${windowName()}`, { ifAvailable: true }, (lock) => {
    if (lock === null) name = fresh();
    return lock === null ? undefined : new Promise(() => undefined);
  });
  // what a closed window did is anyone's to undo
  addEventListener("pagehide", () => {
    void fetch(`/api/windows/${windowName()}/closed`, { method: "POST", headers: { "X-Rhytonic": windowName() }, keepalive: true }).catch(() => undefined);
  });
}
