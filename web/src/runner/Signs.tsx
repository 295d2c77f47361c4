import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Alert } from "../ui/Alert";
import { Button } from "../ui/Button";
import { Which } from "../ui/Chip";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Failure } from "../ui/Notice";
import { Pick, sides, type Side } from "../ui/Pick";
import { WordFields, type Word } from "./Openings";

type View = Schemas["RunnerView"];
type Sign = Schemas["ReferSign"];

const urgency: Record<string, string> = {
  emergency: "Emergency – call for help",
  same_day: "Seen today",
  stop: "Hard stop – no running until cleared",
  pattern: "A clinician looks at it; heavier work waits",
  small: "Heals by itself; what touches it waits",
};

/** The warning signs as plain yes/no. A yes locks at once and says what to do next. */
export function Signs({
  view,
  reference,
  source = "intake",
  ask: askNow = false,
}: {
  view: View;
  reference: Schemas["Reference"];
  source?: "intake" | "screen";
  ask?: boolean;
}) {
  const open = view.stops.filter((s) => s.open);
  const [asking, setAsking] = useState(askNow || view.checks.length === 0);
  const deed = useDeed(stale.runner(view.id));
  const [yes, setYes] = useState<Sign | null>(null);
  // Nothing is answered before it was asked: each “no” is said.
  const [no, setNo] = useState<string[]>([]);
  const left = view.asked.filter((s) => !no.includes(s.id) && !open.some((o) => o.sign === s.id)).length;
  const keep = () =>
    deed.run(async (id) => {
      await ask(
        api.PUT("/api/runners/{runner}/checks/{check}", {
          params: { path: { runner: view.id, check: id({ no, source }) } },
          body: { denied: no, source },
        }),
      );
      setAsking(false);
    });
  const lastAsked = view.checks[0];
  return (
    <section aria-label="Warning signs" className="mb-4">
      {open.map((s) => (
        <Stop key={s.id} stop={s} view={view} regions={reference.regions} />
      ))}
      {!asking ? (
        <p className="flex flex-wrap items-center gap-4">
          <Button
            onClick={() => {
              setNo([]);
              setAsking(true);
            }}
          >
            Ask the warning signs
          </Button>
          {lastAsked && (
            <span className="text-quiet">
              Last asked {day(lastAsked.on)}
              {lastAsked.by ? ` by ${lastAsked.by}` : ", answered on the phone"}.
            </span>
          )}
          {view.stops.length > 0 && (
            <Link
              to="/runners/$runner/referral"
              params={{ runner: view.id }}
              className="inline-flex min-h-11 items-center underline underline-offset-4"
            >
              Referral note
            </Link>
          )}
        </p>
      ) : (
        <div className="border border-line bg-panel px-4 py-3">
          <div className="flex flex-wrap items-center justify-between gap-4">
            <h2 className="text-lg">
              Warning signs{" "}
              <span className="font-sans text-base font-normal text-quiet">
                {left ? `${left} to ask` : "all asked"}
              </span>
            </h2>
            <span className="flex gap-2">
              {left > 0 && (
                <Button onClick={() => setNo(view.asked.map((s) => s.id).filter((s) => s !== yes?.id))}>
                  No to the rest
                </Button>
              )}
              {left === 0 && (
                <Button kind="main" onClick={keep} disabled={deed.busy || yes !== null}>
                  Keep the answers
                </Button>
              )}
              {!askNow && (
                <Button kind="quiet" onClick={() => setAsking(false)}>
                  Close
                </Button>
              )}
            </span>
          </div>
          <Failure error={deed.error} />
          <ul>
            {view.asked.map((s) => (
              <li key={s.id} className="border-b border-line py-1">
                <div className="flex items-center justify-between gap-4">
                  <span className="leading-snug">{s.question}</span>
                  <Pick
                    label={s.question}
                    value={
                      yes?.id === s.id || open.some((o) => o.sign === s.id) ? "yes" : no.includes(s.id) ? "no" : ""
                    }
                    options={[
                      { id: "no", name: "No" },
                      { id: "yes", name: "Yes" },
                    ]}
                    onChange={(v) => {
                      if (v === "yes") setYes(open.some((o) => o.sign === s.id) ? null : s);
                      else {
                        setNo([...no, s.id]);
                        if (yes?.id === s.id) setYes(null);
                      }
                    }}
                    nowrap
                    className="shrink-0"
                  />
                </div>
                {yes?.id === s.id && (
                  <Where sign={s} view={view} regions={reference.regions} source={source} done={() => setYes(null)} />
                )}
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}

function Where({
  sign,
  view,
  regions,
  source,
  done,
}: {
  sign: Sign;
  view: View;
  regions: Schemas["NamedRegion"][];
  source: "intake" | "screen";
  done: () => void;
}) {
  const [region, setRegion] = useState(sign.region);
  const [which, setWhich] = useState<string[]>([]);
  const [side, setSide] = useState<Side | "">(sign.region === "whole_person" ? "both" : "");
  const deed = useDeed(stale.runner(view.id));
  const record = () =>
    deed.run(async (id) => {
      const body = { sign: sign.id, region, side: side || "both", which, source };
      await ask(
        api.PUT("/api/runners/{runner}/stops/{stop}", { params: { path: { runner: view.id, stop: id(body) } }, body }),
      );
      done();
    });
  return (
    <Alert
      title={
        <>
          <span aria-hidden>⬣ </span>
          {urgency[sign.class]}
        </>
      }
      onClose={done}
    >
      <p className="mt-1">{sign.question}</p>
      <p className="mt-1">{sign.do}</p>
      <div className="mt-3 flex flex-wrap items-end gap-4">
        {sign.which.length > 0 && (
          <fieldset className="w-full">
            <legend className="font-medium">Which?</legend>
            <Which of={sign.which} on={which} onChange={setWhich} />
          </fieldset>
        )}
        {!sign.region && sign.which.length === 0 && (
          <Choice
            label="Where"
            value={region}
            options={[{ id: "", name: "choose" }, ...regions.filter((r) => r.id !== "whole_person")]}
            onChange={setRegion}
          />
        )}
        {sign.region !== "whole_person" && <Pick label="Side" value={side} options={sides} onChange={setSide} />}
        <Button
          kind="stop"
          onClick={record}
          disabled={!side || deed.busy || (sign.which.length > 0 ? which.length === 0 : !region)}
        >
          Record and lock
        </Button>
        <Button kind="quiet" onClick={done}>
          Not so
        </Button>
      </div>
      <Failure error={deed.error} />
    </Alert>
  );
}

type Kind = Schemas["ClearanceInBody"]["kind"];
const ways: readonly { id: Kind; name: string }[] = [
  { id: "clinician", name: "cleared by a clinician" },
  { id: "reviewed", name: "entered by mistake, nobody felt it" },
  { id: "healed", name: "healed, as the runner says" },
];

function Stop({ stop, view, regions }: { stop: Schemas["StopView"]; view: View; regions: Schemas["NamedRegion"][] }) {
  const [clearing, setClearing] = useState(false);
  const [kind, setKind] = useState<Kind>("clinician");
  const [word, setWord] = useState<Word>({ who: "", on: view.today, words: "", opens: {} });
  const deed = useDeed(stale.runner(view.id));
  const place =
    stop.region === "whole_person"
      ? ""
      : `${stop.side} ${regions.find((r) => r.id === stop.region)?.name ?? stop.region}, `;
  return (
    <div role="alert" className="mb-3 border-2 border-brick bg-brick-ground p-4">
      <p className="text-lg font-semibold text-brick">
        <span aria-hidden>⬣ </span>
        {stop.what.class === "small" || stop.what.class === "pattern" ? "Open" : "Locked"}: {stop.what.question}
      </p>
      <p>
        {place}
        recorded {day(stop.on)} ({stop.source}).{" "}
        {stop.what.which
          .filter((w) => stop.which.includes(w.id))
          .map((w) => w.name)
          .join("; ")}{" "}
        <strong>{stop.what.do}</strong>
      </p>
      {!clearing ? (
        <Button kind="stop" className="mt-3" onClick={() => setClearing(true)}>
          Record a clearance
        </Button>
      ) : (
        <div className="mt-3 grid gap-3 md:grid-cols-2">
          <Choice
            label="How"
            value={kind}
            options={stop.what.class === "small" ? ways : ways.slice(0, 2)}
            onChange={setKind}
          />
          <WordFields value={word} onChange={setWord} errors={deed.fields} opening={kind === "clinician"} />
          <div className="flex gap-3">
            <Button
              kind="main"
              disabled={deed.busy}
              onClick={() =>
                deed.run(async (id) => {
                  await ask(
                    api.PUT("/api/runners/{runner}/stops/{stop}/clearances/{clearance}", {
                      params: { path: { runner: view.id, stop: stop.id, clearance: id({ kind, word }) } },
                      body: {
                        kind,
                        who: word.who,
                        on: word.on,
                        limits: word.words,
                        ...(kind === "clinician" ? { opens: word.opens } : {}),
                      },
                    }),
                  );
                })
              }
            >
              Clear it
            </Button>
            <Button kind="quiet" onClick={() => setClearing(false)}>
              Not yet
            </Button>
          </div>
          <Failure error={deed.error} />
        </div>
      )}
    </div>
  );
}
