import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useReference } from "../Desk";
import { api, ask, type Schemas } from "../api/client";
import { renew, rooms, stale } from "../api/rooms";
import { useRunner, useRunnerId } from "../runner/Runner";
import { Signs } from "../runner/Signs";
import { usualHow } from "../screen/Context";
import { shortIn } from "../ui/units";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Drop } from "../ui/Drop";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import { Bench } from "./Bench";
import { CadencePlan } from "./Cadence";
import { Chain } from "./Chain";
import { Compare } from "./Compare";
import { amount } from "./Figures";
import { moments } from "./Stills";
import { BadFile, open, type Clip, type Film } from "./film";
import { draft, fresh, marksOf } from "./marks";
import { Note } from "../ui/Note";

type Kept = Schemas["StoreClip"];

/** What was kept of a file, found by its name and length. */
export const keptOf = (room: Schemas["Gait"], f: Film) =>
  room.clips.find((c) => c.shot.name === f.name && c.shot.frames === f.frames);

/** Its marks; a file whose kept marks cannot be read is not opened, or it would be marked anew over them. */
export async function keptOn(queries: QueryClient, runner: string, kept: Kept, f: Film) {
  try {
    return await marksOf(queries, runner, kept.id);
  } catch {
    URL.revokeObjectURL(f.url);
    throw new BadFile(`What was marked on “${f.name}” before could not be read. It is kept; try again.`);
  }
}

/** Where clips of the runner on the belt are read: open one, mark it, keep its numbers; the cadence and
 * its steps; the gait down its chain. */
export function GaitRoom() {
  const runner = useRunnerId();
  const who = useRunner();
  const ref = useReference();
  const q = useQuery(rooms.gait(runner));
  const queries = useQueryClient();
  const [film, setFilm] = useState<Film | null>(null);
  const [begin, setBegin] = useState<{ clip: Clip; keeping: string; back: boolean } | null>(null);
  const [comparing, setComparing] = useState<Clip | null>(null);
  useEffect(
    () => () => {
      if (film) URL.revokeObjectURL(film.url);
    },
    [film],
  );
  if (q.isPending || ref.isPending || who.isPending) return <Loading what="the gait" />;
  if (!q.data || !ref.data || !who.data)
    return <Failure error={q.error ?? ref.error ?? who.error} again={() => q.refetch()} />;
  const room = q.data;
  const opened = async (f: Film) => {
    const before = draft(runner, f);
    const kept = keptOf(room, f);
    const clip =
      before?.clip ?? (kept ? await keptOn(queries, runner, kept, f) : fresh(f, room.contexts[0] ?? usualHow));
    // Only what was kept with the screen that is open now is replaced; another day's record stays.
    const now = room.clips.find((c) => c.id === (before?.keeping || kept?.id) && c.screen === room.current);
    setBegin({ clip, keeping: now?.id ?? "", back: clip.marks.length + clip.stills.length > 0 });
    setFilm(f);
    setComparing(null);
  };
  const closed = () => {
    setFilm(null);
    setBegin(null);
    setComparing(null);
  };
  const signs = !room.signsAsked && !room.locked && (
    <Signs view={who.data} reference={ref.data} source="screen" ask={!!film} />
  );
  if (film && begin && comparing)
    return <Compare runner={runner} film={film} clip={comparing} room={room} back={() => setComparing(null)} />;
  if (film && begin)
    return (
      <Bench
        key={film.url + begin.back}
        runner={runner}
        film={film}
        start={begin.clip}
        keptAs={begin.keeping}
        room={room}
        back={begin.back}
        startOver={() => setBegin({ clip: fresh(film, begin.clip.context), keeping: begin.keeping, back: false })}
        signs={signs}
        close={closed}
        onCompare={(clip, keeping) => {
          setBegin({ ...begin, clip, keeping });
          setComparing(clip);
        }}
      />
    );
  return (
    <>
      <Heading>Gait</Heading>
      {signs}
      <Opener opened={opened} />
      <KeptClips clips={room.clips} runner={runner} />
      <CadencePlan plan={room.cadence} />
      {room.chain.length > 0 && (
        <>
          <Heading level={2}>The gait, down the chain</Heading>
          <Chain links={room.chain} />
        </>
      )}
    </>
  );
}

