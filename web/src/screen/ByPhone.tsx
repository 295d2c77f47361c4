import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { api, ask } from "../api/client";
import { useRunnerId } from "../runner/Runner";
import { Button } from "../ui/Button";
import { useDeed } from "../ui/deed";
import { Failure } from "../ui/Notice";
import { fixed } from "../ui/number";

/** The phone that is an instrument now, of one screen and measure. Both sides of the measure read the same one. */
interface Paired {
  runner: string;
  screen: string;
  measure: string;
  phone: string;
}
let paired: Paired | null = null;
let users = 0;
const listeners = new Set<() => void>();
function set(p: Paired | null) {
  paired = p;
  for (const f of listeners) f();
}
const listen = (f: () => void) => (listeners.add(f), () => void listeners.delete(f));
const path = ({ runner, screen, phone }: Paired) => ({ params: { path: { runner, screen, phone } } });

/** Ends the phone; where that does not arrive it ends by itself, as nobody asks for it. */
function end() {
  const was = paired;
  set(null);
  if (was) void api.DELETE("/api/runners/{runner}/screens/{screen}/phones/{phone}", path(was)).catch(() => undefined);
}

/** A phone as the inclinometer: its code, then its angle. The figure goes into the box; the coach's key enters it. */
export function ByPhone({
  screen,
  measure,
  onAngle,
}: {
  screen: string;
  measure: string;
  onAngle: (degrees: number) => void;
}) {
  const runner = useRunnerId();
  const client = useQueryClient();
  const all = useSyncExternalStore(listen, () => paired);
  const mine = all?.screen === screen && all.measure === measure ? all : null;
  const deed = useDeed();
  const key = ["phone", mine?.phone ?? ""];
  const q = useQuery({
    queryKey: key,
    enabled: mine !== null,
    retry: false,
    refetchInterval: (now) => (now.state.error ? false : 300),
    queryFn: () => ask(api.GET("/api/runners/{runner}/screens/{screen}/phones/{phone}", path(mine as Paired))),
  });
  useEffect(() => {
    users++;
    return () => {
      // The other side, or the same measure drawn anew, goes on with it.
      if (--users === 0) setTimeout(() => users === 0 && end(), 0);
    };
  }, []);
  const begin = () =>
    deed.run(async (id) => {
      const p = { runner, screen, measure, phone: id({ measure }) };
      const made = await ask(
        api.PUT("/api/runners/{runner}/screens/{screen}/phones/{phone}", { ...path(p), body: { measure } }),
      );
      client.setQueryData(["phone", p.phone], made);
      set(p);
    });
  const now = mine && !q.error ? q.data : null;
  if (!now)
    return (
      <>
        <Button className="min-h-12" disabled={deed.busy} onClick={() => void begin()}>
          {mine && q.error ? "The phone has ended: another code" : "Use a phone"}
        </Button>
        <Failure error={deed.error} />
      </>
    );
  return (
    <div
      role="group"
      aria-label="Phone"
      className="flex w-full flex-wrap items-center gap-x-4 gap-y-2 border border-line bg-ground p-2"
    >
      {now.state === "waiting" ? (
        <p role="status">
          On any phone open <strong className="break-all">{location.host}/phone/angle</strong> and type{" "}
          <strong className="fig text-3xl tracking-widest">{now.code}</strong>
          <span className="text-quiet"> · good once, for {Math.max(0, now.seconds)} s</span>
        </p>
      ) : (
        <>
          <p role="status" className="fig text-3xl font-semibold">
            {now.heard ? `${fixed(now.degrees, 1)}°` : "no angle yet"}
          </p>
          <Button
            kind={now.steady ? "main" : "plain"}
            className="min-h-12 disabled:opacity-40"
            disabled={!now.steady}
            onClick={() => onAngle(now.keep)}
          >
            {now.steady ? `Take ${fixed(now.keep, 1)}°` : "Hold still"}
          </Button>
        </>
      )}
      <Button kind="quiet" size="tight" onClick={end}>
        End it
      </Button>
    </div>
  );
}
