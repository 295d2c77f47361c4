import { useRef, useState } from "react";
import { newId } from "../api/id";
import { Problem } from "../api/problem";

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

/** Runs a deed once at a time, keeping its error for display. */
export function useDeed() {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const going = useRef(false);
  const [ids] = useState(writeIds);
  async function run(deed: (id: IdOf) => Promise<unknown>): Promise<boolean> {
    if (going.current) return false;
    going.current = true;
    setBusy(true);
    setError(null);
    try {
      await deed(ids.of);
      ids.done();
      return true;
    } catch (e) {
      setError(e);
      return false;
    } finally {
      going.current = false;
      setBusy(false);
    }
  }
  return { busy, error, run, fields: error instanceof Problem ? error.fields : {} };
}
