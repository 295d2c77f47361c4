import { useRef, useState } from "react";
import { Problem } from "../api/problem";

/** Runs a deed once at a time, keeping its error for display. */
export function useDeed() {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const going = useRef(false);
  async function run(deed: () => Promise<unknown>): Promise<boolean> {
    if (going.current) return false;
    going.current = true;
    setBusy(true);
    setError(null);
    try {
      await deed();
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
