import { useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { newId } from "../api/id";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Toggle } from "../ui/Chip";
import { write } from "../ui/number";
import { amountIn } from "../ui/units";
import { call, problem } from "./outbox";

type View = Schemas["ImportView"];

/** Files of a watch from this phone: read, shown, and added with one tap. They need signal, and are taken back at the desk. */
export function Files({ onDone }: { onDone: () => void }) {
  const [id] = useState(newId);
  const [read, setRead] = useState<{ done: number; of: number } | null>(null);
  const [view, setView] = useState<View | null>(null);
  const [wrong, setWrong] = useState("");
  const [turned, setTurned] = useState<string[]>([]);
  const [added, setAdded] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  const path = `/api/phone/imports/${id}`;
  const ask = async (at: string, init: RequestInit = {}) => {
    const a = await call(at, init).catch(() => {
      throw new Error("No signal. Files wait on your phone; nothing was added.");
    });
    if (!a.ok) throw new Error((await problem(a)).message);
    return a;
  };
  const tell = (deed: Promise<unknown>) =>
    deed.catch((e: unknown) => setWrong(e instanceof Error ? e.message : String(e)));
  const begin = (files: File[]) =>
    tell(
      (async () => {
        setWrong("");
        for (const [n, file] of files.entries()) {
          setRead({ done: n, of: files.length });
          await ask(`${path}/files/${n}?name=${encodeURIComponent(file.name)}`, { method: "PUT", body: file });
        }
        setView((await (await ask(path)).json()) as View);
      })().finally(() => setRead(null)),
    );
  const all = view?.files.flatMap((f) => f.runs) ?? [];
  const take = all.filter((r) => (r.verdict === "new") !== turned.includes(r.key)).map((r) => r.key);
  const confirm = () =>
    tell(
      ask(`${path}/confirm`, { method: "POST", body: JSON.stringify({ take }) }).then(() => {
        setAdded(take.length);
        setView(null);
      }),
    );
  const away = () => {
    if (view) void call(path, { method: "DELETE" }).catch(() => undefined);
    onDone();
  };
  return (
    <section aria-label="Files of a watch" className="mt-6 border border-line bg-panel p-4">
      <h2 className="text-xl">Files of a watch</h2>
      {added > 0 ? (
        <p className="mt-2 font-semibold text-tide">
          ✓ {added} {added === 1 ? "run" : "runs"} added
        </p>
      ) : read ? (
        <p role="status" className="mt-2">
          {read.done} of {read.of} read …
        </p>
      ) : view ? (
        <>
          <ul className="mt-2 space-y-2">
            {view.files.map((f) => (
              <li key={f.n + f.name} className="border-t border-line pt-2">
                <p className="break-all">{f.name}</p>
                {f.refused && <p className="text-brick">⚠ {f.refused}</p>}
                {f.runs.map((r) => (
                  <div key={r.key} className="mt-1">
                    <Toggle
                      on={take.includes(r.key)}
                      onChange={() =>
                        setTurned(turned.includes(r.key) ? turned.filter((k) => k !== r.key) : [...turned, r.key])
                      }
                    >
                      {day(r.run.on)} · {write(r.run.minutes, 0)} min
                      {r.run.km > 0 && ` · ${amountIn("km", r.run.km)}`}
                    </Toggle>
                    {r.why && <p className="text-sm text-ochre">{r.why}</p>}
                  </div>
                ))}
              </li>
            ))}
          </ul>
          <Button kind="main" className="mt-3 w-full" disabled={take.length === 0} onClick={() => void confirm()}>
            Add {take.length} {take.length === 1 ? "run" : "runs"}
          </Button>
        </>
      ) : (
        <>
          <p className="mt-2 text-quiet">FIT, GPX, TCX, CSV or a ZIP of them. Where you ran is not kept.</p>
          <input
            ref={input}
            type="file"
            multiple
            tabIndex={-1}
            aria-label="Files of runs"
            className="sr-only"
            onChange={(e) => void begin([...(e.target.files ?? [])])}
          />
          <Button kind="main" className="mt-3 w-full" onClick={() => input.current?.click()}>
            Choose files
          </Button>
        </>
      )}
      {wrong && (
        <p role="alert" className="mt-2 text-brick">
          {wrong}
        </p>
      )}
      <Button className="mt-3 w-full" onClick={away}>
        {added > 0 ? "Done" : "Leave it"}
      </Button>
    </section>
  );
}
