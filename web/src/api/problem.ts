/** A refused request: what to say, and which fields it names. */
export class Problem extends Error {
  constructor(
    public status: number,
    message: string,
    public fields: Record<string, string> = {},
  ) {
    super(message);
  }
}

export function problemOf(status: number, body: unknown): Problem {
  const b = (body ?? {}) as { detail?: string; title?: string; errors?: { location?: string; message?: string }[] };
  const fields: Record<string, string> = {};
  for (const e of b.errors ?? []) if (e.location) fields[e.location.replace(/^body\./, "")] = e.message ?? "";
  const listed = (b.errors ?? []).map((e) => `${(e.location ?? "").replace(/^body\./, "")}: ${e.message}`);
  const text = b.detail === "validation failed" && listed.length ? listed.join("; ") : b.detail;
  return new Problem(status, text ?? b.title ?? "The server did not answer as expected. Try again.", fields);
}
