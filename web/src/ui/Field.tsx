import { useState, type InputHTMLAttributes } from "react";
import { stored, typedIn, unitOf } from "./units";

/** A box with its name. With onText it gives the text that was typed; a figure of a unit that is read otherwise here is
 * typed as it is read, and given and taken as it is stored. */
export function Field({
  label,
  hint,
  error,
  unit = "",
  className = "",
  onText,
  ...p
}: InputHTMLAttributes<HTMLInputElement> & {
  label: string;
  hint?: string;
  error?: string;
  unit?: string;
  onText?: (text: string) => void;
}) {
  const typing = useTyped(unit, p.value, onText);
  return (
    <label className={`block ${className}`}>
      <span className="block text-[0.9rem] font-medium">{label}</span>
      <span className="mt-1 flex items-center gap-2">
        <input
          {...p}
          {...(onText && typing)}
          aria-invalid={!!error}
          className={`fig min-h-11 w-full min-w-0 rounded-sq border bg-panel px-3 ${error ? "border-2 border-brick" : "border-line"}`}
        />
        {unit && <span className="text-quiet">{unitOf(unit)}</span>}
      </span>
      {error ? (
        <span className="mt-1 block text-brick">{error}</span>
      ) : (
        hint && <span className="mt-1 block text-sm text-quiet">{hint}</span>
      )}
    </label>
  );
}

/** Keeps what is being typed as it is typed, as long as nobody else changed the figure. */
function useTyped(unit: string, value: unknown, onText?: (text: string) => void) {
  const [typed, setTyped] = useState({ text: "", as: "" });
  const now = typeof value === "string" ? value : "";
  return {
    value: typed.as === now && typed.text ? typed.text : typedIn(unit, now),
    onChange: (e: { target: { value: string } }) => {
      const text = e.target.value;
      const as = stored(unit, text);
      setTyped({ text, as });
      onText?.(as);
    },
  };
}
