import type { ButtonHTMLAttributes } from "react";

type Kind = "main" | "plain" | "quiet" | "stop";
const looks: Record<Kind, string> = {
  main: "bg-cinder text-on-cinder border-cinder font-semibold",
  plain: "bg-panel text-ink border-line",
  quiet: "bg-transparent text-ink border-transparent underline decoration-line underline-offset-4",
  stop: "bg-panel text-brick border-brick",
};

export function Button({
  kind = "plain",
  className = "",
  ...p
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Kind }) {
  return (
    <button
      type="button"
      {...p}
      className={`inline-flex min-h-11 items-center justify-center gap-2 rounded-sq border px-4 py-1.5 text-left ${looks[kind]} ${className}`}
    />
  );
}
