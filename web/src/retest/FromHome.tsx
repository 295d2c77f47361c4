import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { Verdict } from "../ui/Verdict";
import { Why } from "../ui/reason";

type View = Schemas["SelfCheckView"];

/** What the runner checked at home: told by themselves, compared with itself, beside the coach's measures and never among them. */
export function FromHome({ runner, checks }: { runner: string; checks: readonly View[] }) {
  const [id, setId] = useState("");
  const deed = useDeed(stale.runner(runner));
  const check = checks.find((c) => c.id === id) ?? checks.find((c) => !c.seen) ?? checks[0];
  if (!check) return null;
  const names = [...new Set(check.lines.map((l) => l.name))];
  const see = () =>
    deed.run(() =>
      ask(api.PUT("/api/runners/{runner}/selfchecks/{id}/seen", { params: { path: { runner, id: check.id } } })),
    );
  return (
    <section aria-label="From home" className="mb-8">
      <Heading
        level={2}
        aside={
          !check.seen && (
            <Button kind="main" disabled={deed.busy} onClick={() => void see()}>
              I have seen it
            </Button>
          )
        }
      >
        Checked at home, {day(check.on)}
        {!check.seen && <span className="text-cinder"> · new</span>}
      </Heading>
      <p className="text-quiet">
        Reported by the runner and compared with their own earlier checks. It changes none of your measures.
      </p>
      <Failure error={deed.error} />
      <ul className="mt-2">
        {names.map((name) => (
          <li
            key={name}
            className="grid items-baseline gap-x-4 border-t border-line py-1.5 md:grid-cols-[12rem_minmax(0,1fr)_minmax(0,1fr)]"
          >
            <span className="font-medium">{name}</span>
            {check.lines
              .filter((l) => l.name === name)
              .map((l) => (
                <span key={l.side}>
                  {l.side !== "both" && <span className="text-quiet">{l.side} </span>}
                  <One line={l} />
                </span>
              ))}
          </li>
        ))}
      </ul>
      {checks.length > 1 && (
        <div className="mt-3 flex flex-wrap gap-1.5" role="group" aria-label="Checks">
          {checks.map((c) => (
            <Button key={c.id} size="tight" aria-pressed={c.id === check.id} onClick={() => setId(c.id)}>
              {day(c.on)}
              {!c.seen && " · new"}
            </Button>
          ))}
        </div>
      )}
    </section>
  );
}

function One({ line: l }: { line: View["lines"][number] }) {
  if (l.skipped) return <span className="text-quiet">not done: {l.skipped}</span>;
  return (
    <>
      {l.then && (
        <>
          <span className="text-quiet">{l.then}</span>
          <span aria-label="to"> → </span>
        </>
      )}
      <Why reason={l.reason} title={`${l.name}, from home`}>
        <span className={`font-semibold ${l.sore ? "text-brick" : ""}`}>{l.shown}</span>
      </Why>
      {l.hand && " · held on"} {l.change && <Verdict v={l.change} />}
    </>
  );
}
