import createClient from "openapi-fetch";
import { Problem, problemOf } from "./problem";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export const api = createClient<paths>({ baseUrl: "/" });

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** Waits for a request and returns its data, or throws a Problem. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let a: Answer<T>;
  try {
    a = await request;
  } catch {
    throw new Problem(0, "The server cannot be reached. What you typed is still here; try again when it is back.");
  }
  if (a.error !== undefined || !a.response.ok) {
    if (a.response.status === 401 && location.pathname !== "/sign-in") location.assign("/sign-in");
    throw problemOf(a.response.status, a.error);
  }
  return a.data as T;
}
