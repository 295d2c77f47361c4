import { useEffect } from "react";

/** Names the page in the window's title, the most particular first. */
export function useTitle(...parts: string[]) {
  const title = [...parts.filter(Boolean), "Notchback"].join(" · ");
  useEffect(() => {
    document.title = title;
  }, [title]);
}
