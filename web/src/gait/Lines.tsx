import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import type { Clip } from "./film";
import { parse } from "../ui/number";

export type Line = "scale" | "level" | "midline";
export const lineNames: Record<Line, string> = {
  scale: "Known length",
  level: "Level line",
  midline: "Middle of the belt",
};

/** The lines that are drawn on the picture: a known length, what is level, the middle of the belt. */
export function Lines({
  clip,
  drawing,
  draw,
  set,
}: {
  clip: Clip;
  drawing: Line | "";
  draw: (of: Line | "") => void;
  set: (part: Partial<Clip>) => void;
}) {
  return (
    <section aria-label="Lines" className="mt-3 flex flex-wrap items-end gap-2">
      {(["scale", "level", ...(clip.view === "rear" ? (["midline"] as const) : [])] as const).map((k) => (
        <Button key={k} aria-pressed={drawing === k} onClick={() => draw(drawing === k ? "" : k)}>
          {clip[k] ? "✓ " : ""}
          {lineNames[k]}
        </Button>
      ))}
      {clip.scale && (
        <Field
          label="It is"
          unit="mm"
          className="w-36"
          inputMode="decimal"
          defaultValue={clip.scale.mm}
          onChange={(e) => {
            const mm = parse(e.target.value);
            if (mm !== null && mm > 0 && clip.scale) set({ scale: { ...clip.scale, mm } });
          }}
        />
      )}
      <span className="text-sm text-quiet">
        A known length gives centimetres; the level line takes a tilted camera out.
      </span>
    </section>
  );
}
