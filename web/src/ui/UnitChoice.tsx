import { Pick } from "./Pick";
import type { Units } from "./reader";

/** What figures are read in: three choices, each by itself. */
export function UnitChoice({ units, onChange }: { units: Units; onChange: (u: Units) => void }) {
  return (
    <div className="flex flex-wrap gap-x-8 gap-y-3">
      <Labelled name="Lengths">
        <Pick
          label="Lengths"
          value={units.length ?? "cm"}
          options={[
            { id: "cm", name: "cm" },
            { id: "in", name: "inches" },
          ]}
          onChange={(length) => onChange({ ...units, length })}
        />
      </Labelled>
      <Labelled name="Weights">
        <Pick
          label="Weights"
          value={units.mass ?? "kg"}
          options={[
            { id: "kg", name: "kg" },
            { id: "lb", name: "pounds" },
          ]}
          onChange={(mass) => onChange({ ...units, mass })}
        />
      </Labelled>
      <Labelled name="Distances">
        <Pick
          label="Distances"
          value={units.distance ?? "km"}
          options={[
            { id: "km", name: "km" },
            { id: "mi", name: "miles" },
          ]}
          onChange={(distance) => onChange({ ...units, distance })}
        />
      </Labelled>
    </div>
  );
}

const Labelled = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <div>
    <span className="mb-1 block text-[0.9rem] font-medium">{name}</span>
    {children}
  </div>
);
