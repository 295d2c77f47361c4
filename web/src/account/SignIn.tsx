import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState, type FormEvent } from "react";
import { api, ask } from "../api/client";
import { Problem } from "../api/problem";
import { WordMark } from "../Desk";
import { ThemeSwitch } from "../ui/theme";
import { useTitle } from "../ui/title";
import { Button } from "../ui/Button";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Failure } from "../ui/Notice";

export function SignIn() {
  useTitle("Sign in");
  const [withCode, setWithCode] = useState(false);
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const [number, setNumber] = useState("");
  const [asked, setAsked] = useState(false); // the account has a second factor
  const deed = useDeed();
  const go = useNavigate();
  const queries = useQueryClient();
  async function submit(e: FormEvent) {
    e.preventDefault();
    const second = number ? { number } : {};
    const done = await deed.run(async () => {
      try {
        await (withCode
          ? ask(api.POST("/api/redeem", { body: { email, code, password, ...second } }))
          : ask(api.POST("/api/session", { body: { email, password, ...second } })));
      } catch (e) {
        if (e instanceof Problem && e.fields["number"]) setAsked(true);
        throw e;
      }
    });
    if (done) {
      queries.clear();
      await go({ to: "/" });
    }
  }
  return (
    <div className="mx-auto flex min-h-screen max-w-md flex-col justify-center px-6">
      <div className="flex items-center justify-between">
        <WordMark />
        <ThemeSwitch />
      </div>
      <div className="ticks my-4" aria-hidden />
      <h1 className="mb-4 text-3xl">{withCode ? "Set a password" : "Sign in"}</h1>
      <form onSubmit={submit} className="space-y-4">
        <Field
          label="E-mail"
          type="email"
          autoComplete="username"
          required
          value={email}
          onChange={(e) => setEmail(e.target.value)}
          autoFocus
        />
        {withCode && (
          <Field
            label="One-time code"
            required
            value={code}
            onChange={(e) => setCode(e.target.value)}
            error={deed.fields["code"]}
            hint="From a colleague, or from the server's command line. Good for a day."
          />
        )}
        <Field
          label={withCode ? "New password" : "Password"}
          type="password"
          autoComplete={withCode ? "new-password" : "current-password"}
          required
          value={password}
          onChange={(e) => setPassword(e.target.value)}
          error={deed.fields["password"]}
          hint={withCode ? "10 letters or more." : undefined}
        />
        {asked && (
          <Field
            label="Number"
            inputMode="numeric"
            autoComplete="one-time-code"
            value={number}
            onChange={(e) => setNumber(e.target.value)}
            error={deed.fields["number"]}
            hint="Of your authenticator, or one of your recovery codes."
            autoFocus
          />
        )}
        <Failure error={deed.error} />
        <div className="flex flex-wrap gap-3">
          <Button kind="main" type="submit" disabled={deed.busy}>
            {withCode ? "Set it and sign in" : "Sign in"}
          </Button>
          <Button kind="quiet" onClick={() => setWithCode(!withCode)}>
            {withCode ? "I know my password" : "I have a code"}
          </Button>
        </div>
      </form>
      <p className="mt-10 text-sm text-quiet">
        Notchback supports coaching. It is not a diagnosis and not medical care; licensed practice and local rules come
        first.
      </p>
    </div>
  );
}
