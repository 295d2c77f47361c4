import { useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { parse } from "../ui/number";
import { Pick, sides, type Side } from "../ui/Pick";
import { stages, surfaces } from "./stages";

export type Go = Omit<Schemas["BareBody"], "on">;
const skins = [
  { id: "fine", name: "fine" },
  { id: "red", name: "red" },
  { id: "broken", name: "broken" },
] as const;
const bones = [{ id: "no", name: "no" }, ...sides] as const;
const numbers = Array.from({ length: 11 }, (_, n) => ({ id: String(n), name: String(n) }));

/** A go on bare feet as it was done: how long, where, what hurt, how the skin is. Only what was planned is filled in; pain, skin and the
 * bone are never taken for granted. */
export function GoForm({
  planned,
  regions,
  fresh,
  keep,
  busy,
  wide,
}: {
  planned: { stage: number; minutes: number; contacts: number; part: string };
  regions: readonly { id: string; name: string }[];
  fresh: Schemas["BarefootNew"][]; // grounds, in the wet and in the cold, they have not been on
  keep: (go: Go) => void;
  busy?: boolean;
  wide?: boolean;
}) {
  const opening = Math.max(0, planned.stage);
  const [stage, setStage] = useState(String(opening));
  const [amount, setAmount] = useState(String(planned.contacts || planned.minutes || ""));
  const [whole, setWhole] = useState(planned.part === "all");
  const [surface, setSurface] = useState("");
  const [wet, setWet] = useState(false);
  const [cold, setCold] = useState(false);
  const [pain, setPain] = useState("");
  const [region, setRegion] = useState("");
  const [side, setSide] = useState<Side | "">("");
  const [skin, setSkin] = useState<(typeof skins)[number]["id"] | "">("");
  const [skinSide, setSkinSide] = useState<Side | "">("");
  const [bone, setBone] = useState<(typeof bones)[number]["id"] | "">("");
  const [wrong, setWrong] = useState("");
  const at = Number(stage);
  const hurts = Number(pain) > 0;
  const first = [surface, wet && `${surface}, wet`, cold && `${surface}, cold`].flatMap(
    (g) => fresh.find((n) => n.ground === g) ?? [],
  )[0];
  const submit = () => {
    const n = parse(amount);
    if (at !== 2 && (n === null || n <= 0))
      return setWrong(at === 3 ? "Contacts: enter how many." : "Minutes: enter how many.");
    if (!pain) return setWrong("Say what hurt, 0 for nothing.");
    if (hurts && (!region || !side)) return setWrong("Say where it hurt, and on which side.");
    if (!skin) return setWrong("Look at the soles: fine, red or broken?");
    if (skin === "broken" && !skinSide) return setWrong("Say which foot's skin is broken.");
    if (!bone) return setWrong("Press along the top of the foot with one finger: does a bone hurt?");
    setWrong("");
    keep({
      stage: at,
      ...(at === 3 ? { contacts: Math.round(n ?? 0) } : at === 2 ? { whole } : { minutes: n ?? 0 }),
      ...(surface ? { surface: surface as NonNullable<Go["surface"]> } : {}),
      wet,
      cold,
      pain: pain as NonNullable<Go["pain"]>,
      ...(hurts ? { region: region, side: side } : {}),
      skin,
      ...(skin === "broken" && skinSide ? { skinSide } : {}),
      bone,
    });
  };
  return (
    <form
      aria-label="A go on bare feet"
      className={wide ? "grid items-end gap-3 sm:grid-cols-2 xl:grid-cols-3" : "space-y-3"}
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      <Choice
        label="What it was"
        value={stage}
        options={stages.map((name, i) => ({ id: String(i), name }))}
        onChange={setStage}
      />
      {at === 2 ? (
        <Check checked={whole} onChange={setWhole}>
          the whole session, not its first half
        </Check>
      ) : (
        <Field label={at === 3 ? "Contacts" : "Minutes"} inputMode="numeric" value={amount} onText={setAmount} />
      )}
      <Choice<string>
        label="Ground"
        value={surface}
        options={[{ id: "", name: "not said" }, ...surfaces.map((s) => ({ id: s, name: s }))]}
        onChange={setSurface}
      />
      {first && (
        <p className="text-sm text-ochre">
          The first time on {first.ground}: half is enough{first.half && `, ${first.half}`}.
        </p>
      )}
      <div className="flex gap-4">
        <Check checked={wet} onChange={setWet}>
          wet
        </Check>
        <Check checked={cold} onChange={setCold}>
          cold
        </Check>
      </div>
      <div className={wide ? "sm:col-span-2 xl:col-span-3" : ""}>
        <p className="mb-1 text-[0.9rem] font-medium">Pain while doing it, of 10</p>
        <Pick label="Pain while doing it" value={pain} options={numbers} onChange={setPain} />
      </div>
      {hurts && (
        <>
          <Choice
            label="Where"
            value={region}
            options={[{ id: "", name: "choose" }, ...regions.filter((r) => r.id !== "whole_person")]}
            onChange={setRegion}
          />
          <Pick label="Side" value={side} options={sides} onChange={setSide} />
        </>
      )}
      <div>
        <p className="mb-1 text-[0.9rem] font-medium">The skin of the soles</p>
        <Pick label="The skin of the soles" value={skin} options={skins} onChange={setSkin} />
      </div>
      {skin === "broken" && <Pick label="Which foot's skin" value={skinSide} options={sides} onChange={setSkinSide} />}
      <div>
        <p className="mb-1 text-[0.9rem] font-medium">A bone on top of the foot that hurts, to one finger</p>
        <Pick label="A bone on top of the foot" value={bone} options={bones} onChange={setBone} />
      </div>
      {wrong && (
        <p role="alert" className="text-brick">
          {wrong}
        </p>
      )}
      <Button kind="main" type="submit" disabled={busy} className={wide ? "justify-self-start" : "w-full"}>
        Keep it
      </Button>
    </form>
  );
}
