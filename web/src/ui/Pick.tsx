import { RadioGroup } from "radix-ui";

export type Side = "left" | "right" | "both";
export const sides: readonly { id: Side; name: string }[] = [
  { id: "left", name: "left" },
  { id: "right", name: "right" },
  { id: "both", name: "both" },
];

/** One of a few, as square buttons; arrows move and choose. An unanswered question has the value "". */
export function Pick<T extends string>({
  label,
  value,
  options,
  onChange,
  className = "",
  nowrap = false,
}: {
  label: string;
  value: T | "";
  options: readonly { id: T; name: string }[];
  onChange: (v: T) => void;
  className?: string;
  nowrap?: boolean;
}) {
  const choose = (v: string) => {
    const o = options.find((o) => o.id === v);
    if (o) onChange(o.id);
  };
  return (
    <RadioGroup.Root
      value={value}
      onValueChange={choose}
      aria-label={label}
      orientation="horizontal"
      className={`flex gap-1 ${nowrap ? "flex-nowrap" : "flex-wrap"} ${className}`}
    >
      {options.map((o) => (
        <RadioGroup.Item
          key={o.id}
          value={o.id}
          className="min-h-11 min-w-11 rounded-sq border border-line bg-panel px-3 data-[state=checked]:border-ink data-[state=checked]:bg-ink data-[state=checked]:text-panel"
        >
          {o.name}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}
