import { theme as antd, type ThemeConfig } from "antd";

/** Colours a person may put in place of the theme's. */
export type ColourName = "cage" | "pick" | "surface";

/** Whether the night colours are on; kept by the browser. */
export function isNight(): boolean {
  return localStorage.getItem("rhytonic.theme") === "night";
}

export function applyTheme(night: boolean): void {
  localStorage.setItem("rhytonic.theme", night ? "night" : "light");
  document.documentElement.dataset["theme"] = night ? "night" : "light";
  read.clear();
}

const read = new Map<string, string>();

/** A colour token of tokens.css, or what the person put in its place. Drawing asks for many a frame, so they are kept. */
export function token(name: string): string {
  let value = read.get(name);
  if (value === undefined) {
    value = getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
    if (value !== "") read.set(name, value);
  }
  return value;
}

const OWN: Record<ColourName, string> = { cage: "model-edge", pick: "pick", surface: "model" };

/** Put a person's own colours in place of the theme's. */
export function applyColours(colours: Readonly<Partial<Record<ColourName, string>>>): void {
  for (const [name, variable] of Object.entries(OWN) as [ColourName, string][]) {
    const own = colours[name];
    if (own === undefined) document.documentElement.style.removeProperty(`--${variable}`);
    else document.documentElement.style.setProperty(`--${variable}`, own);
  }
  read.clear();
}

export function antTheme(night: boolean): ThemeConfig {
  return {
    zeroRuntime: true,
    algorithm: night ? antd.darkAlgorithm : antd.defaultAlgorithm,
    token: {
      colorPrimary: token("pick"),
      colorInfo: token("mark"),
      colorText: token("ink"),
      colorTextSecondary: token("muted"),
      colorBgBase: token("panel"),
      colorBgContainer: token("panel"),
      colorBgElevated: token("panel"),
      colorBorder: token("rule"),
      colorBorderSecondary: token("rule"),
      colorSuccess: token("good"),
      colorWarning: token("warn"),
      colorLink: token("pick"),
      fontFamily: '"Archivo Variable", sans-serif',
      fontSize: 13,
      borderRadius: 5,
      controlHeight: 28,
      controlHeightSM: 24,
      motion: false,
    },
    components: {
      Segmented: { trackBg: token("table"), itemSelectedBg: token("panel"), itemColor: token("muted"), itemSelectedColor: token("ink") },
    },
  };
}
