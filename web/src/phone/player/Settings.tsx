import { Toggle } from "../../ui/Chip";
import { wake, type Signals } from "./signals";

const words = { sound: "Tones", buzz: "Vibration", voice: "Spoken counts", still: "No motion" } as const;

/** How the player makes itself known; kept on this phone. */
export function Settings({ by, set }: { by: Signals; set: (s: Signals) => void }) {
  return (
    <div role="group" aria-label="Signals" className="flex flex-wrap gap-1.5 border-b border-line pb-2">
      {(Object.keys(words) as (keyof Signals)[]).map((name) => (
        <Toggle
          key={name}
          on={by[name]}
          onChange={(on) => {
            wake();
            set({ ...by, [name]: on });
          }}
        >
          {words[name]}
        </Toggle>
      ))}
    </div>
  );
}
