import type { ButtonHTMLAttributes } from "react";

const kinds = {
  main: "bg-cinder text-on-cinder border-cinder font-semibold",
  plain: "bg-panel text-ink border-line",
  quiet: "bg-transparent text-ink border-transparent underline decoration-line underline-offset-4",
  stop: "bg-panel text-brick border-brick",
};

/** usual; tight, several in a row; bare, words at the edge of what is above them; line, within a line of text; cell, one
 * of a grid; answer, a line or two to choose; big, what the page is for. */
const sizes = {
  usual: "min-h-11 justify-center px-4 py-1.5",
  tight: "min-h-11 justify-center px-2.5 py-1.5",
  bare: "min-h-11 justify-center py-1.5",
  line: "min-h-11 justify-center",
  cell: "min-h-11 justify-center py-1.5",
  apart: "min-h-11 justify-between px-2 py-1.5",
  answer: "min-h-11 items-start justify-start px-2 py-1.5 text-[0.9rem] leading-tight",
  big: "min-h-14 justify-center px-8 py-3 text-xl",
};

/** A button of the kind that says how much it does. Pressed in, it stands out by its frame. */
export function Button({
  kind = "plain",
  size = "usual",
  className = "",
  ...p
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: keyof typeof kinds; size?: keyof typeof sizes }) {
  return (
    <button
      type="button"
      {...p}
      className={`inline-flex items-center gap-2 rounded-sq border text-left aria-pressed:border-2 aria-pressed:border-ink ${kinds[kind]} ${sizes[size]} ${className}`}
    />
  );
}
