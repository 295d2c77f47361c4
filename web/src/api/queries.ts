import { QueryClient } from "@tanstack/react-query";
import { Problem } from "./problem";

/** What was asked, kept for as long as a page may show it. */
export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (n, e) => n < 2 && !(e instanceof Problem && e.status >= 400 && e.status < 500),
      refetchOnWindowFocus: true,
      staleTime: 5_000,
    },
  },
});

/** Asks for a room while its page is still on its way. What fails is asked again, and told, by the page. */
export const ahead: QueryClient["prefetchQuery"] = (room) => queries.prefetchQuery(room);
