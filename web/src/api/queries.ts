import { QueryClient } from "@tanstack/react-query";
import { Problem } from "./problem";
import { rooms } from "./rooms";

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

/** Asked for while a page is still on its way, all at once. What fails is asked again, and told, by the page. */
export const ahead = {
  desk: () => void queries.prefetchQuery(rooms.me()),
  today: () => void queries.prefetchQuery(rooms.today()),
  roster: () => void queries.prefetchQuery(rooms.roster("", false)),
  reference: () => void queries.prefetchQuery(rooms.reference()),
  coaches: () => void queries.prefetchQuery(rooms.coaches()),
  library: () => void queries.prefetchQuery(rooms.library()),
  typicalErrors: () => void queries.prefetchQuery(rooms.typicalErrors()),
  runner: (id: string) => void queries.prefetchQuery(rooms.runner(id)),
  screen: (id: string) => void queries.prefetchQuery(rooms.screen(id)),
  gait: (id: string) => {
    void queries.prefetchQuery(rooms.gait(id));
    void queries.prefetchQuery(rooms.films());
  },
  read: (id: string) => void queries.prefetchQuery(rooms.read(id)),
  build: (id: string) => void queries.prefetchQuery(rooms.draft(id, null)),
  week: (id: string) => void queries.prefetchQuery(rooms.week(id)),
  adjust: (id: string) => void queries.prefetchQuery(rooms.adjust(id)),
  retest: (id: string) => void queries.prefetchQuery(rooms.retest(id)),
  handOut: (id: string) => void queries.prefetchQuery(rooms.handOut(id, 7)),
  referral: (id: string) => void queries.prefetchQuery(rooms.referral(id)),
};
