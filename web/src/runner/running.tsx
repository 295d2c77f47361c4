import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { Toggle } from "../ui/Chip";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { weekdays, type Draft } from "./draft";
import { fig, goals, type Part } from "./sections";

const surfaces = ["road", "track", "grass", "trail", "sand", "treadmill"];

export function Running(p: Part) {
  const { d, set } = p;
  return (
    <>
      <div className="grid grid-cols-2 gap-4 md:grid-cols-4">
        <Field label="Sessions a week" {...fig(p, "weeklySessions")} />
        <Field label="Minutes a week" unit="min" {...fig(p, "weeklyMinutes")} />
        <Field label="Distance a week" unit="km" {...fig(p, "weeklyKm")} />
        <Field label="Longest run, 30 days" unit="km" {...fig(p, "longestRunKm")} />
        <Choice label="Goal" value={d.goal} options={goals} onChange={(goal) => set({ goal })} />
        <Field label="Goal date" {...fig(p, "goalDate")} type="date" inputMode={undefined} />
        <Field
          label="The goal in their words"
          className="col-span-2"
          value={d.words.goalWords}
          onChange={(e) => set({ words: { ...d.words, goalWords: e.target.value } })}
        />
      </div>
      <Check checked={d.notRunning} onChange={(notRunning) => set({ notRunning })}>
        No running at present
      </Check>
      <Races {...p} />
      <p className="mt-3 text-[0.9rem] font-medium">Usual surfaces</p>
      <div className="mt-1 flex flex-wrap gap-1.5">
        {surfaces.map((s) => (
          <Toggle
            key={s}
            on={d.surfaces.includes(s)}
            onChange={(on) => set({ surfaces: on ? [...d.surfaces, s] : d.surfaces.filter((x) => x !== s) })}
          >
            {s}
          </Toggle>
        ))}
      </div>
    </>
  );
}

/** Races entered: before one load is kept and sets are halved, after one nothing moves up. */
function Races({ d, set, fields }: Part) {
  const change = (i: number, part: Partial<Draft["races"][0]>) =>
    set({ races: d.races.map((r, j) => (j === i ? { ...r, ...part } : r)) });
  return (
    <div className="mt-4">
      {d.races.map((r, i) => (
        <div key={i} className="mb-2 flex flex-wrap items-end gap-3">
          <Field
            label="Race on"
            type="date"
            value={r.on}
            error={fields[`profile.races[${i}]`]}
            onChange={(e) => change(i, { on: e.target.value })}
            className="w-48"
          />
          <Field
            label="Distance"
            unit="km"
            inputMode="decimal"
            value={r.km}
            onText={(km) => change(i, { km })}
            className="w-32"
          />
          <Field
            label="Which"
            value={r.name}
            onChange={(e) => change(i, { name: e.target.value })}
            className="min-w-40 grow"
          />
          <Check checked={r.minor} onChange={(minor) => change(i, { minor })}>
            Run as a quality run, not a goal race
          </Check>
          <Button kind="quiet" onClick={() => set({ races: d.races.filter((_, j) => j !== i) })}>
            Remove
          </Button>
        </div>
      ))}
      <Button onClick={() => set({ races: [...d.races, { on: "", km: "", name: "", minor: false }] })}>
        Add a race
      </Button>
    </div>
  );
}

/** Fixed runs and minutes, a row a day on the phone and a column a day on the desk. */
export function Days({ d, set, fields }: Part) {
  const run = (i: number, part: Partial<Draft["runs"][0]>) =>
    set({ runs: d.runs.map((x, j) => (j === i ? { ...x, ...part } : x)) });
  const box = "fig min-h-11 w-full min-w-0 rounded-sq border border-line bg-panel px-2";
  const days = weekdays.flatMap((w, i) => {
    const r = d.runs[i];
    return r ? [{ w, i, r }] : [];
  });
  return (
    <>
      <div className="mt-4 grid grid-cols-[2.6rem_1fr_1fr_1fr_1fr] items-center gap-1 md:grid-flow-col md:grid-cols-[auto_repeat(7,1fr)] md:grid-rows-5">
        <span />
        <span className="text-sm font-medium">Fixed run, min</span>
        <span className="text-sm font-medium">Kind</span>
        <span className="text-sm font-medium">Time</span>
        <span className="text-sm font-medium">Strength, min</span>
        {days.map(({ w, i, r }) => (
          <div key={w} className="contents">
            <span className="text-sm text-quiet md:pl-1">{w}</span>
            <input
              aria-label={`Fixed run on ${w}, minutes`}
              inputMode="numeric"
              value={r.minutes}
              onChange={(e) => run(i, { minutes: e.target.value })}
              className={box}
            />
            <select
              aria-label={`Kind of run on ${w}`}
              value={r.quality}
              disabled={!r.minutes}
              onChange={(e) => run(i, { quality: e.target.value })}
              className="min-h-11 w-full rounded-sq border border-line bg-panel text-sm disabled:opacity-40"
            >
              {["easy", "quality", "long"].map((x) => (
                <option key={x}>{x}</option>
              ))}
            </select>
            <select
              aria-label={`Time of the run on ${w}`}
              value={r.time}
              disabled={!r.minutes}
              onChange={(e) => run(i, { time: e.target.value })}
              className="min-h-11 w-full rounded-sq border border-line bg-panel text-sm disabled:opacity-40"
            >
              <option value="">not asked</option>
              <option value="morning">morning</option>
              <option value="evening">evening</option>
            </select>
            <input
              aria-label={`Strength minutes on ${w}`}
              inputMode="numeric"
              value={d.minutes[i]}
              onChange={(e) => set({ minutes: d.minutes.map((x, j) => (j === i ? e.target.value : x)) })}
              className={box}
            />
          </div>
        ))}
      </div>
      <p className="text-sm text-quiet">A run whose time is not asked counts as one in the evening.</p>
      {d.moreRuns.map((r, i) => (
        <p key={i} className="mt-1 text-sm">
          Also on {weekdays[r.weekday]}: {r.quality}, {r.minutes} min{r.time ? `, ${r.time}` : ""}.{" "}
          <Button kind="quiet" onClick={() => set({ moreRuns: d.moreRuns.filter((_, j) => j !== i) })}>
            Remove
          </Button>
        </p>
      ))}
      <p className="text-brick">{fields["profile.runs"] ?? fields["profile.minutesByDay"]}</p>
      <Field
        label="Longest single session"
        unit="min"
        hint="Leave empty when a day's minutes may be one session."
        className="mt-3 max-w-64"
        {...fig({ d, set, fields }, "sessionMinutes")}
      />
    </>
  );
}
