import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { Heading } from "../ui/Heading";
import { Why } from "../ui/reason";
import { outcomes, stageName, type View } from "./stages";

/** The gate: each item with what it says of each foot, the highest stage that leaves, and what opens it. */
export function Gate({ runner, view }: { runner: string; view: View }) {
  const row = (item: string, leg: "left" | "right") => view.gate.rows.find((r) => r.item === item && r.leg === leg);
  const decides = (item: string) => view.gate.decides.some((d) => d.item === item);
  return (
    <section aria-label="Gate">
      <Heading level={2}>The gate</Heading>
      <p className="mb-2 max-w-3xl">
        {view.gate.cap >= 5 ? (
          "Open for both feet."
        ) : (
          <>
            The worse foot decides:{" "}
            <strong>{view.gate.cap < 0 ? "no bare work now" : `up to stage ${stageName(view.gate.cap)}`}</strong>
            {view.gate.decides.length > 0 && (
              <>
                , by{" "}
                {view.gate.decides.map((d, i) => (
                  <span key={d.item + d.leg}>
                    {i > 0 && ", "}
                    <Why reason={d.why} title={`${name(view, d.item)}, ${d.leg}`}>
                      {name(view, d.item).toLowerCase()}, {d.leg}
                    </Why>
                  </span>
                ))}
              </>
            )}
            .
          </>
        )}{" "}
        Approach: {approaches[view.approach]}. Foot work on the spot asks the first four alone.
      </p>
      <div className="overflow-x-auto">
        <table className="w-full min-w-[40rem] text-left">
          <thead className="text-sm text-quiet">
            <tr>
              <th className="font-normal">Item</th>
              <th className="w-36 px-2 font-normal">Left</th>
              <th className="w-36 px-2 font-normal">Right</th>
              <th className="px-2 font-normal">Highest stage: pass · borderline · fail · unknown</th>
            </tr>
          </thead>
          <tbody>
            {view.items.map((it) => (
              <tr key={it.id} className={`border-t border-line align-top ${decides(it.id) ? "bg-panel" : ""}`}>
                <th scope="row" className="py-2 pr-3 font-normal">
                  <span className="font-semibold">{it.name}</span>
                  {(worse(row(it.id, "left")) || worse(row(it.id, "right"))) && (
                    <span className="block text-sm">
                      {it.why}{" "}
                      <Opens
                        runner={runner}
                        view={view}
                        item={it}
                        row={worst(row(it.id, "left"), row(it.id, "right"))}
                      />
                    </span>
                  )}
                </th>
                <Cell r={row(it.id, "left")} it={it} />
                <Cell r={row(it.id, "right")} it={it} />
                <td className="fig px-2 py-2 whitespace-nowrap">
                  {(["pass", "borderline", "fail", "unknown"] as const).map((o, i) => (
                    <span key={o}>
                      {i > 0 && <span className="text-quiet"> · </span>}
                      <span
                        className={
                          [row(it.id, "left"), row(it.id, "right")].some((r) => r?.outcome === o && !r.waived)
                            ? "border-b-2 border-ink font-bold"
                            : "text-quiet"
                        }
                      >
                        {(it.caps[o] ?? 5) < 0 ? "none" : it.caps[o]}
                      </span>
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

const approaches = {
  gate: "gate first",
  slow: "slow habit, the arch is not asked",
  indoors: "indoors only, to strength",
};

const name = (view: View, id: string) => view.items.find((i) => i.id === id)?.name ?? id;
const worse = (r?: Schemas["BarefootRow"]) => !!r && !r.waived && r.cap < 5;
const worst = (a?: Schemas["BarefootRow"], b?: Schemas["BarefootRow"]) => (a && b && b.cap < a.cap ? b : a);

function Cell({ r, it }: { r: Schemas["BarefootRow"] | undefined; it: Schemas["BarefootItem"] }) {
  if (!r) return <td />;
  const o = outcomes[r.outcome];
  return (
    <td className="px-2 py-2">
      <Why reason={r.why} title={`${it.name}, ${r.leg}`}>
        <span className={`font-semibold whitespace-nowrap ${r.waived ? "text-quiet" : o.tone}`}>
          <span aria-hidden>{o.shape}</span> {r.waived ? "not asked" : o.word}
        </span>
      </Why>
      <span className="block text-sm text-quiet">
        {r.why.saw[0]?.value}
        {r.age >= 0 && `, ${r.age === 0 ? "today" : `${r.age} d ago`}`}
      </span>
    </td>
  );
}

/** What opens an item: the rails that work on it, or what is done instead. */
function Opens({
  runner,
  view,
  item,
  row,
}: {
  runner: string;
  view: View;
  item: Schemas["BarefootItem"];
  row: Schemas["BarefootRow"] | undefined;
}) {
  const rails = view.answers[item.id] ?? [];
  if (!rails.length) return <strong>{row?.opens ?? item.do}</strong>;
  return (
    <>
      <strong>Works on it: </strong>
      {rails.map((r) => `${r.name}${r.inForce ? " (in the programme)" : ""}`).join(", ")};{" "}
      <Link to="/runners/$runner/screen" params={{ runner }} className="underline underline-offset-4">
        test again
      </Link>
      .
    </>
  );
}
