import type { Schemas } from "../api/client";
import { Verdict } from "../ui/basics";
import { fig } from "../ui/drawings";
import { Why } from "../ui/reason";

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
          <p className="text-quiet">
            {l.findings.map((f) => (
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
        </li>
      ))}
    </ol>
  );
}
