/** A date as people write it, with its weekday. */
export function day(d: string): string {
  if (!d) return "–";
  return new Date(d + "T12:00:00").toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" });
}
