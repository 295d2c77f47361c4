import type { Schemas } from "../api/client";
import { Chip } from "../ui/Chip";
import { Heading } from "../ui/Heading";
import { shoeFigures } from "./draft";
import { typedIn, unitOf } from "../ui/units";
import type { Clash, Whose } from "./merge";

const names: Record<string, string> = {
  name: "Name",
  zone: "Time zone",
  birthDate: "Born",
  goalDate: "Goal date",
  stepCm: "Step or stair",
  heightCm: "Height",
  massKg: "Body mass",
  legMm: "Leg length",
  footMm: "Foot length",
  footWidthMm: "Foot width",
  bigToeMm: "Big toe",
  weeklySessions: "Sessions a week",
  weeklyMinutes: "Minutes a week",
  weeklyKm: "Distance a week",
  longestRunKm: "Longest run",
  sittingHours: "Hours sitting",
  standingHours: "Hours standing",
  sessionMinutes: "Longest session",
  goalWords: "The goal in their words",
  injuries: "Injuries before",
  prescribed: "Prescribed supports",
  sprain: "An ankle sprained before",
  notRunning: "No running at present",
  moreRuns: "Second runs of a day",
  runs: "Fixed runs",
  minutes: "Strength minutes",
  dumbbellsKg: "Dumbbells",
  platesMm: "Plates",
  rollersCm: "Rollers",
  strap: "Strap",
  roll: "Towel roll",
  softBall: "Soft ball",
  firmBall: "Firm ball",
  symptoms: "Where it hurts",
  cautionNotes: "What the cautions ask besides",
  touch: "Light touch felt",
  guardian: "A guardian has agreed",
  structural: "Built that way",
  heavy: "Earlier limits",
  baseline: "Usual",
  ...Object.fromEntries(shoeFigures.map(([k, label]) => [k, label])),
};

function nameOf(key: string) {
  const last = key.split(".").at(-1) ?? key;
  const words = names[last] ?? last.replaceAll("_", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** The unit that an entry's name says it is stored in. */
const unitFor = (key: string) => (/Kg$/.test(key) ? "kg" : /Cm$/.test(key) ? "cm" : /(K|\bk)m$/.test(key) ? "km" : "");

/** An entry of any kind in a few words; one with a unit in the reader's. */
function words(x: unknown, regions: Schemas["NamedRegion"][], key = ""): string {
  if (x === undefined || x === null || x === "") return "empty";
  if (typeof x === "boolean") return x ? "yes" : "no";
  const unit = unitFor(key);
  if (unit && (typeof x === "string" || typeof x === "number")) return `${typedIn(unit, String(x))} ${unitOf(unit)}`;
  if (typeof x === "string" || typeof x === "number")
    return regions.find((r) => r.id === x)?.name ?? String(x).replaceAll("_", " ");
  if (Array.isArray(x)) return x.length ? x.map((y) => words(y, regions)).join("; ") : "none";
  return Object.entries(x)
    .filter(([, v]) => v !== "" && v !== undefined && v !== false && !(Array.isArray(v) && v.length === 0))
    .map(([k, v]) => {
      if (v === true) return nameOf(k).toLowerCase();
      if (typeof v === "object" || ["name", "region", "side", "measure"].includes(k)) return words(v, regions);
      return `${nameOf(k).toLowerCase()} ${words(v, regions, k)}`;
    })
    .filter(Boolean)
    .join(", ");
}

/** A list whose entries may stand beside each other; the columns of the days may not. */
const apart = (x: unknown) => Array.isArray(x) && x.length > 0 && x.length !== 7;

/** Both versions of an intake that two coaches edited at once. */
export function Conflict({
  clash,
  regions,
  onChoose,
}: {
  clash: Clash;
  regions: Schemas["NamedRegion"][];
  onChoose: (key: string, whose: Whose) => void;
}) {
  return (
    <section
      aria-label="Two versions"
      className="mt-8 border-l-4 border-brick bg-brick-ground px-4 pt-3 pb-4"
      role="alert"
    >
      <Heading level={2}>Somebody else saved this intake while you were typing</Heading>
      <p>
        Nothing is lost. {clash.rows.length > 0 ? "Where both of you changed an entry, choose which stands." : ""} What
        only they changed was taken over; the rest is yours.
      </p>
      {clash.taken.length > 0 && (
        <ul className="mt-2">
          {clash.taken.map((x) => (
            <li key={x.key}>
              <strong>{nameOf(x.key)}</strong>: {words(x.theirs, regions, x.key)}{" "}
              <span className="text-quiet">taken over</span>
            </li>
          ))}
        </ul>
      )}
      {clash.rows.map((r) => (
        <div key={r.key} role="group" aria-label={nameOf(r.key)} className="mt-3">
          <p className="font-medium">{nameOf(r.key)}</p>
          <div className="mt-1 flex flex-wrap gap-1.5">
            {(["mine", "theirs"] as const).map((whose) => (
              <Chip key={whose} strong on={r.chosen === whose} onChange={() => onChoose(r.key, whose)}>
                {whose === "mine" ? "Yours" : "Theirs"}: {words(r[whose], regions, r.key)}
              </Chip>
            ))}
            {apart(r.mine) && apart(r.theirs) && (
              <Chip strong on={r.chosen === "both"} onChange={() => onChoose(r.key, "both")}>
                Both
              </Chip>
            )}
          </div>
        </div>
      ))}
    </section>
  );
}
