import type { ReactNode } from "react";
import { Problem } from "../api/problem";
import { Button } from "./Button";

export function Failure({ error, again }: { error: unknown; again?: () => void }) {
  if (!error) return null;
  const text = error instanceof Problem ? error.message : "Something went wrong on this page. Try again.";
  return (
    <div role="alert" className="my-3 border-l-4 border-brick bg-brick-ground px-4 py-3 text-ink">
      <strong className="text-brick">Not done. </strong>
      {text}
      {again && (
        <Button kind="quiet" onClick={again}>
          Try again
        </Button>
      )}
    </div>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="py-10 text-quiet">
      Reading {what} …
    </p>
  );
}

export function Empty({ children }: { children: ReactNode }) {
  return <div className="border border-dashed border-line px-5 py-8 text-lg">{children}</div>;
}
