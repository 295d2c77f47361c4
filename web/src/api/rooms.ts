import { keepPreviousData, queryOptions, skipToken, type QueryClient, type QueryKey } from "@tanstack/react-query";
import { api, ask, type Schemas } from "./client";
import { readIn } from "../ui/reader";

const of = (runner: string) => ({ path: { runner } });

/** What a page asks, a key per room. The keys of one runner begin with "runner" and the id. */
export const rooms = {
  me: () =>
    queryOptions({
      queryKey: ["me"],
      queryFn: async () => {
        const me = await ask(api.GET("/api/me"));
        readIn(me.units);
        return me;
      },
    }),
  reference: () =>
    queryOptions({ queryKey: ["reference"], queryFn: () => ask(api.GET("/api/reference")), staleTime: 60_000 }),
  coreMinutes: (stations: string[]) =>
    queryOptions({
      queryKey: ["core minutes", stations],
      queryFn: () => ask(api.GET("/api/core-minutes", { params: { query: { stations } } })),
      placeholderData: keepPreviousData,
      staleTime: 60_000,
    }),
  // A line that is being computed, or could not be, says so and is asked for again.
  today: () =>
    queryOptions({
      queryKey: ["today"],
      queryFn: () => ask(api.GET("/api/today")),
      refetchInterval: (q) => {
        const is = (kind: Schemas["QueueItem"]["kind"]) => q.state.data?.some((i) => i.kind === kind);
        return is("computing") ? 1000 : is("broken") ? 60_000 : false;
      },
    }),
  roster: (q: string, archived: boolean) =>
    queryOptions({
      queryKey: ["runners", q, archived],
      queryFn: () => ask(api.GET("/api/runners", { params: { query: { q, archived } } })),
      placeholderData: keepPreviousData,
      refetchInterval: (q) =>
        q.state.data?.some((r) => r.pending) ? 1000 : q.state.data?.some((r) => r.broken) ? 60_000 : false,
    }),
  coaches: () => queryOptions({ queryKey: ["coaches"], queryFn: () => ask(api.GET("/api/coaches")) }),
  sessions: () => queryOptions({ queryKey: ["sessions"], queryFn: () => ask(api.GET("/api/sessions")) }),
  audit: (runner: string, before: number) =>
    queryOptions({
      queryKey: ["audit", runner, before],
      queryFn: () => ask(api.GET("/api/audit", { params: { query: { ...(runner ? { runner } : {}), before } } })),
      placeholderData: keepPreviousData,
    }),
  library: () => queryOptions({ queryKey: ["library"], queryFn: () => ask(api.GET("/api/library")) }),
  typicalErrors: () => queryOptions({ queryKey: ["typical"], queryFn: () => ask(api.GET("/api/typical-errors")) }),
  houseHistory: () => queryOptions({ queryKey: ["house-history"], queryFn: () => ask(api.GET("/api/house-history")) }),
  watch: () => queryOptions({ queryKey: ["watch"], queryFn: () => ask(api.GET("/api/watch")), staleTime: Infinity }),
  films: () => queryOptions({ queryKey: ["films"], queryFn: () => ask(api.GET("/api/films")), staleTime: Infinity }),

  runner: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "intake"],
      queryFn: () => ask(api.GET("/api/runners/{runner}", { params: of(runner) })),
    }),
  // Two coaches may enter at once: each sees the other's entries within seconds.
  screen: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "screen"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/screens", { params: of(runner) })),
      refetchInterval: (q) => (q.state.data?.current ? 5000 : false),
    }),
  gait: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "gait"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/gait", { params: of(runner) })),
    }),
  /** What a clip that is being marked says. */
  reading: (runner: string, clip: Schemas["GaitClip"]) =>
    queryOptions({
      queryKey: ["reading", runner, clip],
      queryFn: () => ask(api.POST("/api/runners/{runner}/gait/read", { params: of(runner), body: clip })),
      enabled: clip.captureFps > 0,
      placeholderData: keepPreviousData,
      retry: false,
      gcTime: 5000,
    }),
  /** Two clips side by side, once the second has marks. */
  compared: (runner: string, first: Schemas["GaitClip"], second: Schemas["GaitClip"] | undefined, across: boolean) =>
    queryOptions({
      queryKey: ["compared", runner, first, second, across],
      queryFn: second?.marks.length
        ? () =>
            ask(api.POST("/api/runners/{runner}/gait/compare", { params: of(runner), body: { first, second, across } }))
        : skipToken,
      retry: false,
    }),
  /** What was marked on a kept clip; kept under an id it never changes. */
  marks: (runner: string, clip: string) =>
    queryOptions({
      queryKey: ["marks", runner, clip],
      queryFn: () => ask(api.GET("/api/runners/{runner}/clips/{clip}", { params: { path: { runner, clip } } })),
      staleTime: Infinity,
    }),
  read: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "read"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/read", { params: of(runner) })),
    }),
  /** The draft of these choices; of those in force when there are none. */
  draft: (runner: string, choices: Schemas["BuildChoices"] | null) =>
    queryOptions({
      queryKey: ["runner", runner, "build", choices],
      queryFn: () =>
        ask(api.POST("/api/runners/{runner}/draft", { params: of(runner), body: { choices: choices ?? undefined } })),
      placeholderData: keepPreviousData,
    }),
  /** Two drafts side by side, once there are two. */
  drafts: (runner: string, a: Schemas["BuildChoices"] | null, b: Schemas["BuildChoices"]) =>
    queryOptions({
      queryKey: ["runner", runner, "build", "two", a, b],
      queryFn: a
        ? () => ask(api.POST("/api/runners/{runner}/drafts/compared", { params: of(runner), body: { a, b } }))
        : skipToken,
    }),
  notches: (runner: string, rail: string, phase: Schemas["BuildProgramme"]["phase"]) =>
    queryOptions({
      queryKey: ["runner", runner, "build", "notches", rail, phase],
      queryFn: () =>
        ask(api.GET("/api/runners/{runner}/notches/{rail}", { params: { path: { runner, rail }, query: { phase } } })),
    }),
  week: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "week"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/week", { params: of(runner) })),
    }),
  moves: (runner: string, week: string, rail: string, from: number) =>
    queryOptions({
      queryKey: ["runner", runner, "week", "moves", week, rail, from],
      queryFn: () =>
        ask(api.GET("/api/runners/{runner}/week/moves", { params: { path: { runner }, query: { rail, from } } })),
    }),
  load: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "load"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/load", { params: of(runner) })),
    }),
  strip: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "strip"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/strip", { params: of(runner) })),
    }),
  stripDay: (runner: string, day: string) =>
    queryOptions({
      queryKey: ["runner", runner, "strip", day],
      queryFn: () => ask(api.GET("/api/runners/{runner}/strip/{day}", { params: { path: { runner, day } } })),
    }),
  preview: (runner: string, id: string) =>
    queryOptions({
      queryKey: ["runner", runner, "import", id],
      queryFn: () =>
        ask(api.GET("/api/runners/{runner}/imports/{import}", { params: { path: { runner, import: id } } })),
    }),
  adjust: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "adjust"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/adjust", { params: of(runner) })),
    }),
  barefoot: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "barefoot"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/barefoot", { params: of(runner) })),
    }),
  retest: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "retest"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/retest", { params: of(runner) })),
    }),
  handOut: (runner: string, days: number) =>
    queryOptions({
      queryKey: ["runner", runner, "hand-out", days],
      queryFn: () => ask(api.GET("/api/runners/{runner}/hand-out", { params: { path: { runner }, query: { days } } })),
    }),
  referral: (runner: string) =>
    queryOptions({
      queryKey: ["runner", runner, "referral"],
      queryFn: () => ask(api.GET("/api/runners/{runner}/referral", { params: of(runner) })),
    }),
};

/** What a change makes out of date. */
export type Stale = (key: QueryKey) => boolean;

export const stale = {
  /** Something of a runner: their rooms, but one whose answer said how it stands now, and the lists of runners. */
  runner:
    (runner?: string, but = ""): Stale =>
    ([room, id, part]) =>
      room === "today" ||
      room === "runners" ||
      (room === "runner" && (runner === undefined || id === runner) && (!but || part !== but)),
  /** A rule, or the catalogue: everybody is judged anew. */
  rules: (([room]) => room !== "me" && room !== "films" && room !== "marks" && room !== "coaches") satisfies Stale,
  coaches: (([room]) => room === "coaches" || room === "me" || room === "audit") satisfies Stale,
  me: (([room]) => room === "me" || room === "coaches" || room === "audit") satisfies Stale,
  sessions: (([room]) => room === "sessions") satisfies Stale,
  nothing: (() => false) satisfies Stale,
};

/** Puts an answer in place of what a room held. What is still on its way to it is older, and dropped. */
export async function renew<T>(queries: QueryClient, room: { queryKey: QueryKey }, now: T | ((was?: T) => T)) {
  await queries.cancelQueries({ queryKey: room.queryKey, exact: true });
  queries.setQueryData(room.queryKey, now);
}
