import { useState } from "react";
import { Button } from "../ui/Button";
import { Note } from "../ui/Note";
import { Pick } from "../ui/Pick";
import { laid } from "./clash";
import type { CatalogRail } from "./Library";

/** Somebody kept another version of this rail meanwhile: both stand side by side, and one is chosen for each entry that
 * both changed. */
export function Clash({
  start,
  mine,
  theirs,
  by,
  onward,
}: {
  start: CatalogRail;
  mine: CatalogRail;
  theirs: CatalogRail;
  by: string;
  onward: (rail: CatalogRail) => void;
}) {
  const { rail, both } = laid(start, mine, theirs);
  const [chosen, setChosen] = useState<Record<string, "mine" | "theirs">>({});
  const left = both.filter((e) => !chosen[e.key]).length;
  return (
    <Note kind="caution" role="alert" className="mb-4">
      <strong>{by || "Somebody"} changed this rail meanwhile.</strong>{" "}
      {both.length
        ? "Both changed what follows; choose which stands. All else that you typed stays, and what only they changed is taken in."
        : "You changed nothing that they did: what they changed is taken in, and all you typed stays."}
      {both.map((e) => (
        <div key={e.key} className="mt-2 border-t border-line pt-2">
          <p className="font-semibold">{e.name}</p>
          <div className="grid gap-x-4 md:grid-cols-2">
            <p>
              <span className="text-quiet">Yours: </span>
              {e.mine}
            </p>
            <p>
              <span className="text-quiet">Theirs: </span>
              {e.theirs}
            </p>
          </div>
          <Pick
            label={`${e.name}: which stands`}
            className="mt-1"
            value={chosen[e.key] ?? ""}
            options={[
              { id: "mine", name: "mine" },
              { id: "theirs", name: "theirs" },
            ]}
            onChange={(whose) => setChosen({ ...chosen, [e.key]: whose })}
          />
        </div>
      ))}
      <Button
        kind="main"
        className="mt-3"
        disabled={left > 0}
        onClick={() => onward(both.reduce((r, e) => (chosen[e.key] === "theirs" ? e.take(r) : r), rail))}
      >
        {left > 0 ? `Choose ${left} more` : "Go on from there"}
      </Button>
    </Note>
  );
}
