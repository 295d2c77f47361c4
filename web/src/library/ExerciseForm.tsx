import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { Field } from "../ui/Field";
import { Amount, Lines, Marks, Safety, toggled } from "./parts";

type Exercise = Schemas["CatalogExercise"];

/** One exercise of a rail: its words, doses, kit and what it asks of a body. */
export function ExerciseForm({
  e,
  n,
  lib,
  error,
  change,
  up,
  out,
}: {
  e: Exercise;
  n: number;
  lib: Schemas["Library"];
  error: (field: string) => string | undefined;
  change: (part: Partial<Exercise>) => void;
  up?: () => void;
  out?: () => void;
}) {
  const published = !!e.stageDays;
  return (
    <fieldset className="mb-4 border border-line bg-panel p-4">
      <legend className="px-1 text-lg font-semibold">
        {n}. {e.name || "without a name"}
      </legend>
      <div className="grid gap-3 md:grid-cols-2">
        <Field
          label="Name"
          value={e.name}
          error={error("name") ?? error("id")}
          onChange={(x) => change({ name: x.target.value })}
        />
        <Lines
          label="Doses, low to high, one a line"
          value={e.doses}
          error={error("doses")}
          hint={
            published
              ? "A published programme keeps its own doses; copy the rail to change them."
              : "such as 2 × 8, 3 × 30 s, 60 s in all"
          }
          disabled={published}
          on={(doses) => change({ doses })}
        />
        <Lines label="Set-up" value={[e.setUp]} error={error("setUp")} on={(x) => change({ setUp: x.join(" ") })} />
        <Lines label="Cues, one to four lines" value={e.cues} error={error("cues")} on={(cues) => change({ cues })} />
        <Lines
          label="What good looks like"
          value={[e.good]}
          error={error("good")}
          on={(x) => change({ good: x.join(" ") })}
        />
        <Lines
          label="Its own stop signs"
          value={e.stopWhen}
          error={error("stopWhen")}
          hint="Empty: those of the rail."
          on={(stopWhen) => change({ stopWhen })}
        />
      </div>
      <Marks
        label="Needs"
        all={lib.kit.map((k) => [k.id, k.name])}
        on={e.needs}
        error={error("needs")}
        set={(x, on) => change({ needs: toggled(e.needs, x, on) })}
      />
      <Safety e={e} change={change} error={error} />
      <div className="mt-2 flex flex-wrap items-center gap-4">
        <Check checked={!!e.retired} onChange={(retired) => change({ retired })}>
          Retired
        </Check>
        <Amount
          label="Part of the body lifted, 0–1"
          value={e.share ?? 0}
          error={error("share")}
          on={(share) => change({ share })}
        />
        <Button disabled={!up} onClick={up}>
          Move up
        </Button>
        {out && (
          <Button kind="quiet" onClick={out}>
            Take out
          </Button>
        )}
      </div>
    </fieldset>
  );
}
