import { useState } from "react";
import { Button } from "../ui/Button";
import { FootMap } from "../ui/FootMap";
import { put, type Bundle } from "./kept";
import { Scale } from "./Scale";

type Place = { region: string; side: "left" | "right" };

/** A new pain is kept with its place, and opens the warning signs. Nothing is filled in: the place is tapped on the map. */
export function Elsewhere({ places, today, onDone }: { places: Bundle["regions"]; today: string; onDone: () => void }) {
  const [at, setAt] = useState<Place | null>(null);
  const [pain, setPain] = useState<number | null>(null);
  if (!at)
    return (
      <div className="mt-3">
        <p className="font-medium">Where does it hurt? Tap the place.</p>
        <FootMap marked={[]} onPick={(region, side) => setAt({ region, side })} />
      </div>
    );
  return (
    <div className="mt-3 space-y-2">
      <p className="text-lg font-semibold">
        {at.side} {places.find((p) => p.id === at.region)?.name}
      </p>
      <Button kind="quiet" size="bare" onClick={() => setAt(null)}>
        Another place
      </Button>
      <Scale label="First steps there" value={pain} onChange={setPain} low="nothing" high="worst" />
      <Button
        kind="main"
        className="w-full"
        disabled={pain === null}
        onClick={() =>
          void put([{ kind: "mornings", body: { on: today, ...at, pain }, label: "First steps" }]).then(onDone)
        }
      >
        Keep it
      </Button>
    </div>
  );
}
