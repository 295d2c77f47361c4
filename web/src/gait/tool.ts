import { useState } from "react";
import type { Schemas } from "../api/client";
import { labelOrder } from "./Assist";
import type { Label } from "./follow";
import type { Line } from "./Lines";
import type { Clip, Point, Still } from "./film";
import { newStill, type Change, type Side } from "./marks";

/** What a press on the picture sets. */
export type Tool =
  | { is: "none" }
  | { is: "spot"; still: string; spot: string }
  | { is: "line"; of: Line; a: Point | null }
  | { is: "label"; side: Side; spot: string };

/** What a press on the picture sets, and the next thing to be set after it. */
export function useTool(
  clip: Clip,
  send: (c: Change) => void,
  spots: Schemas["GaitSpot"][],
  labels: Label[],
  setLabels: (l: Label[]) => void,
) {
  const [tool, setTool] = useState<Tool>({ is: "none" });
  const asked = (s: Still) => spots.filter((x) => x.at.includes(s.at)).map((x) => x.id);
  const spot = (still: Still, id: string | undefined) =>
    setTool(id ? { is: "spot", still: still.id, spot: id } : { is: "none" });
  const next = (s: Still, after: string) => {
    const ids = asked(s);
    spot(
      s,
      [...ids.slice(ids.indexOf(after) + 1), ...ids].find((id) => id !== after && !s.points[id]),
    );
  };
  const point = (p: Point, frame: number) => {
    if (tool.is === "spot") {
      const s = clip.stills.find((x) => x.id === tool.still);
      if (!s) return;
      send({ do: "point", still: s.id, spot: tool.spot, at: p });
      return next(s, tool.spot);
    }
    if (tool.is === "line") {
      if (!tool.a) return setTool({ ...tool, a: p });
      const line = { a: tool.a, b: p };
      send({
        do: "set",
        part: tool.of === "scale" ? { scale: { ...line, mm: clip.scale?.mm ?? 1000 } } : { [tool.of]: line },
      });
      return setTool({ is: "none" });
    }
    if (tool.is === "label") {
      const { side, spot } = tool;
      const rest = labels.filter((l) => l.frame === frame && !(l.side === side && l.spot === spot));
      setLabels([...rest, { side, spot, frame, at: p }]);
      const order = labelOrder(clip);
      const to = order[order.findIndex((o) => o.side === side && o.spot === spot) + 1];
      setTool(to ? { is: "label", ...to } : { is: "none" });
    }
  };
  /** Opens a still that is there, or begins one, at the first spot that is missing. */
  const open = (s: Schemas["GaitSuggestion"]) => {
    const there = clip.stills.find((x) => x.frame === s.frame && x.side === s.side && x.at === s.at);
    const mine = there ?? newStill(s.frame, s.side, s.at);
    if (!there) send({ do: "still", still: mine });
    spot(
      mine,
      s.points.find((id) => !mine.points[id]),
    );
  };
  return { tool, setTool, asked, point, open };
}
