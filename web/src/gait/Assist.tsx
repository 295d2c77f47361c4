import { Button } from "../ui/Button";
import { Failure } from "../ui/Notice";
import type { Clip } from "./film";
import type { Label } from "./follow";
import type { Side } from "./marks";

/** The order tape is pointed at: both shoes first, for the events; then the side nearest the camera. */
export function labelOrder(clip: Clip): { side: Side; spot: string }[] {
  const near: Side = clip.heading === "left" ? "left" : "right";
  const far: Side = near === "left" ? "right" : "left";
  return [
    ...["heel", "toe"].map((spot) => ({ side: near, spot })),
    ...["heel", "toe"].map((spot) => ({ side: far, spot })),
    ...["ankle", "knee", "hip", "shoulder", "ear"].map((spot) => ({ side: near, spot })),
  ];
}

/** Points at tape once and follows it through the clip. */
export function Assist({
  clip,
  labels,
  tool,
  following,
  error,
  spotName,
  pick,
  run,
}: {
  clip: Clip;
  labels: Label[];
  tool: { side: Side; spot: string } | null;
  following: { done: number; of: number; stop: AbortController } | null;
  error: unknown;
  spotName: (id: string) => string;
  pick: (side: Side, spot: string) => void;
  run: () => void;
}) {
  if (clip.view !== "side") return null;
  const order = labelOrder(clip);
  const has = (side: Side, spot: string) => labels.some((l) => l.side === side && l.spot === spot);
  const ready = (["left", "right"] as const).some((s) => has(s, "heel") && has(s, "toe"));
  return (
    <section aria-label="Follow the tape" className="mt-4">
      <h2 className="text-xl">Follow the tape</h2>
      <p className="text-sm text-quiet">
        Bright tape, low at the very back and the very tip of each shoe, a colour of its own for each piece. Point at
        each piece on one frame where all are seen; they are followed through the clip and marks are proposed. You
        confirm each.
      </p>
      <div className="mt-1 flex flex-wrap gap-1">
        {order.map(({ side, spot }) => (
          <button
            key={side + spot}
            type="button"
            aria-pressed={tool?.side === side && tool.spot === spot}
            onClick={() => pick(side, spot)}
            className={`min-h-11 rounded-sq border px-2 text-[0.95rem] ${tool?.side === side && tool.spot === spot ? "border-cinder bg-cinder text-on-cinder" : "border-line bg-panel"}`}
          >
            {has(side, spot) ? "✓ " : ""}
            {side} {spotName(spot)}
          </button>
        ))}
      </div>
      <Failure error={error} />
      {following ? (
        <p role="status" className="mt-2 flex items-center gap-3">
          <progress value={following.done} max={following.of} className="h-3 w-64 accent-cinder" />
          <span className="fig">
            {following.done} of {following.of} frames
          </span>
          <Button onClick={() => following.stop.abort()}>Stop</Button>
        </p>
      ) : (
        <Button className="mt-2" kind={ready ? "main" : "plain"} disabled={!ready} onClick={run}>
          Follow and propose marks
        </Button>
      )}
    </section>
  );
}
