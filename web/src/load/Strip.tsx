import { useQuery } from "@tanstack/react-query";
import { useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent } from "react";
import { rooms } from "../api/rooms";
import { Button } from "../ui/Button";
import { Toggle } from "../ui/Chip";
import { day } from "../ui/day";
import { Empty, Failure, Loading } from "../ui/Notice";
import { Why } from "../ui/reason";
import { bucketsOf, plus, sentence, widthOf, type Bucket, type StripView } from "./lanes";
import { Lanes } from "./Lanes";

const spans = [
  { days: 731, name: "Two years" },
  { days: 366, name: "A year" },
  { days: 91, name: "13 weeks" },
  { days: 28, name: "4 weeks" },
  { days: 7, name: "A week" },
] as const;

/** A runner's history in lanes over one axis of time. It is read by pointer or arrow keys, a sentence a column; each opens into
 * its week, a day into what it was computed from. */
export function Strip({ runner }: { runner: string }) {
  const q = useQuery(rooms.strip(runner));
  if (q.isPending) return <Loading what="the history" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  if (q.data.days.length === 0) return <Empty>Nothing was told yet. Runs, mornings and sessions appear here.</Empty>;
  return <Drawn key={q.data.until} runner={runner} view={q.data} />;
}

function Drawn({ runner, view }: { runner: string; view: StripView }) {
  const [span, setSpan] = useState<number>(91);
  const [until, setUntil] = useState(view.until);
  const [at, setAt] = useState(view.until);
  const [asTable, setAsTable] = useState(false);
  const [open, setOpen] = useState("");
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  useLayoutEffect(() => {
    const el = box.current;
    if (!el) return;
    const seen = new ResizeObserver(([e]) => e && setWidth(Math.max(280, Math.floor(e.contentRect.width))));
    seen.observe(el);
    return () => seen.disconnect();
  }, []);
  const from = plus(until, 1 - span);
  const buckets = useMemo(() => bucketsOf(view.days, from, until), [view, from, until]);
  const wide = widthOf(span) === 7;
  const shown = from < view.from ? view.from : from;
  const index = Math.max(
    0,
    buckets.findLastIndex((b) => b.from <= at),
  );
  const here = buckets[index];
  const show = (days: number, around: string) => {
    setSpan(days);
    const end = plus(around, Math.floor(days / 2));
    setUntil(end > view.until || days > 400 ? view.until : end);
  };
  const step = (n: number) => {
    const next = plus(here?.from ?? at, n * (wide ? 7 : 1));
    if (next > view.until || next < view.from) return;
    setAt(next);
    setOpen("");
    if (next > until) setUntil(next);
    if (next < from) setUntil(plus(next, span - 1));
  };
  const enter = (b: Bucket | undefined) => {
    if (!b) return;
    if (!wide) return setOpen(open === b.from ? "" : b.from);
    show(7, plus(b.from, 3));
    setAt(b.days.at(-1)?.on ?? b.from);
  };
  const keys = (e: KeyboardEvent) => {
    const zoom = spans.findIndex((s) => s.days === span);
    const deed = {
      ArrowLeft: () => step(-1),
      ArrowRight: () => step(1),
      Home: () => {
        const first = view.days[0]?.on ?? view.from;
        const end = plus(first, span - 1);
        setAt(first);
        setUntil(end > view.until ? view.until : end);
      },
      End: () => (setAt(view.until), setUntil(view.until)),
      "+": () => show(spans[Math.min(spans.length - 1, zoom + 1)]?.days ?? 7, at),
      "-": () => show(spans[Math.max(0, zoom - 1)]?.days ?? 731, at),
      Enter: () => enter(here),
      " ": () => enter(here),
    }[e.key];
    if (!deed) return;
    e.preventDefault();
    deed();
  };
  return (
    <div className="sheet">
      <div className="no-print mb-2 flex flex-wrap items-center gap-2">
        {spans.map((s) => (
          <Toggle key={s.days} on={s.days === span} onChange={() => show(s.days, at)}>
            {s.name}
          </Toggle>
        ))}
        <span className="ml-auto flex gap-2">
          <Toggle on={asTable} onChange={setAsTable}>
            As a table
          </Toggle>
          <Button kind="quiet" onClick={() => printOnly(box.current)}>
            Print
          </Button>
        </span>
      </div>
      <p className="text-sm text-quiet">
        {day(shown)} {shown.slice(0, 4)} to {day(until)} {until.slice(0, 4)},{" "}
        {wide ? "a week a column" : "a day a column"}
      </p>
      <div ref={box}>
        {/* Arrow keys read it column by column; Enter opens one. */}
        <div
          role="slider"
          tabIndex={0}
          className="overflow-hidden"
          aria-label="History"
          aria-valuemin={0}
          aria-valuemax={buckets.length - 1}
          aria-valuenow={index}
          aria-valuetext={here ? sentence(here, view.places, wide, day) : ""}
          aria-description="Left and right read it, Enter opens a week or a day, plus and minus change the span"
          onKeyDown={keys}
        >
          <Lanes
            buckets={buckets}
            places={view.places}
            spans={view.spans}
            width={width}
            at={index}
            wide={wide}
            onAt={(i) => {
              setAt(buckets[i]?.from ?? at);
              setOpen("");
            }}
            onEnter={(i) => {
              setAt(buckets[i]?.from ?? at);
              enter(buckets[i]);
            }}
          />
        </div>
        {here && (
          <div className="mt-1 flex flex-wrap items-center gap-3 border border-line bg-panel px-3 py-2">
            <p className="min-w-0 flex-1">{sentence(here, view.places, wide, day)}</p>
            <Button className="no-print" onClick={() => enter(here)}>
              {wide ? "Open the week" : open === here.from ? "Close" : "Why"}
            </Button>
          </div>
        )}
        {open && <Day runner={runner} on={open} />}
        {asTable && (
          <table className="mt-3 w-full text-left">
            <caption className="sr-only">History, {wide ? "week by week" : "day by day"}</caption>
            <tbody>
              {buckets
                .filter((b) => b.days.length > 0)
                .map((b) => (
                  <tr key={b.from} className="border-t border-line">
                    <td className="py-1">{sentence(b, view.places, wide, day)}</td>
                  </tr>
                ))}
            </tbody>
          </table>
        )}
      </div>
    </div>
  );
}

/** What the points of a day were computed from. */
function Day({ runner, on }: { runner: string; on: string }) {
  const q = useQuery(rooms.stripDay(runner, on));
  if (q.isPending) return <Loading what="the day" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  if (q.data.length === 0) return <p className="mt-2">Nothing was told of {day(on)}.</p>;
  return (
    <ul aria-label={`What ${day(on)} was computed from`} className="mt-2">
      {q.data.map((r, i) => (
        <li key={i} className="border-b border-line py-1.5">
          <Why reason={r.reason} title={r.title}>
            {r.title}
          </Why>{" "}
          <span className="text-quiet">{r.reason.says}</span>
        </li>
      ))}
    </ul>
  );
}

/** Prints one part of the page alone. */
function printOnly(part: HTMLElement | null) {
  if (!part) return;
  part.setAttribute("data-printed", "");
  document.documentElement.setAttribute("data-print-part", "");
  const done = () => {
    part.removeAttribute("data-printed");
    document.documentElement.removeAttribute("data-print-part");
  };
  window.addEventListener("afterprint", done, { once: true });
  window.print();
}
