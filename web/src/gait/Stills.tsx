import { useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import type { Clip, Still } from "./film";

export type Suggestion = Schemas["GaitSuggestion"];

export const moments: Record<Still["at"], string> = {
  touchdown: "landing",
  mid_stance: "mid-stance",
  toe_off: "toe-off",
  mid_flight: "mid-flight",
};

/** The stills worth measuring, and the points of the one on show. */
export function Stills({
  clip,
  frame,
  suggestions,
  ready,
  still,
  tool,
  spotName,
  asked,
  open,
  pick,
  keep,
  drop,
  proposed,
  takeProposed,
}: {
  clip: Clip;
  frame: number;
  suggestions: Suggestion[];
  ready: boolean; // the suggestions are those of these marks
  still: Still | null;
  tool: string;
  spotName: (id: string) => string;
  asked: (s: Still) => string[];
  open: (s: Suggestion) => void;
  pick: (id: string) => void;
  keep: (on: boolean) => void;
  drop: () => void;
  proposed: number;
  takeProposed: () => void;
}) {
  const [all, setAll] = useState(false);
  const own = (s: Suggestion) => clip.stills.find((x) => x.frame === s.frame && x.side === s.side && x.at === s.at);
  // A still whose mark was moved or taken off still counts: it is shown, to be dropped or measured again.
  const moved: Suggestion[] = (ready ? clip.stills : [])
    .filter((x) => !suggestions.some((s) => s.frame === x.frame && s.side === x.side && s.at === x.at))
    .map((x) => ({ frame: x.frame, side: x.side, at: x.at, points: asked(x) }));
  // The first of each kind and side first; more steps make the angles surer.
  const n: Record<string, number> = {};
  const list = suggestions.filter((s) => {
    const k = s.side + s.at;
    n[k] = (n[k] ?? 0) + 1;
    return all || own(s) || n[k] <= 1;
  });
  return (
    <section aria-label="Stills" className="mt-3">
      <h2 className="text-xl">Points on stills</h2>
      {!suggestions.length && (
        <p className="text-quiet">
          Mark a touchdown and its toe-off first: the stills worth measuring are then listed here.
        </p>
      )}
      {(["left", "right"] as const).map((side) => {
        const mine = [...list, ...moved].filter((s) => s.side === side);
        if (!mine.length) return null;
        return (
          <div key={side} className="mt-1 flex flex-wrap items-center gap-1">
            <span className="w-12 text-sm text-quiet">{side}</span>
            {mine.map((s) => {
              const x = own(s);
              const have = x ? s.points.filter((id) => x.points[id]).length : 0;
              return (
                <button
                  key={s.at + s.frame}
                  type="button"
                  aria-pressed={s.frame === frame}
                  onClick={() => open(s)}
                  className={`min-h-11 rounded-sq border px-2 text-[0.95rem] ${s.frame === frame ? "border-ink bg-ink text-panel" : "border-line bg-panel"}`}
                >
                  {have === s.points.length ? "✓ " : ""}
                  {moments[s.at]} <span className="fig text-sm">{s.frame}</span>{" "}
                  <span className="fig text-sm opacity-70">
                    {have}/{s.points.length}
                  </span>
                  {moved.includes(s) && <span className="text-sm font-semibold"> mark moved</span>}
                </button>
              );
            })}
          </div>
        );
      })}
      {list.length < suggestions.length && (
        <Button kind="quiet" size="bare" onClick={() => setAll(true)}>
          {suggestions.length - list.length} more stills: each makes the angles surer
        </Button>
      )}
      {still && (
        <div className="mt-2 flex flex-wrap items-center gap-1.5 border border-line bg-panel px-3 py-2">
          {asked(still).map((id) => (
            <button
              key={id}
              type="button"
              aria-pressed={tool === id}
              onClick={() => pick(id)}
              className={`min-h-11 rounded-sq border px-2 text-[0.95rem] ${tool === id ? "border-cinder bg-cinder text-on-cinder" : "border-line bg-ground"}`}
            >
              {still.points[id] ? "✓ " : ""}
              {spotName(id)}
            </button>
          ))}
          {proposed > 0 && (
            <Button kind="main" onClick={takeProposed}>
              Confirm {proposed} followed points
            </Button>
          )}
          <span className="ml-auto flex items-center gap-3">
            <Check checked={still.keep} onChange={keep}>
              keep this picture
            </Check>
            <Button kind="quiet" size="bare" onClick={drop}>
              Drop this still
            </Button>
          </span>
        </div>
      )}
    </section>
  );
}
