import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useReference } from "../Desk";
import { type Schemas } from "../api/client";
import { rooms } from "../api/rooms";
import { Chain } from "../gait/Chain";
import { WhichHeel } from "../runner/Permissions";
import { useRunnerId } from "../runner/Runner";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Heading } from "../ui/Heading";
import { Empty, Failure, Loading } from "../ui/Notice";
import { Verdict } from "../ui/Verdict";
import { Bars, errorOf, fig } from "../ui/drawings";
import { Why } from "../ui/reason";
import { fixed } from "../ui/number";
import { Note } from "../ui/Note";

type Finding = Schemas["ScreenFinding"];

/** What limits this runner most, how sure we are, what it does to the gait, what to leave alone, and
 * what to retest before acting. */
export function Read() {
  const id = useRunnerId();
  const go = useNavigate();
  const ref = useReference();
  const q = useQuery(rooms.read(id));
  if (q.isPending) return <Loading what="the findings" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const r = q.data;
  const limiting = r.limiters.filter((l) => l.score > 0);
  // What is borderline stands under “Retest before acting”.
  const clear = r.limiters.filter((l) => l.score === 0 && l.verdict !== "borderline");
  const measure = (m: string) => ref.data?.measures.find((x) => x.id === m)?.name ?? m;
  return (
    <>
      <Heading
        aside={
          <span className="flex flex-wrap gap-3">
            <Link
              to="/runners/$runner/referral"
              params={{ runner: id }}
              className="inline-flex min-h-11 items-center underline underline-offset-4"
            >
              Referral note
            </Link>
            <Button kind="main" onClick={() => go({ to: "/runners/$runner/build", params: { runner: id } })}>
              Build the programme
            </Button>
          </span>
        }
      >
        Read
      </Heading>
      <p className="mb-4 text-quiet">
        {r.on ? `From the screen of ${day(r.on)}. ` : ""}Findings of a coach's screen, not a diagnosis.
      </p>
      {r.cautions.map((c) => (
        <Note key={c} kind="caution" className="mb-2">
          {c}
        </Note>
      ))}
      <First runner={id} r={r} />
      {r.findings.length === 0 && <Empty>Nothing measured yet. Start with the screen.</Empty>}
      {r.patterns.length > 0 && (
        <section aria-label="Patterns" className="mb-5">
          {r.patterns.map((p) => (
            <div
              key={p.id + p.side}
              className={`mb-2 border-l-4 bg-panel px-4 py-2 ${p.now ? "border-brick" : "border-tide"}`}
            >
              <p>
                <strong>
                  <Why reason={p.reason} title={`${p.name}, ${p.side}`}>
                    {p.name}
                  </Why>
                </strong>
                {p.side !== "both" && <span className="text-quiet">, {p.side}</span>}. {p.says}
              </p>
              {p.refer && <p className={p.now ? "font-semibold text-brick" : ""}>⬣ {p.refer}</p>}
            </div>
          ))}
        </section>
      )}
      <ol className="space-y-4">
        {limiting.map((l, i) => (
          <Limiter key={l.id} l={l} n={i + 1} rails={r.answers[l.id] ?? []} measure={measure} />
        ))}
      </ol>
      {r.chain.length > 0 && (
        <>
          <Heading level={2}>The gait, down the chain</Heading>
          <Chain links={r.chain} />
        </>
      )}
      {r.retest.length > 0 && (
        <>
          <Heading level={2}>Retest before acting</Heading>
          <ul>
            {r.retest.map((f) => (
              <li key={f.id + f.side + f.context} className="py-1">
                {f.name}
                {f.id.endsWith(".side") || f.side === "both" ? "" : `, ${f.side}`}:{" "}
                <Why reason={f.reason} title={f.name}>
                  <span className="fig">{fig(f)}</span>
                </Why>{" "}
                <Verdict v={f.verdict} />
              </li>
            ))}
          </ul>
        </>
      )}
      {clear.length > 0 && (
        <>
          <Heading level={2}>Leave alone</Heading>
          {clear.map((l) => (
            <details key={l.id} className="border-b border-line py-1">
              <summary className="min-h-11 cursor-pointer py-2">
                <strong>{l.name}</strong> <Verdict v={l.verdict} />
              </summary>
              <Evidence fs={l.evidence} />
            </details>
          ))}
        </>
      )}
      {r.shoes.length > 0 && (
        <>
          <Heading level={2}>Shoes</Heading>
          <Shoes shoes={r.shoes} />
        </>
      )}
      {r.missing.length > 0 && r.findings.length > 0 && (
        <>
          <Heading level={2}>Not tested</Heading>
          <p>{r.missing.join(" · ")}</p>
        </>
      )}
    </>
  );
}

