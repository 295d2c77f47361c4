import type { InputHTMLAttributes } from "react";

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
