import { useState } from "react";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Pick, sides, type Side } from "../ui/Pick";
import { put, type Bundle } from "./kept";
import { Scale } from "./Scale";

/** A new pain is kept with its place, and opens the warning signs. */
export function Elsewhere({ places, today, onDone }: { places: Bundle["regions"]; today: string; onDone: () => void }) {
  const [region, setRegion] = useState("arch");
  const [side, setSide] = useState<Side | "">("");
  const [pain, setPain] = useState<number | null>(null);
  return (
    <div className="mt-3 space-y-2">
      <Choice
        label="Where"
        value={region}
        options={places.filter((r) => r.id !== "whole_person")}
        onChange={setRegion}
      />
      <Pick label="Side" value={side} options={sides} onChange={setSide} />
      <Scale label="First steps there" value={pain} onChange={setPain} low="nothing" high="worst" />
      <Button
        kind="main"
        className="w-full"
        disabled={!side || pain === null}
        onClick={() =>
          void put([{ kind: "mornings", body: { on: today, region, side, pain }, label: "First steps" }]).then(onDone)
        }
      >
        Keep it
      </Button>
    </div>
  );
}
