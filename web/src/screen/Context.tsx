import { useState } from "react";
import type { Schemas } from "../api/client";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Pick } from "../ui/Pick";
import { parse } from "../ui/number";
import { shortIn } from "../ui/units";

export type How = Schemas["ScreenContext"];
export const usualHow: How = { pace: "easy", shod: "shoes", tired: false, surface: "treadmill" };

const named = <T extends string>(...ids: T[]) => ids.map((id) => ({ id, name: id }));

/** How they run while the gait is looked at; every gait entry carries it. */
export function Context({ how, onChange, last }: { how: How; onChange: (h: How) => void; last: How[] }) {
  const set = (part: Partial<How>) => onChange({ ...how, ...part });
  const figure = (v: string) => parse(v) || undefined;
  const [speed, setSpeed] = useState(String(how.speedKmh ?? ""));
  return (
    <section aria-label="How they run" className="mt-3 border border-line bg-panel px-4 py-3">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <Pick
          label="Pace or slope"
          value={how.pace}
          options={[
            { id: "easy", name: "easy" },
            { id: "fast", name: "fast" },
            { id: "up", name: "uphill" },
            { id: "down", name: "downhill" },
          ]}
          onChange={(pace) => set({ pace })}
        />
        <Pick
          label="On the feet"
          value={how.shod}
          options={[
            { id: "shoes", name: "shoes" },
            { id: "minimal", name: "minimal shoes" },
            { id: "barefoot", name: "barefoot" },
          ]}
          onChange={(shod) => set({ shod })}
        />
        <Check checked={how.tired} onChange={(tired) => set({ tired })}>
          tired
        </Check>
        <Field
          label="Speed"
          unit="km/h"
          className="w-32"
          inputMode="decimal"
          value={speed}
          onText={(text) => {
            setSpeed(text);
            set({ speedKmh: figure(text) });
          }}
        />
        <Field
          label="Slope"
          unit="%"
          className="w-28"
          inputMode="decimal"
          defaultValue={how.slopePct ?? ""}
          onChange={(e) => set({ slopePct: figure(e.target.value) })}
        />
        <Choice
          label="Surface"
          value={how.surface || "treadmill"}
          options={named("treadmill", "road", "track", "grass", "trail", "sand")}
          onChange={(surface) => set({ surface })}
        />
      </div>
      {last.length > 0 && (
        <p className="mt-2 text-sm text-quiet">
          Taken before:{" "}
          {last
            .map(
              (c) =>
                `${c.pace}, ${c.shod}${c.tired ? ", tired" : ""}${c.speedKmh ? `, ${shortIn("km/h", c.speedKmh)}` : ""}${c.surface ? `, ${c.surface}` : ""}`,
            )
            .join(" · ")}
          . Only the same way can be compared.
        </p>
      )}
    </section>
  );
}
