import { useQueryClient } from "@tanstack/react-query";
import { Link, type ErrorComponentProps } from "@tanstack/react-router";
import { useEffect } from "react";
import { Button } from "./Button";
import { Empty } from "./Notice";
import { useTitle } from "./title";

export function Lost() {
  useTitle("No such page");
  return (
    <div className="mx-auto max-w-xl p-8">
      <Empty>
        There is no such page.{" "}
        <Link to="/" className="underline">
          Go to Today
        </Link>
      </Empty>
    </div>
  );
}

/** Files of a page that were there before an update are not any more. */
const outdated = (e: unknown) => /dynamically imported module|module script|preload/i.test(String(e));

/** A page that cannot be drawn says what to do next; the pages beside it go on. */
export function Broken({ error, reset }: ErrorComponentProps) {
  useTitle("This page broke");
  const old = outdated(error);
  const queries = useQueryClient();
  useEffect(() => {
    void queries.resetQueries(); // what broke it is not drawn again
  }, [queries]);
  return (
    <div role="alert" className="mx-auto max-w-xl p-8">
      <h1 className="text-2xl">{old ? "There is a newer version of this page" : "This page cannot be shown"}</h1>
      <p className="mt-2 text-lg">
        {old
          ? "Load it to go on. What was kept is on the server."
          : "What was kept is on the server. Try it once more; if it stays like this, tell who looks after your server when it happened and on which page."}
      </p>
      <div className="mt-4 flex flex-wrap gap-3">
        <Button kind="main" onClick={() => (old ? location.reload() : reset())}>
          {old ? "Load it" : "Try again"}
        </Button>
        <Link to="/" className="inline-flex min-h-11 items-center underline underline-offset-4">
          Go to Today
        </Link>
      </div>
    </div>
  );
}
