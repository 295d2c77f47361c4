import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Failure } from "../ui/Notice";
import { WordFields, type Word } from "./Openings";

type Permissions = Schemas["Permissions"];

/** What takes work away from this runner today, and what would open it: each caution and pattern by itself. */
export function PermissionList({
  runner,
  today,
  of,
  earlier,
}: {
  runner: string;
  today: string;
  of: Permissions;
  earlier?: string;
}) {
  const cautions = of.cautions;
  const patterns = of.patterns;
  if (
    cautions.length + patterns.length + of.unknown.length + of.pauses.length + of.heels.length + of.dropped.length ===
      0 &&
    !earlier
  )
    return null;
  return (
    <section aria-label="What waits today" className="mb-4 border-l-4 border-ochre bg-panel px-4 py-3">
      <h2 className="text-lg text-ochre">What waits today</h2>
      {earlier && (
        <p className="mb-2">
          Limits as they were kept before, for all cautions at once: “{earlier}”. Record them for each caution; until
          then they open nothing.
        </p>
      )}
      <ul>
        {of.pauses.length > 0 && (
          <li className="border-b border-line py-2">
            <strong>Pain of {Math.max(...of.pauses.map((p) => p.pain))} of 10 was reported.</strong> One-leg work,
            bouncing, more and faster running wait until you spoke and the warning signs are answered.
          </li>
        )}
        {cautions.map((c) => (
          <Line
            key={c.id}
            runner={runner}
            today={today}
            id={c.id}
            name={c.question.replace("?", "")}
            says={c.limits}
            side={c.side}
            coach={!!c.coach}
            opened={c.opened}
            ends={c.ends}
          />
        ))}
        {patterns.map((p) => (
          <Line
            key={p.id + p.side}
            runner={runner}
            today={today}
            id={p.id}
            name={`${p.name}, ${p.side}`}
            says={`Waits for a clinician's finding${p.coach ? ", or for 28 quiet days and a retest free of pain" : ""}.`}
            side={p.side}
            coach={p.coach}
            opened={p.opened}
          />
        ))}
        {of.dropped.length > 0 && (
          <li className="border-b border-line py-2">
            <strong>Chosen before and not offered any more:</strong> {of.dropped.join("; ")}. Save the intake to leave
            it at that.
          </li>
        )}
        {of.heels.map((leg) => (
          <li key={leg} className="border-b border-line py-2">
            <WhichHeel runner={runner} leg={leg} />
          </li>
        ))}
        {of.unknown.map((u) => (
          <li key={u.id} className="border-b border-line py-2">
            <strong>To ask first: {u.says}.</strong> {u.how}
          </li>
        ))}
      </ul>
    </section>
  );
}

const whose = [
  { id: "clinician", name: "a clinician's, or as the runner told it" },
  { id: "coach", name: "the coach's" },
] as const;

const heelPlaces = [
  { name: "the sole", sore: ["heel_sole"] },
  { name: "the back", sore: ["heel_back"] },
  { name: "both", sore: ["heel_sole", "heel_back"] },
] as const;

/** Asks which place of a heel is sore that was recorded as one; until then both are watched. */
export function WhichHeel({
  runner,
  leg,
  listed,
}: {
  runner: string;
  leg: Schemas["LimitInBody"]["side"];
  listed?: boolean;
}) {
  const deed = useDeed(stale.runner(runner));
  if (leg === "both") return null;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <p>
        <strong>
          {listed ? "Where" : "To ask first: where"} is the {leg} heel sore?
        </strong>{" "}
        It was recorded as one place; until it is told both are watched.
      </p>
      {heelPlaces.map((p) => (
        <Button
          key={p.name}
          disabled={deed.busy}
          onClick={() =>
            deed.run(async () => {
              await ask(
                api.PUT("/api/runners/{runner}/heels/{side}", {
                  params: { path: { runner, side: leg } },
                  body: { sore: [...p.sore] },
                }),
              );
            })
          }
        >
          {p.name}
        </Button>
      ))}
      <Failure error={deed.error} />
    </div>
  );
}

function Line({
  runner,
  today,
  id,
  name,
  says,
  side,
  coach,
  opened,
  ends,
}: {
  runner: string;
  today: string;
  id: string;
  name: string;
  says: string;
  side: Schemas["LimitInBody"]["side"];
  coach: boolean;
  opened: Schemas["ReferLimit"][];
  ends?: string;
}) {
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<"clinician" | "coach">("clinician");
  const [word, setWord] = useState<Word>({ who: "", on: today, words: "", opens: {} });
  const deed = useDeed(stale.runner(runner));
  return (
    <li className="border-b border-line py-2">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <p>
          <strong>{name}:</strong> {says}
          {ends && ` Lapses by itself on ${day(ends)}.`}
          {opened.map((l) => (
            <span key={l.id} className="block text-tide">
              Opened by {l.who}, {day(l.on)}
              {l.words && `: ${l.words}`}
            </span>
          ))}
        </p>
        <Button kind="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
          Record limits
        </Button>
      </div>
      {open && (
        <div className="my-2 grid gap-3 md:grid-cols-2">
          <Choice label="Whose word" value={kind} options={coach ? whose : whose.slice(0, 1)} onChange={setKind} />
          <WordFields value={word} onChange={setWord} errors={deed.fields} />
          <div className="flex gap-3">
            <Button
              kind="main"
              disabled={deed.busy}
              onClick={() =>
                deed.run(async (write) => {
                  const body = { for: id, side, kind, ...word };
                  await ask(
                    api.PUT("/api/runners/{runner}/limits/{limit}", {
                      params: { path: { runner, limit: write(body) } },
                      body,
                    }),
                  );
                  setOpen(false);
                })
              }
            >
              Keep the limits
            </Button>
            <Button kind="quiet" onClick={() => setOpen(false)}>
              Not now
            </Button>
          </div>
          <div className="col-span-full">
            <Failure error={deed.error} />
          </div>
        </div>
      )}
    </li>
  );
}
