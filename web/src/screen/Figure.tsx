import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import type { Schemas } from "../api/client";
import { useReference } from "../Desk";
import { Button } from "../ui/Button";
import { Dial } from "../ui/drawings";
import { ByPhone } from "./ByPhone";
import { Faults, Wrong, type Entry } from "./entry";
import { fixed, parse } from "../ui/number";
import { shortIn, stored, unitOf } from "../ui/units";

type Heights = Schemas["ScreenStack"][];

/** A typed figure: Enter keeps it. Plates add up to a stack; an inclinometer fills the box by itself. */
export function Figure({ measure, side, mine, save, view }: Entry) {
  const reference = useReference().data;
  const [text, setText] = useState("");
  const [faults, setFaults] = useState<string[]>([]);
  const [wrong, setWrong] = useState("");
  const [phone, setPhone] = useState(""); // the figure a phone gave
  const box = useRef<HTMLInputElement>(null);
  function keep() {
    const value = parse(stored(measure.unit, text));
    if (value === null) {
      setWrong(
        `“${text}” is not a number; enter ${shortIn(measure.unit, measure.min)} to ${shortIn(measure.unit, measure.max)}.`,
      );
      return;
    }
    setWrong("");
    save({ value, faults, ...(phone !== "" && phone === text ? { phone: true } : {}) });
    setPhone("");
    setText("");
    setFaults([]);
    box.current?.focus();
  }
  const keys = (e: KeyboardEvent) => {
    if (e.key === "Enter") {
      e.preventDefault();
      keep();
    }
  };
  const typed = parse(text);
  const lifted = view.toeAngles[Math.round(typed ?? 0)];
  return (
    <>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <input
          ref={box}
          aria-label={`${measure.name}, ${side}, trial ${mine.length + 1}`}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={keys}
          inputMode="decimal"
          placeholder={
            mine.length >= measure.trials ? "extra" : measure.trials > 1 ? `${mine.length + 1}/${measure.trials}` : ""
          }
          className={`fig min-h-12 w-28 rounded-sq border bg-ground px-3 text-2xl ${wrong ? "border-brick" : "border-ink"}`}
        />
        <span className="text-quiet">{unitOf(measure.unit)}</span>
        <Button kind={mine.length < measure.trials ? "main" : "plain"} onClick={keep} className="min-h-12">
          Keep
        </Button>
        {measure.tool === "inclinometer" && reference?.simulated && (
          <Inclinometer side={side} onAngle={(d) => setText(String(d))} />
        )}
        {measure.tool === "inclinometer" && view.current && (
          <ByPhone
            screen={view.current.id}
            measure={measure.id}
            onAngle={(d) => {
              setText(String(d));
              setPhone(String(d));
              box.current?.focus();
            }}
          />
        )}
      </div>
      <Wrong text={wrong} />
      {measure.tool === "stack" && view.bigToeMm === 0 && (
        <p className="mt-1 text-brick">The angle needs the big-toe length; enter it at intake first.</p>
      )}
      {measure.tool === "stack" && view.stacks.length > 0 && (
        <Stack stacks={view.stacks} typed={typed} onChange={(mm) => setText(String(mm))} />
      )}
      {measure.tool === "stack" && !!lifted && <Dial degrees={lifted} label={`${side}: ${lifted}°`} />}
      {measure.unit === "°" && typed !== null && typed > 0 && typed <= 90 && (
        <Dial degrees={typed} label={`${side}: ${typed}°`} />
      )}
      <Faults measure={measure} on={faults} onChange={setFaults} />
    </>
  );
}

/** Picks the plates: one step higher or lower of what can be built, the plates to take named. */
function Stack({ stacks, typed, onChange }: { stacks: Heights; typed: number | null; onChange: (mm: number) => void }) {
  const at = typed ?? 0;
  const up = stacks.find((s) => s.mm > at);
  const down = stacks.findLast((s) => s.mm < at);
  const here = stacks.find((s) => s.mm === typed);
  return (
    <div className="mt-2">
      <div className="flex flex-wrap items-center gap-1.5">
        <span className="text-sm text-quiet">Stack:</span>
        <Button disabled={!up} onClick={() => up && onChange(up.mm)}>
          {up ? `Higher: ${up.mm} mm` : "No higher stack"}
        </Button>
        <Button disabled={!down} onClick={() => down && onChange(down.mm)}>
          {down ? `Lower: ${down.mm} mm` : "Lower"}
        </Button>
      </div>
      <p className="mt-1 min-h-6 text-sm">
        {here ? (
          <>
            Take the plates <strong className="fig">{here.plates.join(" + ")} mm</strong>.
          </>
        ) : typed ? (
          <span className="text-quiet">
            Nearest that can be built:{" "}
            {[down, up]
              .map((s) => s && `${s.mm} mm`)
              .filter(Boolean)
              .join(" or ")}
            .
          </span>
        ) : (
          ""
        )}
      </p>
    </div>
  );
}

/** Takes the reading of an inclinometer once it is held still for a second. */
function Inclinometer({ side, onAngle }: { side: string; onAngle: (degrees: number) => void }) {
  const [angle, setAngle] = useState<Schemas["Angle"] | null>(null);
  const [trouble, setTrouble] = useState("");
  const source = useRef<EventSource | null>(null);
  const tell = useRef(onAngle);
  useEffect(() => {
    tell.current = onAngle;
  });
  useEffect(() => () => source.current?.close(), []);
  function stop() {
    source.current?.close();
    source.current = null;
    setAngle(null);
  }
  function start() {
    setTrouble("");
    const s = new EventSource(`/api/inclinometer?side=${side}`);
    source.current = s;
    s.onmessage = (e) => {
      const a = JSON.parse(e.data as string) as Schemas["Angle"];
      setAngle(a);
      if (a.steady) {
        tell.current(a.keep);
        stop();
      }
    };
    s.onerror = () => {
      stop();
      setTrouble("No inclinometer answers. Type the angle.");
    };
  }
  return (
    <>
      <Button onClick={angle ? stop : start} className="min-h-12">
        {angle ? "Stop the inclinometer" : "Inclinometer (simulated)"}
      </Button>
      <span role="status" className="fig text-xl">
        {angle ? `${fixed(angle.degrees, 1)}° … hold still` : trouble}
      </span>
    </>
  );
}
