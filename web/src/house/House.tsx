import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useReference } from "../Desk";
import { api, ask, type Schemas } from "../api/client";
import { Button, Failure, Heading, Loading, useDeed } from "../ui/basics";

/** Every threshold with its default, range and provenance; a change counts from now on. */
export function House() {
  const ref = useReference();
  const key = decodeURIComponent(location.hash.slice(1));
  useEffect(() => {
    document.getElementById(key)?.scrollIntoView({ block: "center" });
  }, [key, ref.data]);
  if (ref.isPending) return <Loading what="the house rules" />;
  if (ref.error) return <Failure error={ref.error} again={() => ref.refetch()} />;
  return (
    <div className="px-6 py-6">
      <Heading aside={<span className="text-quiet">version {ref.data.version}</span>}>House rules</Heading>
      <p className="mb-4 max-w-3xl text-quiet">
        A change counts for every runner of the practice from now on; decisions already taken keep the rules they were
        taken under.
      </p>
      <ul>
        {ref.data.house.map((r) => (
          <Row key={r.key + r.value} rule={r} marked={r.key === key} />
        ))}
      </ul>
    </div>
  );
}

function Row({ rule, marked }: { rule: Schemas["HouseRule"]; marked: boolean }) {
  const [text, setText] = useState(String(rule.value));
  const deed = useDeed();
  const queries = useQueryClient();
  const change = (value: number | null) =>
    deed.run(async () => {
      await ask(api.PUT("/api/house/{key}", { params: { path: { key: rule.key } }, body: { value } }));
      await queries.invalidateQueries();
    });
  return (
    <li
      id={rule.key}
      className={`border-b border-line px-2 py-2 ${marked ? "border-l-4 border-l-cinder bg-panel" : ""}`}
    >
      <div className="grid items-center gap-3 md:grid-cols-[minmax(0,1fr)_auto]">
        <div>
          <p className="font-medium">{rule.name}</p>
          <p className="text-sm text-quiet">
            default <span className="fig">{rule.default}</span> {rule.unit}, {rule.min} to {rule.max} ·{" "}
            {rule.provenance}
            {rule.source ? ` – ${rule.source}` : ""}
          </p>
        </div>
        <div className="flex items-center gap-2">
          <input
            aria-label={rule.name}
            value={text}
            inputMode="decimal"
            onChange={(e) => setText(e.target.value)}
            className="fig min-h-11 w-24 rounded-sq border border-line bg-panel px-2 text-right"
          />
          <span className="w-14 text-sm text-quiet">{rule.unit}</span>
          <Button
            disabled={text === String(rule.value) || deed.busy}
            onClick={() => change(Number(text.replace(",", ".")))}
          >
            Change
          </Button>
          {rule.changed && (
            <Button kind="quiet" onClick={() => change(null)}>
              Back to {rule.default}
            </Button>
          )}
        </div>
      </div>
      <Failure error={deed.error} />
    </li>
  );
}
