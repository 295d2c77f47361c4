import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { figure } from "../runner/draft";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { Why } from "../ui/reason";
import { Verdict } from "../ui/Verdict";

/** A week that may come: what would move and why, beside the week as planned. Nothing is stored. */
export function WhatIf({ runner, watched }: { runner: string; watched: Schemas["Watched"][] }) {
  const [minutes, setMinutes] = useState("");
  const [place, setPlace] = useState("");
  const [pain, setPain] = useState("");
  const [missed, setMissed] = useState(false);
  const [seen, setSeen] = useState<Schemas["WhatIfView"] | null>(null);
  const deed = useDeed();
  const look = () =>
    deed.run(async () => {
      const at = watched.find((w) => w.region + w.side === place);
      setSeen(
        await ask(
          api.POST("/api/runners/{runner}/what-if", {
            params: { path: { runner } },
            body: {
              ...(minutes.trim() ? { minutes: figure("minutes", minutes, true) } : {}),
              ...(at ? { region: at.region, side: at.side, pain: pain.trim() ? figure("pain", pain, true) : 0 } : {}),
              missed,
            },
          }),
        ),
      );
    });
  return (
    <section aria-label="What if" className="mb-6">
      <Heading level={2}>What if</Heading>
      <form
        className="grid items-end gap-3 border border-line bg-panel p-4 sm:grid-cols-2 xl:grid-cols-4"
        onSubmit={(e) => {
          e.preventDefault();
          void look();
        }}
      >
        <Field
          label="Running in the next seven days, min"
          inputMode="numeric"
          value={minutes}
          onText={setMinutes}
          error={deed.fields["minutes"]}
        />
        <Choice
          label="First steps tomorrow at"
          value={place}
          options={[{ id: "", name: "as usual" }].concat(
            watched.map((w) => ({ id: w.region + w.side, name: w.side === "both" ? w.name : `${w.side} ${w.name}` })),
          )}
          onChange={setPlace}
        />
        <Field
          label="… of 10"
          inputMode="numeric"
          value={pain}
          onText={setPain}
          disabled={!place}
          error={deed.fields["pain"]}
        />
        <Check checked={missed} onChange={setMissed}>
          no session done
        </Check>
        <Button type="submit" disabled={deed.busy} className="whitespace-nowrap">
          See what would move
        </Button>
        <p className="text-sm text-quiet sm:col-span-1 xl:col-span-3">
          What is left open goes as planned: sessions whole and quiet, mornings as usual. Nothing is stored.
        </p>
      </form>
      <Failure error={deed.error} />
      {seen && <Seen v={seen} />}
    </section>
  );
}

const volumes = { usual: "volume_usual", high: "volume_high", unknown: "volume_unknown" } as const;
const volume = (s: string) => volumes[s as keyof typeof volumes];

function Seen({ v }: { v: Schemas["WhatIfView"] }) {
  const differ = v.rows.filter((r) => r.differs);
  return (
    <div aria-live="polite" className="mt-3">
      <p className="text-lg">
        On {day(v.on)}: running volume{" "}
        <Why reason={v.volume.why} title="Running volume in a week">
          <Verdict v={volume(v.volume.then)} />
        </Why>
        {v.volume.as !== v.volume.then && <span className="text-quiet"> (as planned: {v.volume.as})</span>}
        {v.lead.then && (
          <>
            ;{" "}
            <Why reason={v.lead.why} title="Who leads then">
              {v.lead.then} leads
            </Why>
          </>
        )}
        .
      </p>
      {v.rows.length > 0 && differ.length === 0 && <p>No rail would move otherwise than planned.</p>}
      {differ.length > 0 && (
        <table className="mt-2 w-full text-left">
          <thead className="text-sm text-quiet">
            <tr>
              <th className="font-normal">Rail</th>
              <th className="px-2 font-normal">As planned</th>
              <th className="px-2 font-normal">Then</th>
              <th className="px-2 font-normal">Why</th>
            </tr>
          </thead>
          <tbody>
            {differ.map((r) => (
              <tr key={r.rail + r.side} className="border-t border-line align-top">
                <th scope="row" className="py-1.5 pr-2 font-semibold">
                  {r.rail}
                  {r.side !== "both" && `, ${r.side}`}
                </th>
                <td className="px-2 py-1.5">
                  <Verdict v={r.as} /> <span className="fig text-sm">{r.asText}</span>
                </td>
                <td className="px-2 py-1.5">
                  <Verdict v={r.then} /> <span className="fig text-sm">{r.text}</span>
                </td>
                <td className="px-2 py-1.5">
                  <Why reason={r.why} title={`${r.rail}: ${r.then}`}>
                    {r.why.says}
                  </Why>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
