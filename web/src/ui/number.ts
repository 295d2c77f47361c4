/** Reads a number as people type it: with a comma or a point, a minus of either kind. Null when it is not one: letters,
 * a power, a second point, nothing at all. */
export function parse(text: string): number | null {
  const t = text.trim().replace(/^[−–]/, "-").replace(",", ".");
  return /^-?(\d+\.?\d*|\.\d+)$/.test(t) ? Number(t) : null;
}

/** Reads a whole number of at least 0. */
export function parseCount(text: string): number | null {
  const t = text.trim();
  return /^\d+$/.test(t) ? Number(t) : null;
}

/** Reads a list, apart by spaces or semicolons: a comma is part of a number. Null in place of what is not one. */
export const parseList = (text: string): (number | null)[] =>
  text
    .split(/[\s;]+/)
    .filter(Boolean)
    .map(parse);

/** Writes a number with at most so many decimals, none of them a needless 0, and the minus that is as wide as a figure. */
export function write(n: number, decimals = 1): string {
  const t = Math.abs(n).toFixed(decimals);
  const short = decimals > 0 ? t.replace(/\.?0+$/, "") : t;
  return n < 0 && Number(short) !== 0 ? "−" + short : short;
}

/** Writes a number with exactly so many decimals, where figures stand below one another. */
export function fixed(n: number, decimals: number): string {
  const t = Math.abs(n).toFixed(decimals);
  return n < 0 && Number(t) !== 0 ? "−" + t : t;
}

/** Writes a figure with its unit; a degree sign stands close. */
export const withUnit = (figure: string, unit: string) =>
  unit === "°" ? figure + "°" : unit ? `${figure} ${unit}` : figure;
