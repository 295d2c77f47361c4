import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export const api = createClient<paths>({ baseUrl: "/" });

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

type Answer<T> = { data?: T; error?: unknown; response: Response };

export function problemOf(status: number, body: unknown): Problem {
  const b = (body ?? {}) as { detail?: string; title?: string; errors?: { location?: string; message?: string }[] };
  const fields: Record<string, string> = {};
  for (const e of b.errors ?? []) if (e.location) fields[e.location.replace(/^body\./, "")] = e.message ?? "";
  const listed = (b.errors ?? []).map((e) => `${(e.location ?? "").replace(/^body\./, "")}: ${e.message}`);
  const text = b.detail === "validation failed" && listed.length ? listed.join("; ") : b.detail;
  return new Problem(status, text ?? b.title ?? "The server did not answer as expected. Try again.", fields);
}

/** Waits for a request and returns its data, or throws a Problem. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let a: Answer<T>;
  try {
    a = await request;
  } catch {
    throw new Problem(0, "The server cannot be reached. What you typed is still here; try again when it is back.");
  }
  if (a.error !== undefined || !a.response.ok) {
    if (a.response.status === 401 && !["/sign-in", "/phone"].includes(location.pathname)) location.assign("/sign-in");
    throw problemOf(a.response.status, a.error);
  }
  return a.data as T;
}

/** A UUID of version 7, made here so that sending twice writes once. */
export function newId(): string {
  const b = crypto.getRandomValues(new Uint8Array(16));
  let t = Date.now();
  for (let i = 5; i >= 0; i--) {
    b[i] = t % 256;
    t = Math.floor(t / 256);
  }
  b[6] = 0x70 | (b[6] & 0x0f);
  b[8] = 0x80 | (b[8] & 0x3f);
  const h = Array.from(b, (x) => x.toString(16).padStart(2, "0")).join("");
  return `${h.slice(0, 8)}-${h.slice(8, 12)}-${h.slice(12, 16)}-${h.slice(16, 20)}-${h.slice(20)}`;
}
