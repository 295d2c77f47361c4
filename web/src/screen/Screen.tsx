import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { rooms, renew, stale } from "../api/rooms";
import { useReference } from "../Desk";
import { useRunner, useRunnerId } from "../runner/Runner";
import { Signs } from "../runner/Signs";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import type { View } from "./entry";
import { Leftover } from "./Leftover";
import { Start } from "./Start";
import { Taking } from "./Taking";

/** Stations to choose from, then one at a time; broken off and resumed on any device. Two coaches may enter at once: each
 * sees the other's entries within seconds. */
export function Screen() {
  const id = useRunnerId();
  const ref = useReference();
  const runner = useRunner();
  const q = useQuery(rooms.screen(id));
  const queries = useQueryClient();
  const deed = useDeed(stale.runner(id, "screen"));
  // A trial answers with what it changed; the rest of the room stays.
  const keep = (v: View | Schemas["Taking"]) =>
    renew<View>(queries, rooms.screen(id), (was) => ({ ...was, current: undefined, ...v }) as View);
  if (q.isPending || ref.isPending || runner.isPending) return <Loading what="the screen" />;
  if (!q.data || !ref.data || !runner.data)
    return <Failure error={q.error ?? ref.error ?? runner.error} again={() => q.refetch()} />;
  const view = q.data;
  if (view.current)
    return (
      <Taking
        key={view.current.id /* what waits to be kept belongs to it */}
        runner={id}
        view={view}
        current={view.current}
        reference={ref.data}
        keep={keep}
      />
    );
  return (
    <>
      <Heading>Screen</Heading>
      <Failure error={deed.error} />
      {view.past.map((p) => (
        <Leftover key={p.id} screen={p.id} on={p.on} measures={ref.data.measures} />
      ))}
      {!view.signsAsked && <Signs view={runner.data} reference={ref.data} source="screen" ask />}
      <Start
        runner={id}
        view={view}
        stations={ref.data.stations}
        measures={ref.data.measures}
        busy={deed.busy}
        start={(kind, stations) =>
          deed.run(async (write) => {
            await keep(
              await ask(
                api.PUT("/api/runners/{runner}/screens/{screen}", {
                  params: { path: { runner: id, screen: write({ kind, stations }) } },
                  body: { kind, stations },
                }),
              ),
            );
          })
        }
      />
    </>
  );
}
