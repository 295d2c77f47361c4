import { useEffect, useRef, useState } from "react";
import { problemOf } from "../api/problem";
import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Note } from "../ui/Note";
import { fixed } from "../ui/number";
import { ThemeSwitch } from "../ui/theme";
import { awake } from "./player/signals";
import { askTilt, lean, tilt } from "./tilt";

type Paired = Schemas["Instrument"];

async function send<T>(path: string, body: unknown, token = ""): Promise<T> {
  const a = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": "application/json", ...(token ? { Authorization: "Bearer " + token } : {}) },
    body: JSON.stringify(body),
  });
  if (!a.ok) throw problemOf(a.status, await a.json().catch(() => null));
  return (a.status === 204 ? null : await a.json().catch(() => null)) as T;
}

/** A phone as the coach's inclinometer. It sends angles and shows nothing of anybody. */
export function Angle() {
  const [paired, setPaired] = useState<Paired | null>(null);
  const [code, setCode] = useState("");
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  async function pair() {
    setBusy(true);
    setWrong("");
    const why = await askTilt();
    if (why) setWrong(why);
    else
      try {
        setPaired(await send<Paired>("/api/phone/angle/codes", { code }));
        setCode("");
      } catch (e) {
        setWrong(e instanceof Error ? e.message : "No signal here: the angle needs it. Use the inclinometer.");
      }
    setBusy(false);
  }
  return (
    <main className="mx-auto flex min-h-screen max-w-md flex-col px-4 py-5 text-[1.05rem]">
      <div className="flex items-center justify-between">
        <h1 className="text-3xl">Phone as inclinometer</h1>
        <ThemeSwitch />
      </div>
      <div className="ticks mt-2 mb-4" aria-hidden />
      {wrong && (
        <Note role="alert" kind="caution" className="mb-3 text-lg">
          {wrong}
        </Note>
      )}
      {paired ? (
        <Sending
          paired={paired}
          over={(why) => {
            setPaired(null);
            setWrong(why);
          }}
        />
      ) : (
        <form
          className="mt-auto space-y-3"
          onSubmit={(e) => {
            e.preventDefault();
            void pair();
          }}
        >
          <p className="text-lg">
            This phone sends its tilt to the desk whose code you type, and nothing else. It shows nothing of the runner.
          </p>
          <Field
            label="Code from the desk"
            inputMode="numeric"
            autoComplete="off"
            className="[&_input]:min-h-16 [&_input]:text-4xl [&_input]:tracking-widest"
            value={code}
            onChange={(e) => setCode(e.target.value)}
          />
          <Button type="submit" kind="main" size="big" className="w-full" disabled={busy || !code.trim()}>
            Use this phone
          </Button>
        </form>
      )}
    </main>
  );
}

const everyMs = 100; // ten readings a second
const atOnce = 3;

function Sending({ paired, over }: { paired: Paired; over: (why: string) => void }) {
  const [shown, setShown] = useState<number | null>(null);
  const zero = useRef(0);
  const end = useRef(over);
  useEffect(() => {
    end.current = over;
  });
  useEffect(awake, []);
  useEffect(() => {
    let beta: number | null = null;
    let waits: number[] = [];
    let going = false;
    const from = Date.now();
    const stop = tilt((b) => (beta = b));
    const timer = setInterval(() => {
      if (beta === null) {
        if (Date.now() - from > 3000)
          end.current("This phone does not tell a page how it is tilted. Nothing was sent; use the inclinometer.");
        return;
      }
      const d = Math.round(10 * (lean(beta) - zero.current)) / 10;
      setShown(d);
      waits = [...waits, d].slice(-50);
      if (going || waits.length < atOnce) return;
      const now = waits;
      waits = [];
      going = true;
      send("/api/phone/angle/readings", { degrees: now }, paired.token)
        .catch((e: unknown) => {
          if (e instanceof Error && "status" in e && e.status === 401) end.current(e.message);
        })
        .finally(() => (going = false));
    }, everyMs);
    return () => {
      clearInterval(timer);
      stop();
    };
  }, [paired]);
  return (
    <div className="flex flex-1 flex-col">
      <p className="text-lg">{paired.where}.</p>
      <p role="status" className="fig my-auto text-center text-8xl leading-none font-semibold">
        {shown === null ? "…" : `${fixed(shown, 1)}°`}
      </p>
      <p className="text-quiet">
        To set zero, hold it against a door frame, in the way you will hold it on the shin. The desk takes the reading.
      </p>
      <div className="mt-3 grid grid-cols-2 gap-2">
        <Button
          size="big"
          className="px-2!"
          onClick={() => {
            zero.current = Math.round(10 * ((shown ?? 0) + zero.current)) / 10;
          }}
        >
          Set zero
        </Button>
        <Button size="big" className="px-2!" onClick={() => over("Ended. The desk can make another code.")}>
          Stop
        </Button>
      </div>
    </div>
  );
}