/** What is asked first, without a new screen. */
function First({ runner, r }: { runner: string; r: Schemas["Read"] }) {
  if (r.unknown.length + r.heels.length === 0) return null;
  return (
    <section aria-label="To ask first" className="mb-4 border-l-4 border-ochre bg-panel px-4 py-2">
      <h2 className="text-lg text-ochre">To ask first, without a new screen</h2>
      {r.heels.map((leg) => (
        <div key={leg} className="mb-3">
          <WhichHeel runner={runner} leg={leg} listed />
        </div>
      ))}
      <ul className="list-disc pl-5">
        {r.unknown.map((u) => (
          <li key={u.id}>
            <strong>{u.says}.</strong> {u.how}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What limits the runner, its rank, what it does to the gait and what answers it. */
function Limiter({
  l,
  n,
  rails,
  measure,
}: {
  l: Schemas["ScreenLimiter"];
  n: number;
  rails: string[];
  measure: (id: string) => string;
}) {
  return (
    <li className="border border-line bg-panel p-4">
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
        <span className="fig text-3xl text-quiet">{n}</span>
        <h2 className="text-2xl">{l.name}</h2>
        {l.id !== "symptoms" && <Verdict v={l.verdict} big />}
        {l.side !== "both" && <span className="text-quiet">{l.side} more</span>}
        <span className="ml-auto">
          <Why reason={l.reason} title={`${l.name}: rank`}>
            <span className="fig">
              {fixed(l.severity, 2)} × {fixed(l.relevance, 1)} × {fixed(l.confidence, 1)} = score {fixed(l.score, 2)}
            </span>
          </Why>
        </span>
      </div>
      <p className="mt-1 max-w-3xl">{l.gait}</p>
      <p className="text-quiet">
        {l.answer}
        {rails.length > 0 && ` Rails: ${rails.join(", ")}.`}
      </p>
      {l.retest.length > 0 && <p className="text-quiet">Measure again: {l.retest.map(measure).join(", ")}.</p>}
      <Evidence fs={l.evidence} />
    </li>
  );
}

export function Shoes({ shoes }: { shoes: Schemas["ScreenShoeIndex"][] }) {
  return (
    <ul>
      {shoes.map((s) => (
        <li key={s.name} className="py-1">
          <strong>{s.name}</strong>:{" "}
          <Why reason={s.reason} title={`${s.name}: Minimalist Index`}>
            <span className="fig text-lg font-semibold">
              {s.index < 0 ? "index not known" : `Minimalist Index ${Math.round(s.index)} %`}
            </span>
          </Why>
          {s.index >= 0 && (
            <span className="text-quiet">
              , drop <span className="fig">{s.dropMm}</span> mm, heel to forefoot <span className="fig">{s.ratio}</span>
            </span>
          )}
          {s.warnings.map((w) => (
            <span key={w} className="block text-ochre">
              {w}
            </span>
          ))}
        </li>
      ))}
    </ul>
  );
}

function Evidence({ fs }: { fs: Finding[] }) {
  const ids = [...new Set(fs.map((f) => f.id + "|" + f.context))];
  return (
    <div className="mt-2 space-y-2">
      {ids.map((id) => {
        const of = fs.filter((f) => f.id + "|" + f.context === id);
        const [first] = of;
        if (!first) return null;
        const side = first.id.endsWith(".side");
        const drawn = !side && !first.word && first.side !== "both" && first.unit !== "of 10";
        return (
          <div key={id} className={drawn ? "grid items-center gap-x-6 md:grid-cols-[17rem_minmax(0,1fr)]" : ""}>
            <div className={drawn ? "" : "flex flex-wrap items-baseline gap-x-6"}>
              <p className="text-sm text-quiet">
                {first.name}
                {first.context && ` · ${first.context}`}
              </p>
              {of.map((f) => (
                <p key={f.side}>
                  {!side && f.side !== "both" && <span className="text-quiet">{f.side} </span>}
                  <Why reason={f.reason} title={`${f.name}${side ? "" : ", " + f.side}`}>
                    <span className={`text-lg font-semibold ${f.word ? "" : "fig"}`}>{fig(f)}</span>
                  </Why>{" "}
                  <Verdict v={f.verdict} />
                  {f.refer && <strong className="text-brick"> ⬣ refer</strong>}
                  <span className="fig block text-xs text-quiet">{errorOf(f)}</span>
                </p>
              ))}
            </div>
            {drawn && (
              <Bars
                left={of.find((f) => f.side === "left")}
                right={of.find((f) => f.side === "right")}
                name={first.name}
              />
            )}
          </div>
        );
      })}
    </div>
  );
}
