import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { api, ask, type Schemas } from "../api/client";
import { useRunnerId } from "../runner/Runner";
import { Button, day, Empty, Failure, Heading, Loading, Verdict } from "../ui/basics";
import { Bars, fig } from "../ui/drawings";
import { Why } from "../ui/reason";

const railNames: Record<string, string> = {
  ankle_bend: "Ankle bend",
  big_toe: "Big-toe range and control",
  calf_straight: "Calf, straight knee",
};

/** What limits this runner most, how sure we are, and what to retest before acting. */
export function Read() {
  const id = useRunnerId();
  const go = useNavigate();
  const q = useQuery({
    queryKey: ["read", id],
    queryFn: () => ask(api.GET("/api/runners/{runner}/read", { params: { path: { runner: id } } })),
  });
  if (q.isPending) return <Loading what="the findings" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const r = q.data;
  const limiting = r.limiters.filter((l) => l.score > 0 || l.verdict !== "clear");
  const clear = r.limiters.filter((l) => l.score === 0 && l.verdict === "clear");
  return (
    <>
      <Heading
        aside={
          <Button kind="main" onClick={() => go({ to: "/runners/$runner/build", params: { runner: id } })}>
            Build the programme
          </Button>
        }
      >
        Read
      </Heading>
      <p className="mb-4 text-quiet">
        {r.on ? `From the screen of ${day(r.on)}. ` : ""}Findings of a coach's screen, not a diagnosis.
      </p>
      {r.cautions.map((c) => (
        <p key={c} className="mb-2 border-l-4 border-ochre bg-panel px-4 py-2">
          {c}
        </p>
      ))}
      {r.findings.length === 0 && <Empty>Nothing measured yet. Start with the screen.</Empty>}
      <ol className="space-y-4">
        {limiting.map((l, i) => (
          <li key={l.id} className="border border-line bg-panel p-4">
            <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
              <span className="fig text-3xl text-quiet">{i + 1}</span>
              <h2 className="text-2xl">{l.name}</h2>
              {l.id !== "symptoms" && <Verdict v={l.verdict} big />}
              {l.side !== "both" && <span className="text-quiet">{l.side} more</span>}
              <span className="ml-auto">
                <Why reason={l.reason} title={`${l.name}: rank`}>
                  <span className="fig">score {l.score.toFixed(2)}</span>
                </Why>
              </span>
            </div>
            <p className="mt-1 max-w-3xl">{l.gait}</p>
            {l.rails.length > 0 && (
              <p className="text-quiet">Answered by: {l.rails.map((x) => railNames[x] ?? x).join(", ")}</p>
            )}
            <Evidence fs={l.evidence} />
          </li>
        ))}
      </ol>
      {r.retest.length > 0 && (
        <>
          <Heading level={2}>Retest before acting</Heading>
          <ul>
            {r.retest.map((f) => (
              <li key={f.id + f.side} className="py-1">
                {f.name}
                {f.id.endsWith(".side") ? "" : `, ${f.side}`}:{" "}
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
            <div key={l.id} className="py-2">
              <strong>{l.name}</strong> <Verdict v="clear" />
              <Evidence fs={l.evidence} />
            </div>
          ))}
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

function Evidence({ fs }: { fs: Schemas["ScreenFinding"][] }) {
  const ids = [...new Set(fs.map((f) => f.id))];
  return (
    <div className="mt-2 space-y-2">
      {ids.map((id) => {
        const of = fs.filter((f) => f.id === id);
        const side = id.endsWith(".side");
        return (
          <div key={id} className="grid items-center gap-x-6 md:grid-cols-[15rem_minmax(0,1fr)]">
            <div>
              <p className="text-sm text-quiet">{of[0].name}</p>
              {of.map((f) => (
                <p key={f.side} className="whitespace-nowrap">
                  {!side && <span className="text-quiet">{f.side} </span>}
                  <Why reason={f.reason} title={`${f.name}${side ? "" : ", " + f.side}`}>
                    <span className="fig text-lg font-semibold">{fig(f)}</span>
                  </Why>{" "}
                  <Verdict v={f.verdict} />
                </p>
              ))}
            </div>
            {!side && (
              <Bars
                left={of.find((f) => f.side === "left")}
                right={of.find((f) => f.side === "right")}
                name={of[0].name}
              />
            )}
          </div>
        );
      })}
    </div>
  );
}
