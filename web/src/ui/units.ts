import { fixed, parse, withUnit, write } from "./number";
import { reader } from "./reader";

// The international inch, pound and mile (NIST SP 811, appendix B): one of the other unit in the stored one.
const others = {
  in: { of: "cm", size: 2.54, decimals: 2 },
  lb: { of: "kg", size: 0.45359237, decimals: 1 },
  mi: { of: "km", size: 1.609344, decimals: 1 },
  mph: { of: "km/h", size: 1.609344, decimals: 1 },
};
type Other = keyof typeof others;

function otherOf(unit: string): Other | null {
  if (unit === "cm") return reader().length === "in" ? "in" : null;
  if (unit === "kg") return reader().mass === "lb" ? "lb" : null;
  if (unit !== "km" && unit !== "km/h") return null;
  return reader().distance !== "mi" ? null : unit === "km" ? "mi" : "mph";
}

/** The name of the unit that a stored one is read in. */
export const unitOf = (unit: string): string => otherOf(unit) ?? unit;

/** A stored figure as it is read, with so many decimals where it is read as stored; inches have one more. */
export function figureIn(unit: string, v: number, decimals = 1): string {
  const o = otherOf(unit);
  return o ? fixed(v / others[o].size, Math.max(others[o].decimals, decimals)) : fixed(v, decimals);
}

/** The same with its unit. */
export const amountIn = (unit: string, v: number, decimals = 1) => withUnit(figureIn(unit, v, decimals), unitOf(unit));

/** A stored figure as short as it can be written, with its unit: limits, plates. */
export function shortIn(unit: string, v: number, decimals = 2): string {
  const o = otherOf(unit);
  return withUnit(o ? write(v / others[o].size, others[o].decimals) : write(v, decimals), unitOf(unit));
}

/** What was typed in the reader's unit, as a text in the stored one; what is not a number stays as it was typed. A list,
 * apart by spaces, is turned figure by figure. */
export function stored(unit: string, text: string): string {
  const o = otherOf(unit);
  return o ? each(text, (n) => String(Number((n * others[o].size).toFixed(4)))) : text;
}

/** A text in the stored unit as it is typed in the reader's. */
export function typedIn(unit: string, text: string): string {
  const o = otherOf(unit);
  return o ? each(text, (n) => write(n / others[o].size, 2)) : text;
}

const each = (text: string, turn: (n: number) => string) =>
  text.replace(/[^\s;]+/g, (one) => {
    const n = parse(one);
    return n === null ? one : turn(n);
  });
