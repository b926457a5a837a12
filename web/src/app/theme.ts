import { useEffect, useState } from "react";

export type Theme = "light" | "dark";

function stored(): Theme {
  const kept = localStorage.getItem("theme");
  if (kept === "light" || kept === "dark") return kept;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

/** Light or dark: the system's choice until the person makes one. */
export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState<Theme>(stored);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  return [
    theme,
    () =>
      setTheme((before) => {
        const next = before === "light" ? "dark" : "light";
        localStorage.setItem("theme", next);
        return next;
      }),
  ];
}
