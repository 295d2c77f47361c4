import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { newId } from "../api/id";
import { Problem, problemOf } from "../api/problem";
import { rooms, stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Toggle } from "../ui/Chip";
import { Columns } from "./Columns";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Drop } from "../ui/Drop";
import { Heading } from "../ui/Heading";
import { Note } from "../ui/Note";
import { Failure, Loading } from "../ui/Notice";
import { write } from "../ui/number";
import { amountIn } from "../ui/units";

/** How many files are on their way at once. */
const atOnce = 3;

/** Sends one file as it is. */
async function send(
  runner: string,
  id: string,
  n: number,
  file: File,
  stop: AbortSignal,
  columns?: Record<string, string>,
) {
  const asked = new URLSearchParams({ name: file.name, ...(columns ? { columns: JSON.stringify(columns) } : {}) });
  const path = `/api/runners/${runner}/imports/${id}/files/${n}?${asked}`;
  const a = await fetch(path, { method: "PUT", body: file, signal: stop }).catch((e: unknown) => {
    if (stop.aborted) throw e;
    throw new Problem(0, "The server cannot be reached. Nothing was added; try again when it is back.");
  });
  if (!a.ok) throw problemOf(a.status, await a.json().catch(() => null));
}

/** Files of runs: dropped or chosen, read one by one, shown before anything is added, and undone as a whole. */
export function Import({ runner, view }: { runner: string; view: Schemas["LoadView"] }) {
  const [id, setId] = useState("");
  const [read, setRead] = useState<{ done: number; of: number } | null>(null);
  const [unsent, setUnsent] = useState<string[]>([]);
  const [sent, setSent] = useState<File[]>([]);
  const input = useRef<HTMLInputElement>(null);
  const [error, setError] = useState<unknown>(null);
  const stop = useRef<AbortController | null>(null);
  const queries = useQueryClient();
  const watch = useQuery(rooms.watch());
  const fromWatch = async () => {
    try {
      const files = await ask(api.GET("/api/watch/outings"));
      await begin(files.map((f) => new File([Uint8Array.from(atob(f.data), (c) => c.charCodeAt(0))], f.name)));
    } catch (e) {
      setError(e);
    }
  };
  const undo = useDeed(stale.runner(runner));
  const begin = async (files: File[]) => {
    if (!files.length || read) return;
    const mine = newId();
    const going = new AbortController();
    stop.current = going;
    setError(null);
    setUnsent([]);
    setId("");
    setSent(files);
    setRead({ done: 0, of: files.length });
    let next = 0;
    const worker = async () => {
      for (let n = next++; n < files.length; n = next++) {
        const file = files[n];
        try {
          if (file) await send(runner, mine, n, file, going.signal);
        } catch (e) {
          // What the server refuses of one file leaves the others alone; without a server, or signed in, nothing goes on.
          if (!(e instanceof Problem) || e.status < 402 || e.status > 499) throw e;
          setUnsent((u) => [...u, `${file?.name}: ${e.message}`]);
        }
        setRead((r) => r && { ...r, done: r.done + 1 });
      }
    };
    try {
      await Promise.all(Array.from({ length: atOnce }, worker));
      setId(mine);
    } catch (e) {
      going.abort();
      if (e instanceof Problem) setError(e);
      void api.DELETE("/api/runners/{runner}/imports/{import}", { params: { path: { runner, import: mine } } });
    }
    setRead(null);
  };
  const end = () => {
    queries.removeQueries({ queryKey: ["runner", runner, "import", id] });
    setId("");
  };
  return (
    <section aria-label="Files of runs">
      <Heading level={2}>From files</Heading>
      {id ? (
        <Preview
          runner={runner}
          id={id}
          end={end}
          again={async (n, columns) => {
            const file = sent[n];
            if (file) await send(runner, id, n, file, new AbortController().signal, columns);
          }}
        />
      ) : read ? (
        <div role="status" className="border border-line bg-panel p-4">
          <p className="text-lg">
            <span className="fig font-semibold">
              {read.done} of {read.of}
            </span>{" "}
            read
          </p>
          <progress className="my-2 w-full" value={read.done} max={read.of} aria-label="Files read" />
          <Button onClick={() => stop.current?.abort()}>Cancel</Button>
        </div>
      ) : (
        <Drop onFiles={(files) => void begin(files)} className="flex flex-wrap items-center gap-4 py-3">
          <input
            ref={input}
            type="file"
            multiple
            className="sr-only"
            tabIndex={-1}
            aria-label="Files of runs"
            onChange={(e) => {
              void begin([...(e.target.files ?? [])]);
              e.target.value = "";
            }}
          />
          <Button onClick={() => input.current?.click()}>Choose files</Button>
          {watch.data?.there && <Button onClick={() => void fromWatch()}>Simulated watch</Button>}
          <p className="min-w-0 flex-1 basis-80">
            Or drop files here: FIT, GPX, TCX or CSV, packed with gzip or many in a ZIP.{" "}
            <span className="text-quiet">
              Nothing is added before you have seen it. Where they ran is used for distance and climb, and not kept.
            </span>
          </p>
        </Drop>
      )}
      {unsent.map((u) => (
        <Note key={u} role="alert" kind="refused" className="mt-2">
          <strong>Not read. </strong>
          {u}
        </Note>
      ))}
      <Failure error={error} />
      {view.imports.length > 0 && (
        <ul className="mt-3" aria-label="Imports">
          {view.imports.map((i) => (
            <li key={i.id} className="flex flex-wrap items-center justify-between gap-2 border-t border-line py-2">
              <span className={i.state === "undone" ? "text-quiet line-through" : ""}>
                {day(i.at.slice(0, 10))}: {i.runs} {i.runs === 1 ? "run" : "runs"}
              </span>
              {i.state === "undone" ? (
                <span className="text-sm text-quiet">undone</span>
              ) : (
                <Button
                  kind="quiet"
                  disabled={undo.busy}
                  onClick={() =>
                    undo.run(() =>
                      ask(
                        api.POST("/api/runners/{runner}/imports/{import}/undo", {
                          params: { path: { runner, import: i.id } },
                        }),
                      ),
                    )
                  }
                >
                  Undo this import
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      <Failure error={undo.error} />
    </section>
  );
}

/** What an import would add, file by file; each run may be taken or left. */
function Preview({
  runner,
  id,
  end,
  again,
}: {
  runner: string;
  id: string;
  end: () => void;
  again: (n: number, columns: Record<string, string>) => Promise<void>;
}) {
  const q = useQuery(rooms.preview(runner, id));
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  const deed = useDeed(stale.runner(runner));
  if (q.isPending) return <Loading what="the files" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const v = q.data;
  const all = v.files.flatMap((f) => f.runs);
  const takes = (r: (typeof all)[number]) => (r.verdict === "new") !== turned.has(r.key);
  const take = all.filter(takes).map((r) => r.key);
  const path = { runner, import: id };
  const turn = (key: string) => {
    const next = new Set(turned);
    if (!next.delete(key)) next.add(key);
    setTurned(next);
  };
  return (
    <div className="border border-line bg-panel p-4">
      <p className="text-lg">
        <strong>{v.new} new</strong>
        {v.there > 0 && `, ${v.there} there already`}
        {v.broken > 0 && `, ${v.broken} ${v.broken === 1 ? "file" : "files"} not read`}
      </p>
      <div className="my-3 flex flex-wrap gap-3">
        <Button
          kind="main"
          disabled={deed.busy || take.length === 0}
          onClick={() =>
            deed.run(async () => {
              await ask(
                api.POST("/api/runners/{runner}/imports/{import}/confirm", { params: { path }, body: { take } }),
              );
              end();
            })
          }
        >
          Add {take.length} {take.length === 1 ? "run" : "runs"}
        </Button>
        <Button
          disabled={deed.busy}
          onClick={() =>
            deed.run(async () => {
              await ask(api.DELETE("/api/runners/{runner}/imports/{import}", { params: { path } }));
              end();
            })
          }
        >
          Put it away
        </Button>
      </div>
      <Failure error={deed.error} />
      <ul aria-label="What was read" className="max-h-[32rem] space-y-2 overflow-y-auto">
        {v.files.map((f, i) => (
          <li key={i} className="border-t border-line pt-2">
            <p className="font-medium break-all">{f.name}</p>
            {f.refused && <p className="text-brick">⚠ {f.refused}</p>}
            {f.table && (
              <Columns
                key={JSON.stringify(f.table)}
                table={f.table}
                name={f.name}
                again={(c) => again(f.n, c).then(() => q.refetch())}
              />
            )}
            {f.left.map((l) => (
              <Note key={l} kind="caution within" className="text-sm">
                left out: {l}
              </Note>
            ))}
            {f.runs.map((r) => (
              <div key={r.key} className="mt-1 flex flex-wrap items-center gap-2">
                <Toggle on={takes(r)} onChange={() => turn(r.key)}>
                  <span className="fig">
                    {day(r.run.on)} · {write(r.run.minutes, 0)} min
                    {r.run.km > 0 && ` · ${amountIn("km", r.run.km)}`}
                  </span>
                </Toggle>
                {r.why && <span className="text-sm text-ochre">{r.why}</span>}
                {r.notes.map((n) => (
                  <span key={n} className="text-sm text-quiet">
                    {n}
                  </span>
                ))}
              </div>
            ))}
          </li>
        ))}
      </ul>
    </div>
  );
}
