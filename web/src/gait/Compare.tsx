import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { type Schemas } from "../api/client";
import { rooms } from "../api/rooms";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { Pick } from "../ui/Pick";
import { Why } from "../ui/reason";
import { amount, bare } from "./Figures";
import { keptOf, keptOn, Opener } from "./Gait";
import { Stage, usePlayer, whole } from "./Stage";
import { there, type Clip, type Film } from "./film";
import { draft, marksOf, type Side } from "./marks";
import { fixed } from "../ui/number";

type Room = Schemas["Gait"];

interface Half {
  title: string;
  film: Film | null; // null: only what was kept of it
  clip: Clip;
  stills: string[];
}

const how = (c: { context: Clip["context"] }) =>
  `${c.context.pace}, ${c.context.shod}${c.context.tired ? ", tired" : ""}`;

/** Two clips of the same runner side by side, their frames aligned at touchdown: before and after, shod
 * and barefoot, or left and right of one clip. */
export function Compare({
  runner,
  film,
  clip,
  room,
  back,
}: {
  runner: string;
  film: Film;
  clip: Clip;
  room: Room;
  back: () => void;
}) {
  const [other, setOther] = useState<Half | null>(null);
  const [sides, setSides] = useState<[Side, Side]>(["left", "left"]);
  const [ms, setMs] = useState(0);
  useEffect(() => {
    if (other) window.scrollTo({ top: 0 });
  }, [other]);
  const across = other?.film === film && sides[0] !== sides[1];
  const first: Half = { title: `${film.name} · ${how(clip)}`, film, clip, stills: [] };
  const queries = useQueryClient();
  const deed = useDeed();
  const opened = async (f: Film) => {
    const kept = keptOf(room, f);
    const c = draft(runner, f)?.clip ?? (kept && (await keptOn(queries, runner, kept, f)));
    if (!c?.marks.length)
      return setOther({
        title: `${f.name} has no marks yet: open it alone and mark it first`,
        film: null,
        clip: { ...clip, marks: [] },
        stills: [],
      });
    setOther({ title: `${f.name} · ${how(c)}`, film: f, clip: c, stills: [] });
  };
  const d = useQuery(rooms.compared(runner, clip, other?.clip, across));
  // The finer clip's frame is the step.
  const step = 1000 / Math.max(clip.captureFps || 30, other?.film ? other.clip.captureFps || 30 : 0);
  useEffect(() => {
    const keys = (e: KeyboardEvent) => {
      if (e.target instanceof Element && e.target.closest("input, select, [role=radio]")) return;
      if (e.key === "ArrowRight" || e.key === "ArrowLeft") {
        e.preventDefault();
        setMs((t) => t + (e.key === "ArrowRight" ? 1 : -1) * step * (e.shiftKey ? 10 : 1));
      }
    };
    window.addEventListener("keydown", keys);
    return () => window.removeEventListener("keydown", keys);
  }, [step]);
  return (
    <>
      <Heading aside={<Button onClick={back}>Back to the clip</Button>}>Side by side</Heading>
      <div className="grid grid-cols-2 gap-3">
        {[first, other].map((h, i) =>
          h ? (
            <div key={i}>
              <p className="truncate font-semibold">{h.title}</p>
              {h.film ? (
                <Aligned key={h.title} film={h.film} clip={h.clip} side={sides[i === 0 ? 0 : 1]} ms={ms} />
              ) : (
                <div className="grid min-h-40 place-items-center border border-dashed border-line p-3 text-quiet">
                  {h.stills.length ? (
                    <img src={`/api/runners/${runner}/stills/${h.stills[0]}`} alt="kept still" className="w-full" />
                  ) : (
                    "Its file is not open here; the numbers compare all the same."
                  )}
                </div>
              )}
              <Pick
                label={i === 0 ? "Foot of the first" : "Foot of the second"}
                className="mt-1"
                value={sides[i === 0 ? 0 : 1]}
                options={[
                  { id: "left", name: "left touchdown" },
                  { id: "right", name: "right touchdown" },
                ]}
                onChange={(v) => setSides(i === 0 ? [v, sides[1]] : [sides[0], v])}
              />
            </div>
          ) : (
            <div key={i} className="space-y-2">
              <p className="font-semibold">Compare with</p>
              <Button
                className="w-full"
                onClick={() => {
                  setOther({ ...first, title: `${film.name} · the other foot` });
                  setSides(["left", "right"]);
                }}
              >
                the other foot of this clip
              </Button>
              {room.clips
                .filter((c) => c.shot.name !== clip.name || c.shot.frames !== clip.frames)
                .map((c) => (
                  <Button
                    key={c.id}
                    className="w-full"
                    disabled={deed.busy}
                    onClick={() =>
                      deed.run(async () =>
                        setOther({
                          title: `${day(c.on)} · ${c.shot.name} · ${how(c.shot)}`,
                          film: null,
                          clip: await marksOf(queries, runner, c.id),
                          stills: c.stills,
                        }),
                      )
                    }
                  >
                    {day(c.on)}: {c.shot.name}, {how(c.shot)}
                  </Button>
                ))}
              <Failure error={deed.error} />
              <Opener small opened={opened} />
            </div>
          ),
        )}
      </div>
      {other && (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          <Button aria-label="−1 frame" onClick={() => setMs(ms - step)}>
            −1
          </Button>
          <span className="fig min-w-44 text-center text-lg" aria-live="off">
            touchdown {ms < -0.5 ? "−" : "+"} {fixed(Math.abs(ms), 0)} ms
          </span>
          <Button aria-label="+1 frame" onClick={() => setMs(ms + step)}>
            +1
          </Button>
          <Button kind="quiet" onClick={() => setMs(0)}>
            At touchdown
          </Button>
          <Button kind="quiet" className="ml-auto" onClick={() => setOther(null)}>
            Another one
          </Button>
        </div>
      )}
      <Failure error={d.error} />
      {d.data?.length ? <Differences rows={d.data} across={across} /> : null}
    </>
  );
}

