import { useRef, useState, type ButtonHTMLAttributes, type InputHTMLAttributes, type ReactNode } from "react";
import { Checkbox as RadixCheckbox, ToggleGroup } from "radix-ui";
import { Problem } from "../api/client";

type Kind = "main" | "plain" | "quiet" | "stop";
const looks: Record<Kind, string> = {
  main: "bg-cinder text-on-cinder border-cinder font-semibold",
  plain: "bg-panel text-ink border-line",
  quiet: "bg-transparent text-ink border-transparent underline decoration-line underline-offset-4",
  stop: "bg-panel text-brick border-brick",
};

export function Button({
  kind = "plain",
  className = "",
  ...p
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Kind }) {
  return (
    <button
      type="button"
      {...p}
      className={`inline-flex min-h-11 items-center justify-center gap-2 rounded-sq border px-4 py-1.5 text-left ${looks[kind]} ${className}`}
    />
  );
}

export function Field({
  label,
  hint,
  error,
  unit,
  className = "",
  ...p
}: InputHTMLAttributes<HTMLInputElement> & { label: string; hint?: string; error?: string; unit?: string }) {
  return (
    <label className={`block ${className}`}>
      <span className="block text-[0.9rem] font-medium">{label}</span>
      <span className="mt-1 flex items-center gap-2">
        <input
          {...p}
          aria-invalid={!!error}
          className={`fig min-h-11 w-full min-w-0 rounded-sq border bg-panel px-3 ${error ? "border-2 border-brick" : "border-line"}`}
        />
        {unit && <span className="text-quiet">{unit}</span>}
      </span>
      {error ? (
        <span className="mt-1 block text-brick">{error}</span>
      ) : (
        hint && <span className="mt-1 block text-sm text-quiet">{hint}</span>
      )}
    </label>
  );
}

export function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: { id: string; name: string }[];
  onChange: (v: string) => void;
}) {
  return (
    <label className="block">
      <span className="block text-[0.9rem] font-medium">{label}</span>
      <select
        value={value}
        onChange={(e) => onChange(e.target.value)}
        className="mt-1 min-h-11 w-full rounded-sq border border-line bg-panel px-2"
      >
        {options.map((o) => (
          <option key={o.id} value={o.id}>
            {o.name}
          </option>
        ))}
      </select>
    </label>
  );
}

/** One of a few, as square buttons. */
export function Pick({
  label,
  value,
  options,
  onChange,
  className = "",
}: {
  label: string;
  value: string;
  options: { id: string; name: string }[];
  onChange: (v: string) => void;
  className?: string;
}) {
  return (
    <ToggleGroup.Root
      type="single"
      value={value}
      onValueChange={(v) => v && onChange(v)}
      aria-label={label}
      className={`flex flex-wrap gap-1 ${className}`}
    >
      {options.map((o) => (
        <ToggleGroup.Item
          key={o.id}
          value={o.id}
          className="min-h-11 min-w-11 rounded-sq border border-line bg-panel px-3 data-[state=on]:border-ink data-[state=on]:bg-ink data-[state=on]:text-panel"
        >
          {o.name}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

/** Faults and other marks that are either on or off. */
export function Chip({
  on,
  onChange,
  children,
  strong,
}: {
  on: boolean;
  onChange: (on: boolean) => void;
  children: ReactNode;
  strong?: boolean;
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={() => onChange(!on)}
      className={`min-h-11 rounded-sq border px-2 text-[0.95rem] ${on ? (strong ? "border-brick bg-brick text-panel" : "border-ochre bg-ochre text-panel") : "border-line bg-panel"}`}
    >
      {on ? "✕ " : ""}
      {children}
    </button>
  );
}

/** One of several that are chosen or not, with its tick. */
export function Toggle({
  on,
  onChange,
  children,
}: {
  on: boolean;
  onChange: (on: boolean) => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={() => onChange(!on)}
      className={`min-h-11 rounded-sq border px-3 ${on ? "border-ink bg-ink text-panel" : "border-line bg-panel"}`}
    >
      {on ? "✓ " : ""}
      {children}
    </button>
  );
}

/** What exactly a warning sign means, as chips. */
export function Which({
  of,
  on,
  onChange,
}: {
  of: { id: string; name: string }[];
  on: string[];
  onChange: (on: string[]) => void;
}) {
  return (
    <div className="mt-1 flex flex-wrap gap-1.5">
      {of.map((w) => (
        <Chip
          key={w.id}
          strong
          on={on.includes(w.id)}
          onChange={(yes) => onChange(yes ? [...on, w.id] : on.filter((x) => x !== w.id))}
        >
          {w.name}
        </Chip>
      ))}
    </div>
  );
}

export function Check({
  checked,
  onChange,
  children,
}: {
  checked: boolean;
  onChange: (v: boolean) => void;
  children: ReactNode;
}) {
  return (
    <label className="flex min-h-11 items-center gap-3">
      <RadixCheckbox.Root
        checked={checked}
        onCheckedChange={(v) => onChange(v === true)}
        className="grid size-6 shrink-0 place-items-center rounded-sq border border-ink bg-panel"
      >
        <RadixCheckbox.Indicator className="font-bold text-cinder">✓</RadixCheckbox.Indicator>
      </RadixCheckbox.Root>
      <span>{children}</span>
    </label>
  );
}

export function Heading({ children, aside, level = 1 }: { children: ReactNode; aside?: ReactNode; level?: 1 | 2 }) {
  const H = level === 1 ? "h1" : "h2";
  return (
    <div className={level === 1 ? "mb-4" : "mt-8 mb-3"}>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <H className={level === 1 ? "text-3xl" : "text-xl"}>{children}</H>
        {aside}
      </div>
      <div className="ticks mt-2" aria-hidden />
    </div>
  );
}

export function Failure({ error, again }: { error: unknown; again?: () => void }) {
  if (!error) return null;
  const text = error instanceof Problem ? error.message : "Something went wrong on this page. Try again.";
  return (
    <div role="alert" className="my-3 border-l-4 border-brick bg-brick-ground px-4 py-3 text-ink">
      <strong className="text-brick">Not done. </strong>
      {text}
      {again && (
        <Button kind="quiet" onClick={again}>
          Try again
        </Button>
      )}
    </div>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="py-10 text-quiet">
      Reading {what} …
    </p>
  );
}

export function Empty({ children }: { children: ReactNode }) {
  return <div className="border border-dashed border-line px-5 py-8 text-lg">{children}</div>;
}

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
  form: { word: "form", shape: "◫", tone: "text-tide" },
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

/** Runs a deed once at a time, keeping its error for display. */
export function useDeed() {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const going = useRef(false);
  async function run(deed: () => Promise<unknown>): Promise<boolean> {
    if (going.current) return false;
    going.current = true;
    setBusy(true);
    setError(null);
    try {
      await deed();
      return true;
    } catch (e) {
      setError(e);
      return false;
    } finally {
      going.current = false;
      setBusy(false);
    }
  }
  return { busy, error, run, fields: error instanceof Problem ? error.fields : {} };
}

/** A date as people write it, with its weekday. */
export function day(d: string): string {
  if (!d) return "–";
  return new Date(d + "T12:00:00").toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" });
}
