import { useQuery } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { api, ask, type Schemas } from "../api/client";
import { rooms, stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import { Note } from "../ui/Note";

type Coach = Schemas["StoreCoach"];
type Code = { email: string; code: string };

/** The practice's coaches; an owner lets in, resets and ends access. */
export function Colleagues({ me }: { me: Coach }) {
  const list = useQuery(rooms.coaches());
  const [code, setCode] = useState<Code | null>(null);
  const owner = me.role === "owner";
  return (
    <>
      <Failure error={list.error} again={() => list.refetch()} />
      {list.isPending && <Loading what="the coaches" />}
      <ul className="border-t border-line">
        {list.data?.map((c) => (
          <Colleague key={c.id} coach={c} me={me} onCode={setCode} />
        ))}
      </ul>
      {code && (
        <Note role="status" kind="good" className="mt-3 text-lg">
          Code for {code.email}, shown once, good for a day: <strong className="fig">{code.code}</strong>. On the
          sign-in page: “I have a code”.
        </Note>
      )}
      {owner ? (
        <Invite onCode={setCode} />
      ) : (
        <p className="mt-2 text-sm text-quiet">An owner lets colleagues in, resets them and ends their access.</p>
      )}
    </>
  );
}

function Colleague({ coach: c, me, onCode }: { coach: Coach; me: Coach; onCode: (c: Code) => void }) {
  const deed = useDeed(stale.coaches);
  const [ending, setEnding] = useState(false);
  const path = { params: { path: { coach: c.id } } };
  const run = (f: () => Promise<unknown>) => void deed.run(f).then(() => setEnding(false));
  return (
    <li className="border-b border-line bg-panel px-3 py-1">
      <div className="flex flex-wrap items-center gap-x-4">
        <span className="mr-auto py-2">
          <strong className={c.ended ? "text-quiet" : ""}>{c.name}</strong>{" "}
          <span className="text-quiet">{c.email}</span>{" "}
          {c.ended ? (
            <span className="text-brick">no access</span>
          ) : (
            <span className="text-quiet">
              · {c.role}
              {c.secondFactor && " · second factor"}
            </span>
          )}
        </span>
        {me.role === "owner" && (
          <span className="flex flex-wrap gap-1">
            {c.ended ? (
              <Button kind="quiet" onClick={() => run(() => ask(api.PUT("/api/coaches/{coach}/access", path)))}>
                Let in again
              </Button>
            ) : (
              <>
                {c.role === "coach" && (
                  <Button
                    kind="quiet"
                    onClick={() =>
                      run(async () => {
                        const made = await ask(api.POST("/api/coaches/{coach}/code", path));
                        onCode({ email: c.email, code: made.code });
                      })
                    }
                  >
                    One-time code
                  </Button>
                )}
                <Button
                  kind="quiet"
                  onClick={() =>
                    run(() =>
                      ask(
                        api.PUT("/api/coaches/{coach}/role", {
                          ...path,
                          body: { role: c.role === "owner" ? "coach" : "owner" },
                        }),
                      ),
                    )
                  }
                >
                  {c.role === "owner" ? "No longer owner" : "Make owner"}
                </Button>
                {c.secondFactor && c.role === "coach" && (
                  <Button
                    kind="quiet"
                    onClick={() => run(() => ask(api.DELETE("/api/coaches/{coach}/second-factor", path)))}
                  >
                    End second factor
                  </Button>
                )}
                <Button kind="quiet" onClick={() => setEnding(true)}>
                  End access
                </Button>
              </>
            )}
          </span>
        )}
      </div>
      {ending && (
        <Note kind="caution" className="mb-2 flex flex-wrap items-center gap-3">
          <span className="mr-auto">
            {c.name} is signed out everywhere at once. What they decided and entered stays, with their name.
          </span>
          <Button kind="stop" onClick={() => run(() => ask(api.DELETE("/api/coaches/{coach}/access", path)))}>
            End {c.id === me.id ? "my own" : "their"} access
          </Button>
          <Button onClick={() => setEnding(false)}>Leave it</Button>
        </Note>
      )}
      <Failure error={deed.error} />
    </li>
  );
}

function Invite({ onCode }: { onCode: (c: Code) => void }) {
  const [name, setName] = useState("");
  const [email, setEmail] = useState("");
  const deed = useDeed(stale.coaches);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void deed.run(async () => {
      onCode(await ask(api.POST("/api/coaches", { body: { name, email } })));
      setName("");
      setEmail("");
    });
  };
  return (
    <form onSubmit={submit} className="max-w-2xl">
      <Heading level={2}>Invite a colleague</Heading>
      <div className="grid gap-4 md:grid-cols-2">
        <Field label="Colleague's name" value={name} onChange={(e) => setName(e.target.value)} required />
        <Field
          label="Colleague's e-mail"
          value={email}
          onChange={(e) => setEmail(e.target.value)}
          error={deed.fields["email"]}
          required
        />
      </div>
      <Failure error={deed.error} />
      <Button type="submit" className="mt-3" disabled={deed.busy}>
        Invite
      </Button>
    </form>
  );
}

/** Who did what, of everybody or about one runner; for owners. */
export function WhoDidWhat() {
  const [runner, setRunner] = useState("");
  const [before, setBefore] = useState<number[]>([]); // the pages that were turned, the newest first
  const runners = useQuery(rooms.roster("", false));
  const q = useQuery(rooms.audit(runner, before.at(-1) ?? 0));
  const when = (t: string) =>
    new Date(t).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
  const last = q.data?.at(-1)?.seq;
  return (
    <section aria-label="Who did what">
      <Heading level={2}>Who did what</Heading>
      <div className="max-w-md">
        <Choice
          label="About"
          value={runner}
          options={[{ id: "", name: "everybody" }, ...(runners.data?.map((r) => ({ id: r.id, name: r.name })) ?? [])]}
          onChange={(r) => {
            setRunner(r);
            setBefore([]);
          }}
        />
      </div>
      <Failure error={q.error} again={() => q.refetch()} />
      {q.isPending && <Loading what="who did what" />}
      <table className="mt-3 w-full text-left">
        <thead className="text-sm text-quiet">
          <tr>
            <th className="font-medium">When</th>
            <th className="font-medium">Who</th>
            <th className="font-medium">Runner</th>
            <th className="font-medium">What</th>
          </tr>
        </thead>
        <tbody>
          {q.data?.map((d) => (
            <tr key={d.seq} className="border-b border-line">
              <td className="fig py-1 pr-4 whitespace-nowrap">{when(d.at)}</td>
              <td className="pr-4">{d.coach || (d.runner ? "on the phone" : "on the server")}</td>
              <td className="pr-4">{d.runner}</td>
              <td>{d.did}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-2 flex gap-3">
        {before.length > 0 && <Button onClick={() => setBefore(before.slice(0, -1))}>Newer</Button>}
        {q.data?.length === 200 && last !== undefined && (
          <Button onClick={() => setBefore([...before, last])}>Older</Button>
        )}
      </div>
    </section>
  );
}