/** Opens a clip from disk, dropped or chosen, or one of the simulated ones. */
export function Opener({ opened, small }: { opened: (f: Film) => void | Promise<void>; small?: boolean }) {
  const films = useQuery(rooms.films());
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState("");
  const [wrong, setWrong] = useState("");
  const [more, setMore] = useState(false);
  const read = async (name: string, get: () => Promise<Film>) => {
    setBusy(`Opening ${name}`);
    setWrong("");
    try {
      await opened(await get());
    } catch (e) {
      setWrong(e instanceof BadFile ? e.message : `“${name}” could not be opened. Try again.`);
    } finally {
      setBusy("");
    }
  };
  const file = (f?: File | null) => f && void read(f.name, () => open(f, f.name, undefined, setBusy));
  const simulated = (s: Schemas["Film"]) =>
    void read(s.name, async () => {
      const a = await fetch(`/films/${s.name}`);
      if (!a.ok) throw new BadFile(`The simulated clip “${s.name}” did not come. Try again.`);
      return open(await a.blob(), `${s.name}.mp4`, s, setBusy);
    });
  return (
    <section aria-label="Open a clip">
      <Drop onFiles={([f]) => file(f)} className={`flex flex-wrap items-center gap-4 ${small ? "py-3" : "py-7"}`}>
        <input
          ref={input}
          type="file"
          accept="video/*,.mp4,.mov,.webm,.mkv"
          aria-label="Clip file"
          className="sr-only"
          tabIndex={-1}
          onChange={(e) => {
            file(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
        <Button kind="main" size={small ? "usual" : "big"} disabled={!!busy} onClick={() => input.current?.click()}>
          {busy ? `${busy} …` : "Open a clip"}
        </Button>
        <p className="max-w-md">
          {small ? "" : "Ten seconds from the side or from behind, or drop it here. "}
          <span className="text-quiet">
            The clip stays in this browser; only your marks, the numbers and the stills you choose are kept.
          </span>
        </p>
      </Drop>
      {wrong && (
        <Note role="alert" kind="stop" className="mt-2">
          <strong className="text-brick">Not opened. </strong>
          {wrong}
        </Note>
      )}
      {!!films.data?.length && (
        <Button kind="quiet" size="bare" aria-expanded={more} onClick={() => setMore(!more)}>
          Practise on a simulated clip
        </Button>
      )}
      {more && (
        <ul className="grid gap-1 sm:grid-cols-2">
          {films.data?.map((s) => (
            <li key={s.name}>
              <button
                type="button"
                disabled={!!busy}
                onClick={() => simulated(s)}
                className="min-h-11 w-full rounded-sq border border-line bg-panel px-3 py-1 text-left"
              >
                <span className="fig">{s.name}</span>
                <span className="block text-sm text-quiet">{s.says}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** The figures a kept clip is known by, in a word each. */
const short: Record<string, string> = {
  cadence: "cadence",
  contact: "contact",
  strike: "strike",
  overstride: "ankle ahead",
  crossover: "inner edge",
};

function KeptClips({ clips, runner }: { clips: Kept[]; runner: string }) {
  const queries = useQueryClient();
  const deed = useDeed(stale.runner(runner));
  const [removed, setRemoved] = useState<Kept | null>(null);
  const [dropping, setDropping] = useState("");
  const drop = (still: string) =>
    deed.run(async () => {
      await ask(api.DELETE("/api/runners/{runner}/stills/{still}", { params: { path: { runner, still } } }));
      setDropping("");
    });
  const set = (c: Kept, out: boolean) =>
    deed.run(async () => {
      const path = { runner, clip: c.id };
      const now = await ask(
        out
          ? api.DELETE("/api/runners/{runner}/clips/{clip}", { params: { path } })
          : api.POST("/api/runners/{runner}/clips/{clip}/restore", { params: { path } }),
      );
      setRemoved(out ? c : null);
      await renew(queries, rooms.gait(runner), now);
    });
  if (!clips.length && !removed) return null;
  return (
    <section aria-label="Kept clips" className="mt-4">
      <h2 className="text-xl">Kept clips</h2>
      <Failure error={deed.error} />
      {removed && (
        <Note role="status" kind="caution" className="my-2 flex items-center gap-4">
          {removed.shot.name} and its figures are out of the reading.
          <Button onClick={() => set(removed, false)}>Put back</Button>
        </Note>
      )}
      <ul className="mt-2 border border-line bg-panel">
        {clips.map((c) => (
          <li key={c.id} className="border-b border-line px-4 py-2 last:border-0">
            <p className="flex flex-wrap items-baseline gap-x-4">
              <strong>{day(c.on)}</strong>
              <span>
                {c.shot.view === "side" ? "side" : "from behind"}, {c.shot.context.pace}, {c.shot.context.shod}
                {c.shot.context.tired ? ", tired" : ""}
                {c.shot.context.speedKmh ? `, ${shortIn("km/h", c.shot.context.speedKmh)}` : ""}
              </span>
              <span className="text-sm text-quiet">
                {c.shot.name}, {c.shot.captureFps} frames a second, {c.shot.marks} marks · {c.coach}
              </span>
              <Button kind="quiet" size="bare" className="ml-auto" onClick={() => set(c, true)}>
                Take out
              </Button>
            </p>
            <p className="flex flex-wrap gap-x-5">
              {c.figures
                .filter((f) => short[f.id] && f.half > 0)
                .map((f) => (
                  <span key={f.id + f.side}>
                    <span className="text-sm text-quiet">
                      {short[f.id]}
                      {f.side === "both" ? "" : ", " + f.side}
                    </span>{" "}
                    <span className="fig">{amount(f.value, f.unit)}</span>{" "}
                    <span className="fig text-sm text-quiet">± {amount(f.half, f.unit)}</span>
                  </span>
                ))}
            </p>
            {c.stills.length > 0 && (
              <ul className="mt-1 flex flex-wrap gap-2">
                {c.stills.map((id) => {
                  const s = c.shot.stills.find((x) => x.id === id);
                  return (
                    <li key={id} className="w-40">
                      <img
                        src={`/api/runners/${runner}/stills/${id}`}
                        alt={s ? `${s.side} ${moments[s.at]}, frame ${s.frame}` : "still"}
                        className="w-full border border-line"
                      />
                      <span className="block text-sm text-quiet">{s ? `${s.side} ${moments[s.at]}` : ""}</span>
                      <Button
                        kind={dropping === id ? "stop" : "quiet"}
                        size={dropping === id ? "tight" : "bare"}
                        className="text-sm"
                        onClick={() => (dropping === id ? drop(id) : setDropping(id))}
                      >
                        {dropping === id ? "Delete it for good" : "Delete picture"}
                      </Button>
                    </li>
                  );
                })}
              </ul>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
