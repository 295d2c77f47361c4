import { Button } from "../ui/Button";
import type { Proposal } from "./Strip";
import type { Mark } from "./film";
import type { Kind, Side } from "./marks";

/** The four marks, by foot, each with its key; a mark on this frame is pressed and can be taken off. */
export function Feet({
  marks,
  frame,
  mark,
  unmark,
}: {
  marks: Mark[];
  frame: number;
  mark: (side: Side, kind: Kind) => void;
  unmark: (m: Mark) => void;
}) {
  return (
    <>
      {(["left", "right"] as const).map((side) => (
        <div key={side} role="group" aria-label={`Mark the ${side} foot`}>
          <p className="text-sm font-semibold">{side === "left" ? "Left foot" : "Right foot"}</p>
          {(["touchdown", "toe_off"] as const).map((kind) => {
            const here = marks.find((m) => m.frame === frame && m.side === side && m.kind === kind);
            return (
              <button
                key={kind}
                type="button"
                aria-pressed={!!here}
                onClick={() => (here ? unmark(here) : mark(side, kind))}
                className={`mb-1 flex min-h-11 w-full items-center justify-between rounded-sq border px-2 ${here ? "border-ink bg-ink text-panel" : "border-line bg-panel"}`}
              >
                <span>
                  <span aria-hidden>{kind === "touchdown" ? "▼ " : "▲ "}</span>
                  {kind === "touchdown" ? "Touchdown" : "Toe-off"}
                </span>
                <kbd className="fig text-sm opacity-70">
                  {{ touchdown: { left: "a", right: "k" }, toe_off: { left: "s", right: "l" } }[kind][side]}
                </kbd>
              </button>
            );
          })}
        </div>
      ))}
    </>
  );
}

/** Steps, plays and loops. */
export function Transport({
  frame,
  last,
  hop,
  step,
  speed,
  onSpeed,
  looping,
  onLoop,
}: {
  frame: number;
  last: number;
  hop: (by: number) => void;
  step: (by: number) => void;
  speed: number | null;
  onSpeed: (share: number | null) => void;
  looping: boolean;
  onLoop: () => void;
}) {
  return (
    <div className="mt-1 flex flex-wrap items-center gap-1.5">
      <Button aria-label="Mark before" size="tight" onClick={() => hop(-1)}>
        ⇤
      </Button>
      <Button aria-label="−10 frames" size="tight" onClick={() => step(-10)}>
        −10
      </Button>
      <Button aria-label="−1 frame" size="tight" onClick={() => step(-1)}>
        −1
      </Button>
      <span className="fig min-w-28 text-center text-lg" data-at={frame}>
        {Math.max(0, frame)} / {last}
      </span>
      <Button aria-label="+1 frame" size="tight" onClick={() => step(1)}>
        +1
      </Button>
      <Button aria-label="+10 frames" size="tight" onClick={() => step(10)}>
        +10
      </Button>
      <Button aria-label="Next mark" size="tight" onClick={() => hop(1)}>
        ⇥
      </Button>
      <span className="ml-auto flex gap-1">
        {[1, 0.25, 0.05].map((x) => (
          <Button key={x} aria-pressed={speed === x} size="tight" onClick={() => onSpeed(speed === x ? null : x)}>
            {speed === x ? "■" : "▷"} {x === 1 ? "1×" : x === 0.25 ? "¼" : "1/20"}
            <span className="sr-only"> of real speed</span>
          </Button>
        ))}
        <Button aria-pressed={looping} size="tight" onClick={onLoop}>
          {looping ? "Whole clip" : "Loop"}
        </Button>
      </span>
    </div>
  );
}

/** One proposal that waits for the coach. */
export function Proposed({
  it,
  left,
  frame,
  confirm,
  leave,
  back,
}: {
  it: Proposal;
  left: number;
  frame: number;
  confirm: () => void;
  leave: () => void;
  back: () => void;
}) {
  return (
    <section
      aria-label="Proposal"
      className="mt-2 flex flex-wrap items-center gap-3 border-l-4 border-cinder bg-panel px-4 py-2"
    >
      <p>
        <strong>
          Proposed: {it.side} {it.kind === "touchdown" ? "touchdown" : "toe-off"}, frame {it.frame}
        </strong>{" "}
        {!it.sure && <span className="text-ochre">the tape was out of sight near it</span>}
        <span className="block text-sm text-quiet">
          Look; step to the right frame if it is another. {left} left. Nothing counts before you confirm it.
        </span>
      </p>
      <Button kind="main" disabled={Math.abs(frame - it.frame) > 12} onClick={() => confirm()}>
        Confirm at {Math.max(0, frame)}
      </Button>
      <Button onClick={() => leave()}>Leave it out</Button>
      <Button kind="quiet" onClick={() => back()}>
        Back to it
      </Button>
    </section>
  );
}
