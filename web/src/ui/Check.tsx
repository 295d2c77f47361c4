import { Checkbox as RadixCheckbox } from "radix-ui";
import type { ReactNode } from "react";

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
