import { useState } from "react";
import type { Schemas } from "../api/client";
import { Context } from "../screen/Context";
import { Button } from "../ui/Button";
import { Pick } from "../ui/Pick";
import type { Clip, Film } from "./film";
import { fixed, parse } from "../ui/number";
import { Note } from "../ui/Note";

type Room = Schemas["Gait"];

const rates = ["30", "60", "120", "240"];

/** How it was filmed: capture rate against play rate, view, heading, and how they ran. */
export function Setup({
  clip,
  film,
  room,
  set,
  done,
}: {
  clip: Clip;
  film: Film;
  room: Room;
  set: (part: Partial<Clip>) => void;
  done: () => void;
}) {
  const [other, setOther] = useState(clip.captureFps > 0 && !rates.includes(String(clip.captureFps)));
  return (
    <section aria-label="How it was filmed" className="my-2 border border-line bg-panel px-4 py-3">
      <div className="flex flex-wrap items-end gap-x-3 gap-y-3">
        <div>
          <p className={`text-[0.9rem] font-medium ${clip.captureFps ? "" : "text-cinder"}`}>
            Shot at, frames a second
          </p>
          <div className="mt-1 flex items-end gap-1">
            <Pick
              label="Shot at"
              value={other ? "other" : String(clip.captureFps)}
              options={[...rates.map((r) => ({ id: r, name: r })), { id: "other", name: "other" }]}
              onChange={(v) => {
                setOther(v === "other");
                if (v !== "other") set({ captureFps: Number(v) });
              }}
            />
            {other && (
              <input
                aria-label="Frames a second"
                inputMode="decimal"
                defaultValue={clip.captureFps || ""}
                onChange={(e) => set({ captureFps: parse(e.target.value) ?? 0 })}
                className="fig min-h-11 w-24 rounded-sq border border-line bg-ground px-2"
              />
            )}
          </div>
        </div>
        <Pick
          label="View"
          value={clip.view}
          options={[
            { id: "side", name: "side" },
            { id: "rear", name: "behind" },
          ]}
          onChange={(v) => set({ view: v, stills: [] })}
        />
        {clip.view === "side" && (
          <Pick
            label="Faces"
            value={clip.heading}
            options={[
              { id: "left", name: "faces left" },
              { id: "right", name: "faces right" },
            ]}
            onChange={(v) => set({ heading: v })}
          />
        )}
      </div>
      <p className="mt-2 text-sm text-quiet">
        The file plays {film.playFps || "at an unknown rate of"} frames a second. A slow-motion file was shot at more:
        {clip.captureFps > 0 && film.playFps > 0 && clip.captureFps !== film.playFps
          ? ` at ${clip.captureFps} it is slowed ${fixed(clip.captureFps / film.playFps, 1)} times.`
          : " the camera's settings tell."}
      </p>
      <Context how={clip.context} onChange={(context) => set({ context })} last={room.contexts} />
      <Button className="mt-2" disabled={!clip.captureFps} onClick={done}>
        Done
      </Button>
    </section>
  );
}

/** What the clip cannot do, and what was refused. */
export function Notes({ film, warnings }: { film: Film; warnings: string[] }) {
  const left = film.missing.length - film.repeated;
  const notes = [
    ...(left ? [`The file leaves out ${left} of its ${film.frames} frames; they are crossed out on the rule.`] : []),
    ...(film.doubled ? [`${film.doubled} frames share their moment with another; one of each pair is shown.`] : []),
    ...(film.repeated
      ? [
          `${film.repeated} of ${film.frames} frames repeat the picture before them and are passed over: the file was converted from a lower rate, and the errors are those of that rate.`,
        ]
      : []),
    ...(film.playFps
      ? []
      : ["The file does not say how fast it plays. State the rate it was shot at; frames are counted one by one."]),
    ...warnings,
  ];
  return (
    <>
      {notes.map((n) => (
        <Note key={n} kind="caution" className="my-1 text-sm">
          {n}
        </Note>
      ))}
    </>
  );
}
