import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Code } from "../ui/Code";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";

const date = (t: string) =>
  new Date(t).toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" });

/** Makes the runner's private link, shown once as text and as a QR code. */
export function PrivateLink({ view }: { view: Schemas["RunnerView"] }) {
  const [link, setLink] = useState<Schemas["NewLink"] | null>(null);
  const deed = useDeed(stale.runner(view.id));
  const live = view.links.filter((l) => l.live);
  return (
    <section aria-label="Private link">
      <Heading level={2}>Private link for the phone</Heading>
      <p className="max-w-2xl text-quiet">
        Whoever has the link sees this runner's session and can log it, on as many devices as it is opened on. It is
        shown once; making a new one ends the old.
      </p>
      {live.map((l) => (
        <Live key={l.id} runner={view.id} link={l} onEnded={() => setLink(null)} />
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

/** A link in use: the devices it is open on, each ended by itself, and a code for one more. */
function Live({ runner, link, onEnded }: { runner: string; link: Schemas["RecordLink"]; onEnded: () => void }) {
  const [code, setCode] = useState<Schemas["ShortCode"] | null>(null);
  const deed = useDeed(stale.runner(runner));
  const path = { runner, link: link.id };
  return (
    <div className="mt-3 max-w-2xl border border-line bg-panel p-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <p className="font-medium">One link is live, until {date(link.expires)}.</p>
        <Button
          kind="stop"
          disabled={deed.busy}
          onClick={() =>
            deed.run(async () => {
              await ask(api.DELETE("/api/runners/{runner}/links/{link}", { params: { path } }));
              onEnded();
            })
          }
        >
          End it now
        </Button>
      </div>
      {link.devices.length === 0 && <p className="mt-2 text-quiet">It was not opened yet.</p>}
      <ul aria-label="Devices the link is open on">
        {link.devices.map((d) => (
          <li key={d.id} className="flex flex-wrap items-center justify-between gap-3 border-t border-line py-2">
            <span>
              {d.name}
              <span className="ml-2 text-sm text-quiet">
                opened {date(d.opened)}, last used {date(d.seen)}
              </span>
            </span>
            <Button
              kind="quiet"
              disabled={deed.busy}
              aria-label={`End it on ${d.name}, opened ${date(d.opened)}`}
              onClick={() =>
                deed.run(() =>
                  ask(
                    api.DELETE("/api/runners/{runner}/devices/{device}", {
                      params: { path: { runner, device: d.id } },
                    }),
                  ),
                )
              }
            >
              End it there
            </Button>
          </li>
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap items-center gap-4 border-t border-line pt-3">
        <Button
          disabled={deed.busy}
          onClick={() =>
            deed.run(async () => {
              setCode(await ask(api.POST("/api/runners/{runner}/links/{link}/codes", { params: { path } })));
            })
          }
        >
          {code ? "Make another short code" : "Make a short code"}
        </Button>
        {code ? (
          <p>
            <strong className="fig text-2xl">{code.code}</strong> opens it on one more device, once, within ten minutes.
          </p>
        ) : (
          <p className="text-sm text-quiet">For the home screen of a phone, or a phone that cannot read the link.</p>
        )}
      </div>
      <Failure error={deed.error} />
    </div>
  );
}
