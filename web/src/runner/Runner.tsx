import { useQuery } from "@tanstack/react-query";
import { Link, Outlet, useNavigate, useParams, useRouterState } from "@tanstack/react-router";
import { useEffect, type KeyboardEvent } from "react";
import { Problem } from "../api/problem";
import { rooms } from "../api/rooms";
import { useReference } from "../Desk";
import { Failure } from "../ui/Notice";
import { useTitle } from "../ui/title";

/** Pages of a runner that are no step of the job. */
const papers = [
  { id: "hand-out", name: "Hand-out" },
  { id: "referral", name: "Referral" },
];

export const useRunnerId = () => useParams({ strict: false }).runner as string;

/** The runner's record; a runner that is only being added answers with 404, which is no failure. */
export function useRunner() {
  const id = useRunnerId();
  return useQuery(rooms.runner(id));
}

/** Within a runner: the job rule at the left edge carries the steps in order. */
export function Runner() {
  const runner = useRunner();
  const id = useRunnerId();
  const path = useRouterState({ select: (s) => s.location.pathname });
  const fresh = runner.error instanceof Problem && runner.error.status === 404;
  const go = useNavigate();
  const last = path.split("/").pop() ?? "";
  const steps = useReference().data?.steps ?? [];
  useTitle(
    [...steps, ...papers].find((s) => s.id === last)?.name ?? "",
    runner.data?.name ?? (fresh ? "New runner" : ""),
  );
  const jump = (n: number) => {
    const step = steps[n];
    return step && go({ to: `/runners/$runner/${step.id}`, params: { runner: id } });
  };
  useEffect(() => {
    const alt = (e: globalThis.KeyboardEvent) => {
      const n = Number(e.code.replace("Digit", "")) || (e.code === "Digit0" ? 10 : 0); // 1 to 9, then 0
      if (e.altKey && n >= 1 && n <= steps.length) {
        e.preventDefault();
        void jump(n - 1);
      }
    };
    window.addEventListener("keydown", alt);
    return () => window.removeEventListener("keydown", alt);
  });
  const keys = (e: KeyboardEvent) => {
    const n = e.key === "0" ? 10 : Number(e.key);
    if (n >= 1 && n <= steps.length) void jump(n - 1);
  };
  return (
    <div className="grid min-h-full grid-cols-[minmax(0,1fr)] content-start sm:grid-cols-[8.5rem_minmax(0,1fr)] print:block">
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- a digit jumps from any of its links */}
      <nav
        aria-label="Steps of the job"
        onKeyDown={keys}
        data-scrolls
        className="no-print self-start overflow-x-auto border-line pt-5 max-sm:border-b sm:sticky sm:top-0 sm:h-screen sm:overflow-y-auto sm:border-r"
      >
        <p className="px-3 pb-3 font-head text-lg leading-tight font-semibold break-words">
          {runner.data?.name ?? (fresh ? "New runner" : " ")}
        </p>
        <ol className="flex border-ink max-sm:border-b-8 sm:block sm:border-r-8">
          {steps.map(({ id: step, name }, i) => {
            const state = runner.data?.steps.find((s) => s.id === step);
            const here = path.endsWith("/" + step);
            return (
              <li key={step}>
                <Link
                  to={`/runners/$runner/${step}`}
                  params={{ runner: id }}
                  disabled={fresh && step !== "intake"}
                  aria-current={here ? "step" : undefined}
                  className={`relative flex min-h-14 flex-col justify-center pr-5 pl-3 ${here ? "bg-panel font-semibold" : ""} ${fresh && step !== "intake" ? "text-quiet" : ""}`}
                >
                  <span>
                    <span className="fig mr-2 text-sm text-quiet">{i + 1}</span>
                    {name}
                  </span>
                  {state?.word && (
                    <span className={`text-sm ${step === "intake" ? "text-brick" : "text-ochre"}`}>
                      <span aria-hidden>● </span>
                      {state.word}
                    </span>
                  )}
                  {here ? (
                    <svg viewBox="0 0 16 20" className="absolute -right-2 hidden h-6 sm:block" aria-hidden>
                      <path d="M16 0v20L0 10z" fill="var(--cinder)" />
                    </svg>
                  ) : (
                    <span
                      aria-hidden
                      className={`absolute -right-2 hidden h-0.5 sm:block ${state?.state === "done" ? "h-3 w-2 bg-ground" : "w-3 bg-ink"}`}
                    />
                  )}
                </Link>
              </li>
            );
          })}
        </ol>
      </nav>
      <div className="min-w-0 px-3 py-6 sm:px-6">
        {runner.error && !fresh ? <Failure error={runner.error} again={() => runner.refetch()} /> : <Outlet />}
      </div>
    </div>
  );
}
