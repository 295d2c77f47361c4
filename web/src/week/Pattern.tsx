import type { Schemas } from "../api/client";
import { Why } from "../ui/reason";

const names = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const railShort: Record<string, string> = { ankle_bend: "Ankle bend", big_toe: "Big toe", calf_straight: "Calf" };
const slots = [
  ["before", "before the run"],
  ["run", "run"],
  ["own", "own time"],
  ["evening", "evening"],
] as const;

/** Seven columns; before, run, own time and evening as rows. */
export function Pattern({ week }: { week: Schemas["BuildWeek"] }) {
  return (
    <>
      {week.gaveWay.map((g) => (
        <p key={g.says} className="mb-2 border-l-4 border-ochre bg-panel px-4 py-2">
          <span className="font-semibold text-ochre">Gave way: </span>
          <Why reason={g} title="What gave way">
            {g.says}
          </Why>
        </p>
      ))}
      <table className="w-full table-fixed border-collapse text-[0.92rem]">
        <thead>
          <tr>
            <th className="w-24" />
            {names.map((n) => (
              <th key={n} scope="col" className="border-b-2 border-ink py-1 text-left font-semibold">
                {n}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {slots.map(([slot, label]) => (
            <tr key={slot} className="border-b border-line align-top">
              <th scope="row" className="py-2 pr-2 text-left text-sm font-normal text-quiet">
                {label}
              </th>
              {week.days.map((d) => (
                <td key={d.weekday} className="space-y-1 py-1.5 pr-1">
                  {slot === "run" && d.run && (
                    <p
                      className={`border-l-4 px-1.5 py-1 ${d.run.quality === "quality" ? "border-ink bg-sunk font-semibold" : "border-line bg-sunk"}`}
                    >
                      {d.run.quality} <span className="whitespace-nowrap tabular-nums">{d.run.minutes} min</span>
                    </p>
                  )}
                  {d.entries
                    .filter((e) => e.slot === slot)
                    .map((e) => (
                      <p key={e.rail} className="border-l-4 border-cinder bg-panel px-1.5 py-1">
                        {railShort[e.rail] ?? e.rail}{" "}
                        <span className="block whitespace-nowrap text-quiet tabular-nums">
                          {Math.ceil(e.seconds / 60)} min
                        </span>
                      </p>
                    ))}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

export { railShort };
