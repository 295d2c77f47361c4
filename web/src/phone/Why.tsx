import { day } from "../ui/day";
import { sideName, type Item } from "./session";

/** Why each dose is what it is: what moved it, and what would move it next. */
export function Why({ item }: { item: Item }) {
  return (
    <details className="mt-1">
      <summary className="min-h-11 py-2 underline decoration-line underline-offset-4">Why this much</summary>
      <ul className="space-y-3">
        {item.sides.map(({ side, why }, i) => (
          <li key={side}>
            {item.sides.length > 1 && (
              <strong className="capitalize">{sideName(item, item.sides[i] as Item["sides"][number])}. </strong>
            )}
            {why.moved.length === 0 && <>As it was placed on {day(why.since)}. </>}
            {why.next && <>Now: {why.next}. </>}
            {why.more && (
              <>
                Next: <strong>{why.more}</strong>, once your coach accepts it.
              </>
            )}
            {why.moved.length > 0 && (
              <ol className="mt-1 text-quiet">
                {why.moved.map((m) => (
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
