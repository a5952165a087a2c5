/** What stands open over the page and is closed by Esc alone, the last one first: menus and panels behind a button. */
const open: (() => void)[] = [];

/** Something has opened; gives back what takes it from the pile again. */
export function onTop(close: () => void): () => void {
  open.push(close);
  return () => {
    const at = open.lastIndexOf(close);
    if (at >= 0) open.splice(at, 1);
  };
}

/** Close what opened last; whether there was something. */
export function closeTopmost(): boolean {
  const close = open.pop();
  close?.();
  return close !== undefined;
}
