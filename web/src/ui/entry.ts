import { useState } from "react";

/** An entry that follows what is in force until somebody types, and remembers what was in force when they began: a change
 * by somebody else since is a conflict, not an overwriting. */
export function useEntry<T>(now: T) {
  const [typed, setTyped] = useState<{ value: T; saw: T } | null>(null);
  return {
    value: typed ? typed.value : now,
    saw: typed ? typed.saw : now,
    set: (value: T) => setTyped((was) => ({ value, saw: was ? was.saw : now })),
    /** It is kept, or given up: what is in force stands there again. */
    leave: () => setTyped(null),
  };
}
