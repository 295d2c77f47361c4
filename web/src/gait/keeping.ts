import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { renew, rooms, stale } from "../api/rooms";
import { useDeed } from "../ui/deed";
import type { Clip, Film } from "./film";
import { same } from "./marks";
import { snapshots } from "./snapshots";

/** Keeps a clip's marks and the stills that were chosen with today's screen. What it was kept under before is replaced. */
export function useKeeping(runner: string, film: Film, room: Schemas["Gait"], keptAs: string) {
  const [keeping, setKeeping] = useState(keptAs);
  const queries = useQueryClient();
  const deed = useDeed(stale.runner(runner, "gait"));
  const keep = (clip: Clip) =>
    deed.run(async (write) => {
      const wanted = clip.stills.filter((s) => s.keep);
      const pictures = await snapshots(
        film,
        wanted.map((s) => s.frame),
      );
      for (const s of wanted) {
        const picture = pictures.get(s.frame);
        if (picture)
          await ask(
            api.PUT("/api/runners/{runner}/stills/{still}", {
              params: { path: { runner, still: s.id } },
              body: { picture },
            }),
          );
      }
      const id = write({ clip, keeping });
      const now = await ask(
        api.PUT("/api/runners/{runner}/screens/{screen}/clips/{clip}", {
          params: { path: { runner, screen: room.current, clip: id } },
          body: { clip, ...(keeping ? { replaces: keeping } : {}) },
        }),
      );
      setKeeping(id);
      queries.setQueryData(rooms.marks(runner, id).queryKey, clip);
      await renew(queries, rooms.gait(runner), now);
    });
  const at = room.clips.find((c) => c.id === keeping)?.id ?? "";
  const kept = useQuery({ ...rooms.marks(runner, at), enabled: !!at }).data;
  return { keeping, keep, deed, kept: (clip: Clip) => !!kept && same(kept, clip) };
}
