import { useEffect } from "react";

/** Names the page in the window's title, the most particular first. Without a name it leaves the title alone: what frames a page
 * never takes the title of the page inside it. */
export function useTitle(...parts: string[]) {
  const named = parts.filter(Boolean);
  const title = named.length ? [...named, "Notchback"].join(" · ") : "";
  useEffect(() => {
    if (title) document.title = title;
  }, [title]);
}
