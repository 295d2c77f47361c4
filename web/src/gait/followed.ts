import { useState } from "react";
import { api, ask } from "../api/client";
import { useDeed } from "../ui/deed";
import type { Clip, Film, Still } from "./film";
import { follow, placeOf, type Label, type Track } from "./follow";
import type { Change } from "./marks";
import type { Proposal } from "./Strip";

/** Points of a tape that are followed through the clip, and the contacts that are proposed from them. */
export function useFollowed(
  runner: string,
  film: Film,
  clip: Clip,
  frame: number,
  go: (frame: number) => void,
  send: (c: Change) => void,
) {
  const [labels, setLabels] = useState<Label[]>([]);
  const [tracks, setTracks] = useState<Track[]>([]);
  const [proposals, setProposals] = useState<Proposal[]>([]);
  const [following, setFollowing] = useState<{ done: number; of: number; stop: AbortController } | null>(null);
  const deed = useDeed();
  const run = () =>
    deed.run(async () => {
      const stop = new AbortController();
      setFollowing({ done: 0, of: film.frames, stop });
      try {
        const found = await follow(film, labels, (done, of) => setFollowing({ done, of, stop }), stop.signal);
        setTracks(found);
        const tracks = found.filter((t) => t.spot === "heel" || t.spot === "toe");
        const body = { clip: { ...clip, marks: [] }, tracks };
        const got = await ask(api.POST("/api/runners/{runner}/gait/propose", { params: { path: { runner } }, body }));
        const open = got.filter(
          (p) => !clip.marks.some((m) => m.side === p.side && m.kind === p.kind && Math.abs(m.frame - p.frame) <= 3),
        );
        setProposals(open);
        if (open[0]) go(open[0].frame);
      } catch (e) {
        if (!(e instanceof DOMException && e.name === "AbortError")) throw e;
      } finally {
        setFollowing(null);
      }
    });
  /** Leaves a proposal, and goes on to the next. */
  const leave = (p: Proposal) => {
    setProposals(proposals.filter((x) => x !== p));
    const next = proposals.find((x) => x !== p && x.frame >= p.frame) ?? proposals.find((x) => x !== p);
    if (next) go(next.frame);
  };
  const confirm = (p: Proposal, at: number) => {
    send({ do: "mark", frame: at, side: p.side, kind: p.kind, proposed: true });
    leave(p);
  };
  /** The spots of a still that were followed to it, and taking them all. */
  const offer = (still: Still | null, asked: (s: Still) => string[], done: () => void) => {
    const at = (id: string) => (still ? placeOf(tracks, still.side, id, still.frame) : null);
    const proposed = still ? asked(still).filter((id) => !still.points[id] && at(id)) : [];
    const takeProposed = () => {
      for (const id of proposed) {
        const to = at(id);
        if (still && to) send({ do: "point", still: still.id, spot: id, at: to });
      }
      done();
    };
    return { proposed, takeProposed };
  };
  const current = proposals.find((p) => p.frame >= frame) ?? proposals[0] ?? null;
  return { offer, labels, setLabels, tracks, proposals, following, error: deed.error, run, leave, confirm, current };
}
