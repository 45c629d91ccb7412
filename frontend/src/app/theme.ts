import { theme as antd, type ThemeConfig } from "antd";
import { useCallback, useEffect, useState } from "react";

export type Theme = "light" | "dark";
const KEPT = "hakari.theme";

const devicePrefersDark = () => window.matchMedia("(prefers-color-scheme: dark)");

function themeNow(): Theme {
  const kept = localStorage.getItem(KEPT);
  if (kept === "light" || kept === "dark") return kept;
  return devicePrefersDark().matches ? "dark" : "light";
}

/** Light paper or the dark theme, kept per device, else as the device prefers at the time. */
export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState<Theme>(themeNow);
  useEffect(() => {
    const device = devicePrefersDark();
    const follow = () => setTheme(themeNow());
    device.addEventListener("change", follow);
    return () => device.removeEventListener("change", follow);
  }, []);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const toggle = useCallback(() => {
    setTheme((now) => {
      const next = now === "light" ? "dark" : "light";
      localStorage.setItem(KEPT, next);
      return next;
    });
  }, []);
  return [theme, toggle];
}

/** Ant Design's tokens in Hakari's paper and ink. */
export function antdTheme(theme: Theme): ThemeConfig {
  const dark = theme === "dark";
  const coarse = window.matchMedia("(pointer: coarse)").matches;
  const ink = dark ? "#eae5d8" : "#1b2440";
  return {
    algorithm: dark ? antd.darkAlgorithm : antd.defaultAlgorithm,
    token: {
      motion: !window.matchMedia("(prefers-reduced-motion: reduce)").matches,
      fontFamily: '"Instrument Sans Variable", system-ui, sans-serif',
      fontSize: 15,
      borderRadius: 6,
      colorPrimary: dark ? "#f0764c" : "#b83f19",
      colorInfo: dark ? "#f0764c" : "#b83f19",
      colorError: dark ? "#f58a64" : "#b83f19",
      colorText: ink,
      colorTextSecondary: dark ? "#a9aec2" : "#5a6279",
      colorTextPlaceholder: dark ? "#8f95b0" : "#626978",
      colorBgBase: dark ? "#1d2338" : "#fbf8f1",
      colorBgContainer: dark ? "#1d2338" : "#fbf8f1",
      colorBgElevated: dark ? "#232a42" : "#fffdf7",
      colorBorder: dark ? "#363d57" : "#dcd4c2",
      colorBorderSecondary: dark ? "#363d57" : "#dcd4c2",
      controlHeight: coarse ? 44 : 38,
    },
    components: {
      Button: { primaryShadow: "none", fontWeight: 600 },
      Modal: { titleFontSize: 20 },
      // Persimmon is for what to do; what was chosen is ink.
      Checkbox: {
        colorPrimary: ink,
        colorPrimaryHover: ink,
        colorWhite: dark ? "#14182a" : "#ffffff",
        colorBorder: dark ? "#8f95b0" : "#626978",
        controlInteractiveSize: coarse ? 22 : 16,
      },
      Tabs: { inkBarColor: ink, itemSelectedColor: ink, itemHoverColor: ink, itemActiveColor: ink, titleFontSize: 15 },
    },
  };
}
