import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { useDeed } from "../ui/deed";
import { Failure } from "../ui/Notice";

/** Clips are kept with a screen; here one is begun when none is open. */
export function StartHere({ room, runner, ask: askSigns }: { room: Schemas["Gait"]; runner: string; ask: () => void }) {
  const deed = useDeed(stale.runner(runner));
  if (room.locked)
    return <p className="text-brick">A warning sign is open ({room.locked}): nothing is kept until it is cleared.</p>;
  if (!room.signsAsked)
    return (
      <Button kind="main" onClick={askSigns}>
        Ask the warning signs to keep it
      </Button>
    );
  return (
    <>
      <Button
        kind="main"
        disabled={deed.busy}
        onClick={() =>
          deed.run(async (id) => {
            await ask(
              api.PUT("/api/runners/{runner}/screens/{screen}", {
                params: { path: { runner, screen: id("screen") } },
                body: { kind: "gait", stations: [] },
              }),
            );
          })
        }
      >
        Start a gait screen to keep it
      </Button>
      <Failure error={deed.error} />
    </>
  );
}
