import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { figure } from "../runner/draft";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { Pick } from "../ui/Pick";
import { stages, type At, type View } from "./stages";

type Aim = Schemas["BarefootPlan"]["aim"];
const aims: { id: Aim; name: string }[] = [
  { id: "bare", name: "bare feet" },
  { id: "thin", name: "a thinner shoe" },
  { id: "strength", name: "strength only" },
];

/** Begins the transition, or changes what is agreed of it. */
export function Begin({ runner, view, done }: { runner: string; view: View; done?: () => void }) {
  const was = view.plan;
  const shoes = view.shoes.map((s) => s.name);
  const [aim, setAim] = useState<Aim>(was?.aim ?? "bare");
  const [cap, setCap] = useState(String(was?.cap ?? view.cap));
  const [from, setFrom] = useState(was?.from ?? shoes[0] ?? "");
  const [shoe, setShoe] = useState(was?.shoe ?? shoes[1] ?? "");
  const [wish, setWish] = useState(was?.wish ?? "");
  const [start, setStart] = useState("0.0");
  const [minutes, setMinutes] = useState("");
  const deed = useDeed(stale.runner(runner));
  const places = view.ladder.flatMap((all, s) =>
    all.map((n, i) => ({ id: `${s}.${i}`, name: `${s} ${stages[s]}: ${n}` })),
  );
  places.push({ id: "4", name: `4 ${stages[4]}` }, { id: "5", name: `5 ${stages[5]}` });
  const allowed = places.filter(
    (p) => parseInt(p.id) <= Math.max(0, view.gate.cap) && (aim !== "strength" || parseInt(p.id) <= 2),
  );
  const step = view.steps[shoe];
  const keep = (end: boolean) =>
    deed.run(async (id) => {
      const at: At = { stage: parseInt(start), step: Number(start.split(".")[1] ?? 0) };
      if (at.stage >= 4) at.minutes = figure("start", minutes, true);
      const plan = {
        aim,
        cap: figure("cap", cap, true),
        start: at,
        ...(aim === "thin" ? { shoe, from } : {}),
        ...(wish ? { wish } : {}),
        ...(end ? { end } : {}),
      };
      const body = { saw: view.planId, plan };
      await ask(
        api.PUT("/api/runners/{runner}/barefoot/plans/{id}", { params: { path: { runner, id: id(body) } }, body }),
      );
      done?.();
    });
  return (
    <section aria-label="Plan the transition" className="no-print mb-4">
      {!was && <Heading level={2}>Begin a transition</Heading>}
      <form
        className="grid items-end gap-3 border border-line bg-panel p-4 sm:grid-cols-2 xl:grid-cols-3"
        onSubmit={(e) => {
          e.preventDefault();
          void keep(false);
        }}
      >
        <div className="sm:col-span-2 xl:col-span-3">
          <p className="mb-1 text-[0.9rem] font-medium">Aim</p>
          <Pick label="Aim" value={aim} options={aims} onChange={setAim} />
        </div>
        {aim === "thin" && (
          <>
            <Choice label="Shoe worn now" value={from} options={named(shoes)} onChange={setFrom} />
            <Choice
              label="Next shoe"
              value={shoe}
              options={named(shoes.filter((s) => s !== from))}
              onChange={setShoe}
            />
            <p className="text-sm text-quiet sm:col-span-2 xl:col-span-3">
              {shoes.length < 2 ? "Enter both shoes at intake first." : step?.why.says}
            </p>
          </>
        )}
        {aim !== "strength" && (
          <Field
            label="Agreed share of the running"
            unit="%"
            inputMode="numeric"
            value={cap}
            onText={setCap}
            error={deed.fields.cap}
          />
        )}
        <Field
          label="Would like to run so on"
          type="date"
          value={wish}
          onChange={(e) => setWish(e.target.value)}
          error={deed.fields.wish}
        />
        {!was && (
          <Choice label="Begins with, by what was done before" value={start} options={allowed} onChange={setStart} />
        )}
        {!was && parseInt(start) >= 4 && (
          <Field
            label="Minutes a week so far"
            inputMode="numeric"
            value={minutes}
            onText={setMinutes}
            error={deed.fields.start}
          />
        )}
        <div className="flex flex-wrap gap-2 sm:col-span-2 xl:col-span-3">
          <Button kind="main" type="submit" disabled={deed.busy}>
            {was ? "Keep" : "Begin"}
          </Button>
          {was && (
            <Button kind="stop" disabled={deed.busy} onClick={() => void keep(true)}>
              End the transition
            </Button>
          )}
        </div>
      </form>
      <Failure error={deed.error} />
    </section>
  );
}

const named = (names: string[]) => names.map((n) => ({ id: n, name: n }));
