import type { ReactNode } from "react";

export function Heading({ children, aside, level = 1 }: { children: ReactNode; aside?: ReactNode; level?: 1 | 2 }) {
  const H = level === 1 ? "h1" : "h2";
  return (
    <div className={level === 1 ? "mb-4" : "mt-8 mb-3"}>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <H className={level === 1 ? "text-3xl" : "text-xl"}>{children}</H>
        {aside}
      </div>
      <div className="ticks mt-2" aria-hidden />
    </div>
  );
}
