import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { newId } from "../api/id";
import { Problem } from "../api/problem";
import { stale, type Stale } from "../api/rooms";

/** The id of a write by what it says: the same until the deed has succeeded, so that trying again after a lost answer
 * writes once; another as soon as it says something else. */
export type IdOf = (write: unknown) => string;

/** The ids of the writes of one deed. */
export function writeIds(): { of: IdOf; done: () => void } {
  const ids = new Map<string, string>();
  const of: IdOf = (write) => {
    const said = JSON.stringify(write);
    const id = ids.get(said) ?? newId();
    ids.set(said, id);
    return id;
  };
  return { of, done: () => ids.clear() };
}

/** Runs a deed once at a time, keeping its error for display. What it makes out of date is asked for again, also where
 * its answer was lost: it may have been done. */
export function useDeed(changes: Stale = stale.nothing) {
  const queries = useQueryClient();
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const going = useRef(false);
  const [ids] = useState(writeIds);
  const again = () => queries.invalidateQueries({ predicate: (q) => changes(q.queryKey) });
  async function run(deed: (id: IdOf) => Promise<unknown>): Promise<boolean> {
    if (going.current) return false;
    going.current = true;
    setBusy(true);
    setError(null);
    try {
      await deed(ids.of);
      ids.done();
      await again();
      return true;
    } catch (e) {
      setError(e);
      void again();
      return false;
    } finally {
      going.current = false;
      setBusy(false);
    }
  }
  return {
    busy,
    error,
    run,
    again,
    forget: () => setError(null),
    /** Somebody else changed it meanwhile; what is so now has been asked for. */
    clash: error instanceof Problem && error.status === 409,
    fields: error instanceof Problem ? error.fields : {},
  };
}
