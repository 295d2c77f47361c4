/** A box for a few lines of plain text, which says how many letters are left towards its end. */
export function Letter({
  label,
  value,
  onText,
  most = 2000,
  error,
}: {
  label: string;
  value: string;
  onText: (text: string) => void;
  most?: number;
  error?: string | undefined;
}) {
  const left = most - [...value].length;
  return (
    <label className="block">
      <span className="block text-[0.9rem] font-medium">{label}</span>
      <textarea
        rows={3}
        value={value}
        onChange={(e) => onText(e.target.value)}
        aria-invalid={!!error || left < 0}
        className={`mt-1 w-full rounded-sq border bg-panel px-3 py-2 ${error || left < 0 ? "border-2 border-brick" : "border-line"}`}
      />
      {error ? (
        <span className="block text-brick">{error}</span>
      ) : (
        left < 200 && <span className={left < 0 ? "text-brick" : "text-quiet"}>{left} letters left</span>
      )}
    </label>
  );
}
