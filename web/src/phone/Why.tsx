import { day } from "../ui/day";
import { sideName, type Item } from "./session";

/** Why each dose is what it is: what moved it, and what would move it next. */
export function Why({ item }: { item: Item }) {
  const same = item.sides.every(({ why }) => JSON.stringify(why) === JSON.stringify(item.sides[0]?.why));
  const shown = same ? item.sides.slice(0, 1) : item.sides;
  return (
    <details className="mt-1">
      <summary className="min-h-11 py-2 underline decoration-line underline-offset-4">Why this much</summary>
      <ul className="space-y-3">
        {shown.map((s) => (
          <li key={s.side}>
            {shown.length > 1 && <strong className="capitalize">{sideName(item, s)}. </strong>}
            {s.why.moved.length === 0 && <>As it was placed on {day(s.why.since)}. </>}
            {s.why.next && <>Now: {s.why.next}. </>}
            {s.why.more && (
              <>
                Next: <strong>{s.why.more}</strong>, once your coach accepts it.
              </>
            )}
            {s.why.moved.length > 0 && (
              <ol className="mt-1 text-quiet">
                {s.why.moved.map((m) => (
                  <li key={m.on + m.to}>
                    <span className="fig">{day(m.on)}</span> {m.word}: {m.to}
                    {m.why && ` · ${m.why}`}
                  </li>
                ))}
              </ol>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
