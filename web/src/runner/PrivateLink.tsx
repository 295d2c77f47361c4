import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Code } from "../ui/Code";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";

/** Makes the runner's private link, shown once as text and as a QR code. */
export function PrivateLink({ view }: { view: Schemas["RunnerView"] }) {
  const [link, setLink] = useState<Schemas["NewLink"] | null>(null);
  const deed = useDeed(stale.runner(view.id));
  const live = view.links.filter((l) => l.live);
  const date = (t: string) =>
    new Date(t).toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" });
  return (
    <section aria-label="Private link">
      <Heading level={2}>Private link for the phone</Heading>
      <p className="max-w-2xl text-quiet">
        Whoever has the link sees this runner's session and can log it. It is shown once; making a new one ends the old.
      </p>
      {live.map((l) => (
        <p key={l.id} className="mt-2 flex items-center gap-4">
          One link is live, until {date(l.expires)}.
          <Button
            kind="stop"
            onClick={() =>
              deed.run(async () => {
                await ask(
                  api.DELETE("/api/runners/{runner}/links/{link}", {
                    params: { path: { runner: view.id, link: l.id } },
                  }),
                );
                setLink(null);
              })
            }
          >
            End it now
          </Button>
        </p>
      ))}
      <Button
        className="mt-3"
        disabled={deed.busy}
        onClick={() =>
          deed.run(async (id) => {
            setLink(
              await ask(
                api.PUT("/api/runners/{runner}/links/{link}", {
                  params: { path: { runner: view.id, link: id("link") } },
                }),
              ),
            );
          })
        }
      >
        Make a private link
      </Button>
      <Failure error={deed.error} />
      {link && (
        <div className="mt-4 flex flex-wrap items-center gap-6 border border-line bg-panel p-4">
          <Code rows={link.qr} label="QR code of the private link" />
          <div className="min-w-0 flex-1">
            <p className="fig break-all">{link.url}</p>
            <p className="mt-2 text-quiet">Ends {date(link.expires)}.</p>
            <Button className="mt-2" onClick={() => navigator.clipboard?.writeText(link.url)}>
              Copy
            </Button>
          </div>
        </div>
      )}
    </section>
  );
}
