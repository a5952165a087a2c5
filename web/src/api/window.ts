/** What this window is called among those that work on builds: undo takes back its own changes. It stays over a reload. */
const KEY = "rhytonic.window";

let name = sessionStorage.getItem(KEY) ?? fresh();

function fresh(): string {
  const made = `w-${crypto.randomUUID()}`;
  sessionStorage.setItem(KEY, made);
  return made;
}

export function windowName(): string {
  return name;
}

// a window opened as a copy of another brings its name along: whoever holds the name's lock keeps it
void navigator.locks?.request(`rhytonic.${name}`, { ifAvailable: true }, (lock) => {
  if (lock === null) name = fresh();
  return lock === null ? undefined : new Promise(() => undefined);
});

// what a closed window did is anyone's to undo
addEventListener("pagehide", () => {
  void fetch(`/api/windows/${name}/closed`, { method: "POST", headers: { "X-Rhytonic": name }, keepalive: true }).catch(() => undefined);
});
