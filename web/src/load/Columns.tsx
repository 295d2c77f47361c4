import { useState } from "react";
import { type Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { useDeed } from "../ui/deed";
import { Failure } from "../ui/Notice";

type Table = Schemas["ImportTable"];

const names: Record<string, string> = {
  date: "date",
  time: "time of day",
  minutes: "minutes",
  elapsed: "elapsed",
  km: "distance",
  climb: "climb",
  cadence: "cadence",
  rpe: "effort",
  pain: "pain",
  surface: "surface",
  kind: "what for",
  shoe: "shoe",
  sport: "sport",
};

/** How a table of runs was understood, column by column. What is chosen otherwise is remembered for tables with this heading. */
export function Columns({
  table,
  name,
  again,
}: {
  table: Table;
  name: string;
  again: (columns: Record<string, string>) => Promise<unknown>;
}) {
  const [open, setOpen] = useState(!table.columns["date"] || table.guessed);
  const [chosen, setChosen] = useState(table.columns);
  const [order, setOrder] = useState<"day" | "month">(table.dayFirst ? "day" : "month");
  const deed = useDeed();
  const found = table.fields.filter((f) => table.columns[f]);
  return (
    <div className="my-1 border-l-4 border-line pl-3">
      <p className="text-sm">
        {found.length > 0
          ? found.map((f) => `${names[f] ?? f}: “${table.columns[f]}”`).join(" · ")
          : "No column was recognised."}{" "}
        {!open && (
          <Button kind="quiet" aria-label={`Choose the columns of ${name}`} onClick={() => setOpen(true)}>
            Choose the columns
          </Button>
        )}
      </p>
      {open && (
        <form
          aria-label={`Columns of ${name}`}
          onSubmit={(e) => {
            e.preventDefault();
            void deed.run(async () => {
              const said = Object.fromEntries(Object.entries(chosen).filter(([, h]) => h));
              await again(table.guessed ? { ...said, order } : said);
              setOpen(false);
            });
          }}
        >
          <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
            {table.fields.map((f) => (
              <Choice
                key={f}
                label={names[f] ?? f}
                value={chosen[f] ?? ""}
                options={[{ id: "", name: "none" }, ...table.header.map((h) => ({ id: h, name: h || "(no name)" }))]}
                onChange={(h) => setChosen({ ...chosen, [f]: h })}
              />
            ))}
            {table.guessed && (
              <Choice
                label="Dates written with"
                value={order}
                options={[
                  { id: "day", name: "the day first" },
                  { id: "month", name: "the month first" },
                ]}
                onChange={setOrder}
              />
            )}
          </div>
          <Button className="mt-2" type="submit" disabled={deed.busy}>
            Read it so
          </Button>
          <Failure error={deed.error} />
        </form>
      )}
    </div>
  );
}
