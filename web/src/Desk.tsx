import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { Link, Outlet, useRouterState } from "@tanstack/react-router";
import { Problem } from "./api/problem";
import { rooms } from "./api/rooms";
import { Failure, Loading } from "./ui/Notice";
import { ReasonPane, ReasonProvider } from "./ui/reason";
import { ThemeSwitch } from "./ui/theme";
import { useTitle } from "./ui/title";

export const useReference = () => useQuery(rooms.reference());
export const useMe = () => useQuery(rooms.me());

export function WordMark() {
  return (
    <span className="flex items-center gap-2 font-head text-xl font-bold">
      <svg viewBox="0 0 40 24" className="h-6" aria-hidden>
        <path d="M0 22h40v-4h-6v-6h-3v6h-6V8h-5v10h-6v-6h-3v6H0z" fill="currentColor" />
        <path d="M16 0h13l-6.5 7z" fill="var(--cinder)" />
      </svg>
      Notchback
    </span>
  );
}

/** The coach's frame: bar on top, work in the middle, the reason pane always at the right. */
export function Desk() {
  const me = useMe();
  const path = useRouterState({ select: (s) => s.location.pathname });
  const links = [
    ["/", "Today"],
    ["/runners", "Runners"],
    ["/library", "Library"],
    ["/house", "House rules"],
    ["/practice", "Practice"],
  ] as const;
  // Within a runner the step names the page.
  useTitle(links.find(([to]) => to === path)?.[1] ?? "");
  const main = useRef<HTMLElement>(null);
  // What was in hand is gone with the page before: the keyboard goes on in the work.
  useEffect(() => {
    if (document.activeElement === document.body) main.current?.focus({ preventScroll: true });
  }, [path]);
  if (me.error instanceof Problem && me.error.status === 401) return null;
  return (
    <ReasonProvider>
      <a href="#work" className="sr-only focus:not-sr-only focus:absolute focus:bg-panel focus:p-3">
        Skip to the work
      </a>
      <header className="no-print flex min-h-14 flex-wrap items-center gap-x-6 border-b-2 border-ink bg-panel px-5 max-md:pt-2">
        <WordMark />
        <nav aria-label="Main" className="flex flex-wrap gap-1">
          {links.map(([to, name]) => (
            <Link
              key={to}
              to={to}
              activeOptions={{ exact: to === "/" }}
              className="flex min-h-11 items-center px-3 data-[status=active]:shadow-[inset_0_-4px_var(--cinder)] data-[status=active]:font-semibold"
            >
              {name}
            </Link>
          ))}
        </nav>
        <span className="ml-auto text-quiet">{me.data ? `${me.data.name} · ${me.data.practice}` : ""}</span>
        <ThemeSwitch />
      </header>
      {me.error && (
        <div className="p-5">
          <Failure error={me.error} again={() => me.refetch()} />
        </div>
      )}
      {me.isPending && (
        <div className="p-5">
          <Loading what="your practice" />
        </div>
      )}
      {me.data && (
        <div className="grid min-h-[calc(100vh-3.6rem)] grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_20rem] print:block">
          <main id="work" ref={main} tabIndex={-1} className="min-w-0 outline-none">
            <Outlet />
          </main>
          <ReasonPane />
        </div>
      )}
    </ReasonProvider>
  );
}
