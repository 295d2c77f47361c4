export const verdicts: Record<string, { word: string; shape: string; tone: string }> = {
  clear: { word: "clear", shape: "●", tone: "text-tide" },
  borderline: { word: "borderline", shape: "◐", tone: "text-ochre" },
  short: { word: "short", shape: "◣", tone: "text-cinder" },
  noted: { word: "noted", shape: "○", tone: "text-quiet" },
  better: { word: "better", shape: "▲", tone: "text-tide" },
  same: { word: "same", shape: "=", tone: "text-quiet" },
  changed: { word: "changed", shape: "≠", tone: "text-ochre" },
  worse: { word: "worse", shape: "▼", tone: "text-cinder" },
  up: { word: "notch up", shape: "▲", tone: "text-tide" },
  hold: { word: "hold", shape: "■", tone: "text-ochre" },
  pending: { word: "waiting", shape: "◌", tone: "text-quiet" },
  return: { word: "return lower", shape: "↩", tone: "text-tide" },
  back: { word: "notch back", shape: "▼", tone: "text-cinder" },
  park: { word: "park", shape: "✚", tone: "text-brick" },
  computing: { word: "a moment", shape: "◔", tone: "text-quiet" },
  broken: { word: "not known", shape: "⚠", tone: "text-brick" },
  stop: { word: "stop", shape: "⬣", tone: "text-brick" },
  quiet: { word: "quiet", shape: "○", tone: "text-ochre" },
  retest: { word: "retest", shape: "◇", tone: "text-tide" },
  calm_over: { word: "calm over", shape: "◆", tone: "text-tide" },
  room: { word: "no room", shape: "▥", tone: "text-ochre" },
  note: { word: "note", shape: "✎", tone: "text-ochre" },
  selfcheck: { word: "from home", shape: "⌂", tone: "text-tide" },
  selfpain: { word: "pain at home", shape: "⌂", tone: "text-brick" },
  form: { word: "form", shape: "◫", tone: "text-tide" },
  volume_usual: { word: "usual", shape: "●", tone: "text-tide" },
  volume_high: { word: "high", shape: "▲", tone: "text-cinder" },
  volume_unknown: { word: "not told", shape: "◌", tone: "text-ochre" },
  start: { word: "start", shape: "▷", tone: "text-quiet" },
};

/** A verdict as word and shape, never colour alone. */
export function Verdict({ v, big }: { v: string; big?: boolean }) {
  const x = verdicts[v] ?? { word: v, shape: "·", tone: "" };
  return (
    <span
      className={`inline-flex items-baseline gap-1.5 font-semibold whitespace-nowrap ${x.tone} ${big ? "text-xl" : ""}`}
    >
      <span aria-hidden>{x.shape}</span>
      {x.word}
    </span>
  );
}
