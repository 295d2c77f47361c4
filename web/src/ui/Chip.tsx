import type { ReactNode } from "react";

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
