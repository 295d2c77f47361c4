import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState, type FormEvent } from "react";
import { api, ask, type Schemas } from "../api/client";
import { rooms, stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Code } from "../ui/Code";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import { Note } from "../ui/Note";

export function Password() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const [done, setDone] = useState(false);
  const deed = useDeed(stale.sessions);
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    setDone(await deed.run(() => ask(api.POST("/api/password", { body: { old, new: fresh } }))));
  };
  return (
    <form onSubmit={submit} className="max-w-2xl">
      <Heading level={2}>Change your password</Heading>
      <div className="grid gap-4 md:grid-cols-2">
        <Field
          label="Present password"
          type="password"
          autoComplete="current-password"
          value={old}
          onChange={(e) => setOld(e.target.value)}
          error={deed.fields["old"]}
        />
        <Field
          label="New password"
          type="password"
          autoComplete="new-password"
          value={fresh}
          onChange={(e) => setFresh(e.target.value)}
          error={deed.fields["new"]}
          hint="10 letters or more; a few words that do not belong together."
        />
      </div>
      <Failure error={deed.error} />
      <Button type="submit" className="mt-3" disabled={deed.busy}>
        Change it
      </Button>
      {done && (
        <span role="status" className="ml-3 text-tide">
          Changed. Other devices are signed out.
        </span>
      )}
    </form>
  );
}

/** A number of the coach's own phone besides the password, at every sign-in. */
export function SecondFactor({ on }: { on: boolean }) {
  const [handed, setHanded] = useState<Schemas["Handed"] | null>(null);
  const [number, setNumber] = useState("");
  const [password, setPassword] = useState("");
  const [recovery, setRecovery] = useState<string[]>([]);
  const deed = useDeed(stale.me);
  const begin = () => void deed.run(async () => setHanded(await ask(api.POST("/api/me/second-factor/secret"))));
  const confirm = (e: FormEvent) => {
    e.preventDefault();
    void deed.run(async () => {
      const body = { secret: handed?.secret ?? "", number, password };
      setRecovery((await ask(api.PUT("/api/me/second-factor", { body }))).recovery);
      setHanded(null);
      setNumber("");
      setPassword("");
    });
  };
  const end = (e: FormEvent) => {
    e.preventDefault();
    void deed.run(async () => {
      await ask(api.POST("/api/me/second-factor/end", { body: { password } }));
      setRecovery([]);
      setPassword("");
    });
  };
  const secret = (
    <Field
      label="Your password"
      type="password"
      autoComplete="current-password"
      value={password}
      onChange={(e) => setPassword(e.target.value)}
      error={deed.fields["password"]}
      required
    />
  );
  return (
    <section aria-label="Second factor" className="max-w-2xl">
      <Heading level={2}>Second factor</Heading>
      {recovery.length > 0 && (
        <Note role="status" kind="good" className="mb-3">
          <p className="font-semibold">
            From now on a number is asked for at sign-in. Write these recovery codes down: each works once in place of a
            number, and they are shown only now.
          </p>
          <ul className="fig mt-2 grid grid-cols-2 gap-x-6">
            {recovery.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
        </Note>
      )}
      {on ? (
        <form onSubmit={end} className="flex flex-wrap items-end gap-3">
          <p className="w-full">A number of your authenticator is asked for at every sign-in.</p>
          {secret}
          <Button type="submit" disabled={deed.busy}>
            Sign in by password alone again
          </Button>
        </form>
      ) : handed ? (
        <form onSubmit={confirm}>
          <div className="flex flex-wrap items-center gap-6 border border-line bg-panel p-4">
            <Code rows={handed.qr} label="Code for your authenticator" />
            <p className="min-w-0 flex-1">
              Photograph it with an authenticator on your phone, or type{" "}
              <strong className="fig break-all">{handed.secret}</strong> into it. Then enter the number it shows.
            </p>
          </div>
          <div className="mt-3 grid gap-4 md:grid-cols-2">
            <Field
              label="Number"
              inputMode="numeric"
              autoComplete="one-time-code"
              value={number}
              onChange={(e) => setNumber(e.target.value)}
              error={deed.fields["number"]}
              required
            />
            {secret}
          </div>
          <Button type="submit" className="mt-3" disabled={deed.busy}>
            Ask for it from now on
          </Button>
        </form>
      ) : (
        <>
          <p>A number of your phone besides the password: who learns the password alone does not come in.</p>
          <Button className="mt-2" onClick={begin} disabled={deed.busy}>
            Set up a second factor
          </Button>
        </>
      )}
      <Failure error={deed.error} />
    </section>
  );
}

/** Where the coach is signed in, each to be ended by itself, and signing out. */
export function Sessions() {
  const list = useQuery(rooms.sessions());
  const deed = useDeed(stale.sessions);
  const queries = useQueryClient();
  const go = useNavigate();
  const leave = (everywhere: boolean) =>
    void deed.run(async () => {
      await ask(everywhere ? api.DELETE("/api/sessions") : api.DELETE("/api/session"));
      queries.clear();
      await go({ to: "/sign-in" });
    });
  const when = (t: string) =>
    new Date(t).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
  return (
    <section aria-label="Where you are signed in">
      <Heading level={2}>Where you are signed in</Heading>
      <Failure error={list.error} again={() => list.refetch()} />
      {list.isPending && <Loading what="your sessions" />}
      <ul className="max-w-2xl border-t border-line">
        {list.data?.map((s) => (
          <li
            key={s.id}
            className="flex min-h-12 items-center justify-between gap-4 border-b border-line bg-panel px-3"
          >
            <span>
              <strong>{s.device}</strong>{" "}
              <span className="text-quiet">
                since <span className="fig">{when(s.began)}</span>, last used{" "}
                <span className="fig">{when(s.seen)}</span>
              </span>
            </span>
            {s.here ? (
              <span className="text-tide">this one</span>
            ) : (
              <Button
                kind="quiet"
                onClick={() =>
                  void deed.run(() => ask(api.DELETE("/api/sessions/{id}", { params: { path: { id: s.id } } })))
                }
              >
                End it
              </Button>
            )}
          </li>
        ))}
      </ul>
      <div className="mt-3 flex gap-3">
        <Button onClick={() => leave(false)}>Sign out here</Button>
        <Button onClick={() => leave(true)}>Sign out everywhere</Button>
      </div>
      <Failure error={deed.error} />
    </section>
  );
}
