import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState, type FormEvent } from "react";
import { useMe } from "../Desk";
import { api, ask } from "../api/client";
import { rooms, stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import { Note } from "../ui/Note";
import { UnitChoice } from "../ui/UnitChoice";
import { readIn, type Units } from "../ui/units";

/** Colleagues, one-time codes, the own password and signing out. */
export function Practice() {
  const me = useMe();
  const list = useQuery(rooms.coaches());
  const [code, setCode] = useState<{ email: string; code: string } | null>(null);
  const deed = useDeed();
  return (
    <div className="px-6 py-6">
      <Heading>{me.data?.practice ?? "Practice"}</Heading>
      <Failure error={list.error ?? deed.error} />
      {list.isPending && <Loading what="the coaches" />}
      <ul className="border-t border-line">
        {list.data?.map((c) => (
          <li key={c.id} className="flex items-center justify-between border-b border-line bg-panel px-3 py-1">
            <span>
              <strong>{c.name}</strong> <span className="text-quiet">{c.email}</span>
            </span>
            <Button
              kind="quiet"
              onClick={() =>
                deed.run(async () => {
                  const made = await ask(api.POST("/api/coaches/{coach}/code", { params: { path: { coach: c.id } } }));
                  setCode({ email: c.email, code: made.code });
                })
              }
            >
              One-time code
            </Button>
          </li>
        ))}
      </ul>
      {code && (
        <Note role="status" kind="good" className="mt-3 text-lg">
          Code for {code.email}, shown once, good for a day: <strong className="fig">{code.code}</strong>. On the
          sign-in page: “I have a code”.
        </Note>
      )}
      <Invite onCode={setCode} />
      <MyUnits />
      <Password />
      <Leave />
    </div>
  );
}

function Invite({ onCode }: { onCode: (c: { email: string; code: string }) => void }) {
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

/** What this coach reads figures in; the record keeps them as it does. */
function MyUnits() {
  const me = useMe();
  const queries = useQueryClient();
  const key = rooms.me().queryKey;
  const choose = useMutation({
    scope: { id: "units" }, // one after another, the last choice last
    mutationFn: (units: Units) => ask(api.PUT("/api/me/units", { body: { units } })),
    onMutate: (units) => {
      queries.setQueryData(key, (was) => was && { ...was, units });
      readIn(units);
    },
    onSettled: async () => {
      if (queries.isMutating() > 1) return;
      queries.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" && !q.isActive() });
      await queries.invalidateQueries(); // every answer is written in the units of who asks
    },
  });
  return (
    <section aria-label="Units" className="max-w-2xl">
      <Heading level={2}>What you read figures in</Heading>
      <UnitChoice units={me.data?.units ?? {}} onChange={choose.mutate} />
      <p className="mt-2 text-sm text-quiet">
        For you alone; a runner chooses on the phone. Shoes, feet and stacks are measured in mm, and house rules keep
        the units they are written in.
      </p>
      {choose.isSuccess && (
        <span role="status" className="text-tide">
          Kept.
        </span>
      )}
      <Failure error={choose.error} />
    </section>
  );
}

function Password() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const [done, setDone] = useState(false);
  const deed = useDeed();
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
          hint="10 letters or more."
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

function Leave() {
  const deed = useDeed();
  const queries = useQueryClient();
  const go = useNavigate();
  const leave = (everywhere: boolean) =>
    deed.run(async () => {
      await ask(everywhere ? api.DELETE("/api/sessions") : api.DELETE("/api/session"));
      queries.clear();
      await go({ to: "/sign-in" });
    });
  return (
    <>
      <Heading level={2}>Sign out</Heading>
      <div className="flex gap-3">
        <Button onClick={() => leave(false)}>Sign out here</Button>
        <Button onClick={() => leave(true)}>Sign out everywhere</Button>
      </div>
      <Failure error={deed.error} />
    </>
  );
}