/** One clip that stands so many ms after a touchdown of its own. */
function Aligned({ film, clip, side, ms }: { film: Film; clip: Clip; side: Side; ms: number }) {
  const [view] = useState(() => whole(film));
  const marks = clip.marks.filter((m) => m.side === side && m.kind === "touchdown");
  const from = marks.find((m) => m.frame > clip.captureFps * 0.1) ?? marks[0];
  const { canvas, player, frame } = usePlayer(film, view, from?.frame ?? 0);
  const fps = clip.captureFps || film.playFps || 30;
  const to = there(film, (from?.frame ?? 0) + Math.round((ms / 1000) * fps));
  useEffect(() => player.current?.go(to), [player, to]);
  return (
    <>
      <Stage film={film} canvas={canvas} frame={frame} view={view} />
      <p className="fig text-sm text-quiet">
        {from ? `frame ${frame}, touchdown at ${from.frame}` : `no ${side} touchdown marked`}
      </p>
    </>
  );
}

/** Each figure of both, and whether they differ by more than both errors. */
function Differences({ rows, across }: { rows: Schemas["GaitDifference"][]; across: boolean }) {
  return (
    <table className="mt-3 w-full border border-line bg-panel" aria-label="Differences">
      <thead>
        <tr className="border-b border-ink text-left text-sm text-quiet">
          <th className="px-3 py-1.5 font-medium">Figure</th>
          <th className="font-medium">first</th>
          <th className="font-medium">second</th>
          <th className="font-medium">change</th>
          <th className="font-medium">so</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((x) => (
          <tr key={x.id + x.side} className="border-b border-line last:border-0">
            <td className="px-3 py-1.5">
              {x.name}
              {x.side === "both" ? "" : across ? ", left → right" : `, ${x.side}`}
            </td>
            <td className="fig pr-3 whitespace-nowrap">{amount(x.first, x.unit)}</td>
            <td className="fig pr-3 whitespace-nowrap">{amount(x.second, x.unit)}</td>
            <td className="fig pr-3 text-[0.95rem] whitespace-nowrap">
              <Why reason={x.reason} title={x.name}>
                {bare(x.change, x.unit)} ± {amount(x.half, x.unit)}
              </Why>
            </td>
            <td className={x.word === "no difference seen" ? "text-quiet" : "font-semibold"}>
              {x.word === "more" ? "▲ more" : x.word === "less" ? "▼ less" : "= none seen"}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
