import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useRef, useState, type KeyboardEvent } from "react";
import { api, ask, type Schemas } from "../api/client";
import { rooms, stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Empty, Failure, Loading } from "../ui/Notice";
import { Verdict } from "../ui/Verdict";
import { Why } from "../ui/reason";

type Item = Schemas["QueueItem"];

/** The desk queue: one sentence a row, most urgent first. Up and down move, Enter opens, A accepts. */
export function Today() {
  const q = useQuery(rooms.today());
  const go = useNavigate();
  const deed = useDeed(stale.runner());
  const [done, setDone] = useState("");
  const rows = useRef<(HTMLLIElement | null)[]>([]);
  const open = (i: Item) => go({ to: `/runners/$runner/${i.step}`, params: { runner: i.runner } });

  // One after the other: who walks on faster than the server answers loses no decision.
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const going = useRef(new Set<string>());
  function accept(i: Item) {
    const named = JSON.stringify(i.accepts);
    if (going.current.has(named)) return;
    going.current.add(named);
    line.current = line.current.then(async () => {
      await deed.run(async (id) => {
        const decisions = i.accepts.map((p) => ({ ...p, id: id(p), word: "" }));
        const { left } = await ask(
          api.POST("/api/runners/{runner}/decisions", { params: { path: { runner: i.runner } }, body: { decisions } }),
        );
        setDone(
          left ? `${i.name}: not all of it any more, ${left}. Look at the rest in Adjust.` : `${i.name}: ${i.detail}`,
        );
      });
      going.current.delete(named);
    });
  }
  function keys(e: KeyboardEvent, n: number, i: Item) {
    if (e.target !== e.currentTarget) return;
    if (e.key === "ArrowDown") rows.current[n + 1]?.focus();
    else if (e.key === "ArrowUp") rows.current[n - 1]?.focus();
    else if (e.key === "Enter") void open(i);
    else if (e.key.toLowerCase() === "a" && i.accepts.length) accept(i);
    else return;
    e.preventDefault();
  }
  if (q.isPending)
    return (
      <Page>
        <Loading what="the queue" />
      </Page>
    );
  if (q.error)
    return (
      <Page>
        <Failure error={q.error} again={() => q.refetch()} />
      </Page>
    );
  const items = q.data;
  return (
    <Page>
      <Heading aside={<span className="text-quiet">↑ ↓ move · Enter opens · A accepts</span>}>
        Today{" "}
        <span className="fig text-2xl font-normal text-quiet">
          {items.length} {items.length === 1 ? "line" : "lines"}
        </span>
      </Heading>
      <Failure error={deed.error} />
      <p role="status" className={done ? "mb-3 border-l-4 border-tide bg-panel px-4 py-2" : "sr-only"}>
        {done && <>Decided. {done}</>}
      </p>
      {items.length === 0 && <Empty>Nobody needs you right now. Add a runner, or look at the roster.</Empty>}
      <ol className="border-t border-line">
        {items.map((i, n) => (
          // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- a line is walked to and decided by keys
          <li
            key={`${i.runner}${i.kind}${i.sentence}`}
            ref={(el) => {
              rows.current[n] = el;
            }}
            // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex -- so that the keys have somewhere to be
            tabIndex={0}
            onKeyDown={(e) => keys(e, n, i)}
            aria-label={`${i.name}: ${i.sentence}`}
            className={`grid grid-cols-[8rem_minmax(0,1fr)_auto] items-center gap-x-4 border-b border-line px-2 py-2 ${i.kind === "stop" ? "bg-brick-ground" : "bg-panel"}`}
          >
            <Verdict v={i.kind} />
            <div className="min-w-0">
              <p className="text-[1.05rem] leading-snug">
                <strong>{i.name}</strong>{" "}
                <Why reason={i.reason} title={i.sentence}>
                  {i.sentence}
                </Why>
              </p>
              <p className="text-[0.95rem] text-quiet tabular-nums">{i.detail}</p>
            </div>
            <div className="flex gap-2">
              {i.accepts.length > 0 && (
                <Button kind={i.kind === "hold" ? "plain" : "main"} disabled={deed.busy} onClick={() => accept(i)}>
                  Accept
                </Button>
              )}
              <Button onClick={() => open(i)}>Open</Button>
            </div>
          </li>
        ))}
      </ol>
    </Page>
  );
}

function Page({ children }: { children: React.ReactNode }) {
  return <div className="px-6 py-6">{children}</div>;
}
