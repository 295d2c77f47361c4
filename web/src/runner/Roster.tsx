import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask } from "../api/client";
import { newId } from "../api/id";
import { rooms, stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Mini } from "../ui/Mini";
import { Empty, Failure, Loading } from "../ui/Notice";

export function Roster() {
  const [q, setQ] = useState("");
  const [archived, setArchived] = useState(false);
  const list = useQuery(rooms.roster(q, archived));
  const deed = useDeed(stale.runner());
  const go = useNavigate();
  const away = (runner: string, to: boolean) =>
    deed.run(async () => {
      await ask(api.POST("/api/runners/{runner}/archive", { params: { path: { runner } }, body: { archived: to } }));
    });
  return (
    <div className="px-6 py-6">
      <Heading
        aside={
          <Button
            kind="main"
            onClick={() =>
              go({ to: "/runners/$runner/intake", params: { runner: newId() }, search: { new: true } as never })
            }
          >
            Add a runner
          </Button>
        }
      >
        Runners
      </Heading>
      <div className="mb-4 flex flex-wrap items-end gap-6">
        <Field label="Search by name" value={q} onChange={(e) => setQ(e.target.value)} className="w-72" />
        <Check checked={archived} onChange={setArchived}>
          Show the archive
        </Check>
      </div>
      <Failure error={list.error ?? deed.error} again={() => list.refetch()} />
      {list.isPending && <Loading what="the roster" />}
      {list.data?.length === 0 && (
        <Empty>
          {q
            ? `Nobody here is called “${q}”.`
            : archived
              ? "The archive is empty."
              : "No runners yet. Add the first one."}
        </Empty>
      )}
      {!!list.data?.length && (
        <table className="w-full border-t border-line text-left">
          <thead className="text-sm text-quiet">
            <tr>
              <th className="py-2 font-medium">Name</th>
              <th className="font-medium">Age</th>
              <th className="font-medium">Phase</th>
              <th className="font-medium">Last screen</th>
              <th className="font-medium">Twelve weeks: run, first steps, moves</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {list.data.map((r) => (
              <tr key={r.id} className="border-t border-line bg-panel">
                <td className="px-2 py-1">
                  <Link
                    to="/runners/$runner/adjust"
                    params={{ runner: r.id }}
                    className="flex min-h-11 items-center font-semibold underline decoration-line underline-offset-4"
                  >
                    {r.name}
                  </Link>
                </td>
                <td className="fig">{r.pending || r.broken ? "–" : r.age}</td>
                <td>
                  {r.pending && <span className="text-quiet">being worked out …</span>}
                  {r.broken && <span className="font-semibold text-brick">⚠ could not be worked out</span>}
                  {!r.pending && !r.broken && (r.phase || "no programme")}
                  {r.locked && <span className="ml-2 font-semibold text-brick">⬣ warning sign</span>}
                </td>
                <td className="fig">{r.screened ? day(r.screened) : "–"}</td>
                <td className="py-1">
                  <Mini weeks={r.strip} />
                </td>
                <td className="text-right">
                  <Button kind="quiet" onClick={() => away(r.id, !r.archived)}>
                    {r.archived ? "Bring back" : "Archive"}
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
