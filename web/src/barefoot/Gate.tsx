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
                {once(view.gate.decides).map((d, i) => (
                  <span key={d.item}>
                    {i > 0 && "; "}
                    <Why reason={d.why} title={`${name(view, d.item)}, ${d.legs}`}>
                      {name(view, d.item).toLowerCase()}, {d.legs}
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
      <div data-scrolls className="overflow-x-auto">
        <table className="w-full min-w-[40rem] text-left">
          <thead className="text-sm text-quiet">
            <tr>
              <th rowSpan={2} className="pb-1 align-bottom font-normal">
                Item
              </th>
              <th rowSpan={2} className="px-2 pb-1 align-bottom font-normal">
                Left
              </th>
              <th rowSpan={2} className="px-2 pb-1 align-bottom font-normal">
                Right
              </th>
              <th colSpan={4} className="px-2 text-center font-normal">
                highest stage when it is
              </th>
            </tr>
            <tr>
              {all.map((o) => (
                <th key={o} className="px-1 pb-1 text-center font-normal">
                  {outcomes[o].word}
                </th>
              ))}
            </tr>
          </thead>
          {view.items.map((it) => {
            const left = row(it.id, "left");
            const right = row(it.id, "right");
            const held = worse(left) || worse(right);
            return (
              <tbody key={it.id} className={`border-t border-line ${decides(it.id) ? "bg-panel" : ""}`}>
                <tr className="align-top">
                  <th scope="row" className="py-2 pr-3 pl-1 font-semibold">
                    {it.name}
                  </th>
                  <Cell r={left} it={it} />
                  <Cell r={right} it={it} />
                  {all.map((o) => (
                    <td key={o} className="fig px-1 py-2 text-center">
                      <span
                        className={
                          [left, right].some((r) => r?.outcome === o && !r.waived)
                            ? "border-b-2 border-ink font-bold"
                            : "text-quiet"
                        }
                      >
                        {it.absent.includes(o) ? "–" : (it.caps[o] ?? 5) < 0 ? "none" : it.caps[o]}
                      </span>
                    </td>
                  ))}
                </tr>
                {held && (
                  <tr>
                    <td colSpan={7} className="pb-2 pl-1">
                      {it.why} <Opens runner={runner} view={view} item={it} row={worst(left, right)} />
                    </td>
                  </tr>
                )}
              </tbody>
            );
          })}
        </table>
      </div>
    </section>
  );
}

const all = ["pass", "borderline", "fail", "unknown"] as const;
const approaches = {
  gate: "gate first",
  slow: "slow habit, the arch is not asked",
  indoors: "indoors only, to strength",
};

const name = (view: View, id: string) => view.items.find((i) => i.id === id)?.name ?? id;
/** An item that holds both feet back is said once. */
const once = (rows: Schemas["BarefootRow"][]) =>
  rows
    .filter((r, i) => rows.findIndex((x) => x.item === r.item) === i)
    .map((r) => ({ ...r, legs: rows.filter((x) => x.item === r.item).length > 1 ? "both" : r.leg }));
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
  if (!rails.length)
    return (
      <>
        <strong>Opens with: </strong>
        {row?.opens ?? item.do}.
      </>
    );
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
