import { useEffect, useRef } from "react";

/** What the keys of the Spine do; each is one person's act. */
export type Keys = Record<string, () => void>;

function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.isContentEditable || ["INPUT", "SELECT", "TEXTAREA"].includes(target.tagName);
}

/** Listens on the whole page, except while something is typed or a dialog is open. */
export function useKeys(keys: Keys, active: boolean): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    if (!active) return;
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
      const onButton = event.target instanceof HTMLElement && event.target.closest("button, a") !== null;
      if (onButton && (event.key === "Enter" || event.key === " ")) return;
      const act = latest.current[event.key.length === 1 ? event.key.toLowerCase() : event.key];
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [active]);
}
