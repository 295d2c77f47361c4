/** One of several, from a list. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly { id: T; name: string }[];
  onChange: (v: T) => void;
}) {
  return (
    <label className="block">
      <span className="block text-[0.9rem] font-medium">{label}</span>
      <select
        value={value}
        onChange={(e) => {
          const o = options.find((o) => o.id === e.target.value);
          if (o) onChange(o.id);
        }}
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
