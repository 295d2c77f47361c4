import { useEffect, useRef, useState } from "react";
import { newId } from "../api/id";
import { Problem } from "../api/problem";
import type { Schemas } from "../api/client";

export type Body = Schemas["TrialInBody"];

/** A trial that the server has not confirmed. `why` says what it refused. */
export interface Waiting {
  id: string;
  body: Body;
  why?: string;
}

const place = (screen: string) => `trial ${screen} `;

/** What is kept of a screen on this device, in the order it was entered; a trial a place, so that two windows leave each
 * other's alone. */
export function kept(screen: string): Waiting[] {
  const out: Waiting[] = [];
  for (const k of Object.keys(localStorage))
    if (k.startsWith(place(screen)))
      try {
        out.push(JSON.parse(localStorage.getItem(k) ?? "") as Waiting);
      } catch {
        localStorage.removeItem(k);
      }
  return out.sort((a, b) => (a.id < b.id ? -1 : 1)); // ids are made in order of time
}

/** Keeps trials, and forgets those that are no more. */
export function keep(screen: string, now: readonly Waiting[], before: readonly Waiting[]) {
  try {
    for (const w of now) localStorage.setItem(place(screen) + w.id, JSON.stringify(w));
  } catch {
    // A full store: they stay in the page.
  }
  for (const w of before) if (!now.some((x) => x.id === w.id)) localStorage.removeItem(place(screen) + w.id);
}

/** Sends trials in the order they were entered, one after another; each is kept on this device until the server has
 * confirmed it, so that neither a lost signal nor a closed page loses one. `send` resolves once it is written: to send
 * again under the same id is the same write. A refused one stays to be read and holds nothing back. */
export function useWaiting(screen: string, send: (w: Waiting) => Promise<unknown>) {
  const [waiting, show] = useState<Waiting[]>(() => kept(screen));
  const [trouble, setTrouble] = useState<unknown>(null);
  const all = useRef(waiting);
  const going = useRef(false);
  const doSend = useRef(send);
  useEffect(() => {
    doSend.current = send;
  });
  const set = (now: Waiting[]) => {
    keep(screen, now, all.current);
    all.current = now;
    show(now);
  };
  const flush = useRef(async () => {
    if (going.current) return;
    going.current = true;
    try {
      for (let next; (next = all.current.find((w) => !w.why));) {
        const { id } = next;
        try {
          await doSend.current(next);
          set(all.current.filter((w) => w.id !== id));
          setTrouble(null);
        } catch (e) {
          const refused =
            e instanceof Problem && e.status >= 400 && e.status < 500 && ![401, 408, 429].includes(e.status);
          if (!refused) return setTrouble(e);
          set(all.current.map((w) => (w.id === id ? { ...w, why: Object.values(e.fields)[0] ?? e.message } : w)));
        }
      }
    } finally {
      going.current = false;
    }
  });
  const left = waiting.some((w) => !w.why);
  useEffect(() => {
    if (!left) return;
    void flush.current();
    const again = setInterval(() => void flush.current(), 3000);
    const back = () => void flush.current();
    window.addEventListener("online", back);
    return () => {
      clearInterval(again);
      window.removeEventListener("online", back);
    };
  }, [left]);
  return {
    waiting,
    trouble: left ? trouble : null,
    add: (body: Body) => {
      set([...all.current, { id: newId(), body }]);
      void flush.current();
    },
    drop: (id: string) => set(all.current.filter((w) => w.id !== id)),
  };
}
