import { useLayoutEffect } from "react";

/** What each key of the bench does. Enter has a use of its own where something in hand would answer to it. */
export type Press = Record<string, ((shift: boolean) => void) | undefined>;

/** Listens for as long as the bench is open; where somebody types, or turns a choice, the keys are theirs. */
export function useKeyboard(press: Press, release: () => void) {
  useLayoutEffect(() => {
    const down = (e: KeyboardEvent) => {
      const el = e.target instanceof Element ? e.target : document.body;
      if (e.altKey || e.ctrlKey || e.metaKey || el.closest("input, select, textarea, [role=radio], [role=dialog]"))
        return;
      if (e.key === "Enter" && el.closest("button, a, [role=button]")) return;
      const f = press[e.key];
      if (!f) return;
      e.preventDefault();
      f(e.shiftKey);
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", release);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", release);
    };
  });
}
