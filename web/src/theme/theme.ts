import { theme as antd, type ThemeConfig } from "antd";

/** Whether the night colours are on; kept by the browser. */
export function isNight(): boolean {
  return localStorage.getItem("rhytonic.theme") === "night";
}

export function applyTheme(night: boolean): void {
  localStorage.setItem("rhytonic.theme", night ? "night" : "light");
  document.documentElement.dataset["theme"] = night ? "night" : "light";
}

/** A colour token of tokens.css. */
export function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
}

export function antTheme(night: boolean): ThemeConfig {
  return {
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
