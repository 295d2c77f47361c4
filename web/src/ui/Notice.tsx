import type { ReactNode } from "react";
import { Problem } from "../api/problem";
import { Button } from "./Button";
import { Note } from "./Note";

export function Failure({ error, again }: { error: unknown; again?: () => void }) {
  if (!error) return null;
  const text = error instanceof Problem ? error.message : "Something went wrong on this page. Try again.";
  return (
    <Note role="alert" kind="stop" className="my-3">
      <strong className="text-brick">Not done. </strong>
      {text}
      {again && (
        <Button kind="quiet" onClick={again}>
          Try again
        </Button>
      )}
    </Note>
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
