import { createContext, useContext, useState, type ReactNode } from "react";
import { createPortal } from "react-dom";
import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";

export type Reason = Schemas["Reason"];
type Shown = { reason: Reason; title: string; said: boolean } | null;

interface Held {
  shown: Shown;
  show: (s: Shown) => void;
  beside: HTMLElement | null;
  setBeside: (el: HTMLElement | null) => void;
}

const Pane = createContext<Held>({ shown: null, show: () => {}, beside: null, setBeside: () => {} });

/** Holds which figure is being explained; the pane stands at the right of every coach's screen. */
export function ReasonProvider({ children }: { children: ReactNode }) {
  const [shown, show] = useState<Shown>(null);
  const [beside, setBeside] = useState<HTMLElement | null>(null);
  return <Pane.Provider value={{ shown, show, beside, setBeside }}>{children}</Pane.Provider>;
}

/** Puts figures that must stay in sight beside the work, above what explains them. */
export function Beside({ children }: { children: ReactNode }) {
  const { beside } = useContext(Pane);
  return beside && createPortal(children, beside);
}

/** Wraps a figure, dose or verdict: focusing or pressing it opens its reason. */
export function Why({
  reason,
  title,
  children,
  className = "",
}: {
  reason?: Reason;
  title: string;
  children: ReactNode;
  className?: string;
}) {
  const { shown, show } = useContext(Pane);
  if (!reason) return <>{children}</>;
  const open = shown?.reason === reason;
  // Going past it shows its reason; pressing it also says it.
  const explain = (said: boolean) => show({ reason, title, said });
  // A span, because a button's words would not flow within a sentence.
  return (
    <span
      role="button"
      tabIndex={0}
      onFocus={() => explain(false)}
      onClick={() => explain(true)}
      onKeyDown={(e) =>
        (e.key === "Enter" || e.key === " ") && (e.preventDefault(), e.stopPropagation(), explain(true))
      }
      aria-description={`${title}: why?`}
      aria-pressed={open}
      className={`cursor-help rounded-sq border-b-2 border-dotted ${open ? "border-cinder bg-sunk" : "border-line"} ${className}`}
    >
      {children}
    </span>
  );
}

export function ReasonPane() {
  const { shown, setBeside } = useContext(Pane);
  const r = shown?.reason;
  return (
    <aside
      aria-label="Reason"
      className="no-print flex flex-col border-l border-line bg-panel lg:sticky lg:top-0 lg:h-screen lg:self-start"
    >
      <div ref={setBeside} className="peer min-h-0 flex-1 overflow-y-auto px-5 py-5 empty:hidden" />
      <div
        aria-live={shown?.said ? "polite" : "off"}
        className="min-h-0 overflow-y-auto px-5 py-6 peer-[:not(:empty)]:max-h-[45%] peer-[:not(:empty)]:shrink-0 peer-[:not(:empty)]:border-t-2 peer-[:not(:empty)]:border-ink peer-[:not(:empty)]:py-3"
      >
        <p className="font-head text-sm font-semibold text-quiet">Why</p>
        {!shown || !r ? (
          <p className="mt-2 text-quiet">
            Press any figure, dose or verdict with a dotted line: what it was computed from stands here.
          </p>
        ) : (
          <div className="mt-1 space-y-4">
            <h2 className="text-xl leading-tight">{shown.title}</h2>
            {!shown.title.endsWith(r.says) && <p className="text-lg leading-snug">{r.says}</p>}
            {r.saw.length > 0 && (
              <dl className="border-t border-line">
                {r.saw.map((f, i) => (
                  <div key={i} className="border-b border-line py-1.5">
                    <dt className="text-sm text-quiet">
                      {f.name}
                      {f.date
                        ? ` · ${new Date(f.date + "T12:00:00").toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" })}`
                        : ""}
                    </dt>
                    <dd className="fig text-[0.95rem]">{f.value}</dd>
                  </div>
                ))}
              </dl>
            )}
            {r.formula && <p className="fig bg-sunk px-3 py-2 text-[0.9rem]">{r.formula}</p>}
            <p className="text-sm">
              <span className="text-quiet">Where it comes from: </span>
              {r.provenance}
              {r.source ? ` – ${r.source}` : ""}
            </p>
            <p className="text-sm">
              <span className="text-quiet">Rule </span>
              <span className="fig">{r.rule}</span>
            </p>
            {r.house.map((k) => (
              <p key={k} className="text-sm">
                <Link to="/house" hash={k} className="underline underline-offset-4">
                  Change the house rule {k}
                </Link>
              </p>
            ))}
          </div>
        )}
      </div>
    </aside>
  );
}
