/** Eleven buttons, 0 to 10, large enough for a thumb. */
export function Scale({
  label,
  value,
  onChange,
  low,
  high,
}: {
  label: string;
  value: number | null;
  onChange: (n: number) => void;
  low: string;
  high: string;
}) {
  return (
    <fieldset className="mt-3">
      <legend className="font-medium">{label}</legend>
      <div className="mt-1 grid grid-cols-6 gap-1">
        {Array.from({ length: 11 }, (_, n) => (
          <button
            key={n}
            type="button"
            aria-pressed={value === n}
            aria-label={`${label}: ${n}`}
            onClick={() => onChange(n)}
            className={`fig min-h-12 rounded-sq border text-xl ${value === n ? "border-ink bg-ink text-panel" : "border-line bg-panel"}`}
          >
            {n}
          </button>
        ))}
      </div>
      <p className="mt-1 flex justify-between text-sm text-quiet">
        <span>0 {low}</span>
        <span>10 {high}</span>
      </p>
    </fieldset>
  );
}
