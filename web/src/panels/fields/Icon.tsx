/** Our own drawings: ink lines on a 24-pixel field. */
const PATHS = {
  brief: "M4 5h16v14H4zM4 15l4-4 4 4 3-3 5 5M9 8.5h.01",
  form: "M12 3l8 4.5v9L12 21l-8-4.5v-9zM4 7.5l8 4.5 8-4.5M12 12v9",
  shape: "M3 19C6 9 9 6 12 6s6 3 9 13M12 6h.01M3 19h.01M21 19h.01",
  wrap: "M4 9h5V4h6v5h5v6h-5v5H9v-5H4zM9 9h6M9 15h6M9 9v6M15 9v6",
  handover: "M12 15V4M7.5 8.5L12 4l4.5 4.5M4 19h16",
  undo: "M8 5L4 9l4 4M4 9h10a5 5 0 0 1 0 10h-3",
  redo: "M16 5l4 4-4 4M20 9H10a5 5 0 0 0 0 10h3",
  seen: "M12 8.5a3.5 3.5 0 1 1 0 7 3.5 3.5 0 0 1 0-7M12 4.5a7.5 7.5 0 1 1 0 15 7.5 7.5 0 0 1 0-15",
  unseen: "M12 4.5a7.5 7.5 0 1 1 0 15 7.5 7.5 0 0 1 0-15M6.5 17.5l11-11",
  locked: "M6 11h12v9H6zM8.5 11V8a3.5 3.5 0 0 1 7 0v3",
  unlocked: "M6 11h12v9H6zM8.5 11V7a3.5 3.5 0 0 1 6.8-1.2",
  bin: "M5 7h14M9.5 7V4.5h5V7M7 7l1 13h8l1-13",
  home: "M4 11.5L12 5l8 6.5M6.5 10v9h11v-9",
  night: "M19 14.5A8 8 0 0 1 9.5 5 7.5 7.5 0 1 0 19 14.5z",
  alone: "M4 4h16v16H4zM4 9h16",
  sheet: "M4 4h16v16H4zM12 4v16M4 12h16",
  settings: "M4 7h10M18 7h2M14 5v4h4V5zM4 17h2M10 17h10M6 15v4h4v-4z",
  ghost: "M12 4l7 4v8l-7 4-7-4V8z M5 8l7 4 7-4 M12 12v8",
  star: "M12 4l2.4 5.2 5.6.7-4.1 3.9 1 5.6L12 16.7 7.1 19.4l1-5.6L4 9.9l5.6-.7z",
  frame: "M4 8V4h4M16 4h4v4M20 16v4h-4M8 20H4v-4M9 9h6v6H9z",
} as const;

export type IconName = keyof typeof PATHS;

export function Icon({ name, size = 18 }: { readonly name: IconName; readonly size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" fill="none" stroke="currentColor" strokeWidth={1.6} strokeLinecap="round" strokeLinejoin="round" aria-hidden>
      <path d={PATHS[name]} />
    </svg>
  );
}
