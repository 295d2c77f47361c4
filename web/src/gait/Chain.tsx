import type { Schemas } from "../api/client";
import { Verdict } from "../ui/Verdict";
import { fig } from "../ui/drawings";
import { Why } from "../ui/reason";

type Finding = Schemas["ScreenFinding"];

/** Nothing to act on. A strike is shown whatever it is. */
const plain = (f: Finding) => (f.verdict === "clear" || f.verdict === "noted") && !f.measure.startsWith("gait.strike");

function Findings({ of }: { of: Finding[] }) {
  return (
    <p className="text-quiet">
      {of.map((f) => (
        <span key={f.id + f.side + f.context} className="mr-5 inline-block">
          {f.name}
          {f.side !== "both" ? `, ${f.side}` : ""}
          {f.context ? ` (${f.context})` : ""}:{" "}
          <Why reason={f.reason} title={f.name}>
            <span className="text-ink">{fig(f)}</span>
          </Why>{" "}
          <Verdict v={f.verdict} />
        </span>
      ))}
    </p>
  );
}

/** The gait findings down the chain, in the order they are worked on. */
export function Chain({ links }: { links: Schemas["ScreenLink"][] }) {
  return (
    <ol className="border-l-4 border-ink">
      {links.map((l) => (
        <li key={l.id} className={`relative mb-1 border-b border-line py-2 pl-5 ${l.first ? "bg-panel" : ""}`}>
          {l.first && (
            <svg viewBox="0 0 16 20" className="absolute top-3 -left-0.5 h-5" aria-hidden>
              <path d="M0 0v20L16 10z" fill="var(--cinder)" />
            </svg>
          )}
          <p className="flex flex-wrap items-baseline gap-x-4">
            <Why reason={l.reason} title={`${l.name}: place in the chain`}>
              <strong className="text-lg">{l.name}</strong>
            </Why>
            <Verdict v={l.verdict} />
            <span>{l.says}</span>
          </p>
          <Findings of={l.findings.filter((f) => !plain(f))} />
          {l.findings.some(plain) && (
            <details className="text-sm">
              <summary className="min-h-9 cursor-pointer py-1 text-quiet">
                {l.findings.filter(plain).length} clear or only noted
              </summary>
              <Findings of={l.findings.filter(plain)} />
            </details>
          )}
        </li>
      ))}
    </ol>
  );
}
