import { useState } from "react";
import { Button } from "../ui/Button";
import { FootMap } from "../ui/FootMap";
import { Pick, sides } from "../ui/Pick";
import { put, type Bundle } from "./kept";
import { Scale } from "./Scale";

type Leg = "left" | "right";

const legs = sides.filter((s) => s.id !== "both") as { id: Leg; name: string }[];

/** A new pain is kept with its place, and opens the warning signs. Nothing is filled in: the place is tapped on the map. */
export function Elsewhere({ places, today, onDone }: { places: Bundle["regions"]; today: string; onDone: () => void }) {
  const [leg, setLeg] = useState<Leg | "">("");
  const [region, setRegion] = useState("");
  const [pain, setPain] = useState<number | null>(null);
  if (!region)
    return (
      <div className="mt-3">
        <p className="font-medium">Which leg hurts?{leg && " Tap the place."}</p>
        <Pick label="Side" className="my-2" value={leg} options={legs} onChange={setLeg} />
        {leg && <FootMap sides={[leg]} marked={[]} onPick={setRegion} />}
      </div>
    );
  return (
    <div className="mt-3 space-y-2">
      <p className="text-lg font-semibold">
        {leg} {places.find((p) => p.id === region)?.name}
      </p>
      <Button kind="quiet" size="bare" onClick={() => (setRegion(""), setPain(null))}>
        Another place
      </Button>
      <Scale label="First steps there" value={pain} onChange={setPain} low="nothing" high="worst" />
      <Button
        kind="main"
        className="w-full"
        disabled={pain === null}
        onClick={() =>
          void put([{ kind: "mornings", body: { on: today, region, side: leg, pain }, label: "First steps" }]).then(
            onDone,
          )
        }
      >
        Keep it
      </Button>
    </div>
  );
}
