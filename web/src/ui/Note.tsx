import type { ReactNode } from "react";

const kinds = {
  stop: "border-brick bg-brick-ground px-4 py-2",
  caution: "border-ochre bg-panel px-4 py-2",
  good: "border-tide bg-panel px-4 py-2",
  today: "border-cinder bg-panel px-4 py-2",
  refused: "border-brick bg-panel px-4 py-2",
  // Within a panel: the bar alone.
  "stop within": "border-brick pl-3",
  "caution within": "border-ochre pl-3",
  "today within": "border-cinder pl-3",
};

/** Words that stand out from what is around them, by a bar and a ground. */
export function Note({
  kind,
  role,
  className = "",
  children,
}: {
  kind: keyof typeof kinds;
  role?: "alert" | "status";
  className?: string;
  children: ReactNode;
}) {
  return (
    <div role={role} className={`border-l-4 ${kinds[kind]} ${className}`}>
      {children}
    </div>
  );
}
