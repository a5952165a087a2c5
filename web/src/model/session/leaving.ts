/** What has to be done before a build is left: a tool's values are kept. Told by whoever works on the build. */
let before: () => Promise<void> = () => Promise.resolve();

export function beforeLeaving(deed: () => Promise<void>): void {
  before = deed;
}

export function leave(): Promise<void> {
  return before();
}
