import { ToggleGroup } from "radix-ui";

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
