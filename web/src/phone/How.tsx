import { Figure } from "../ui/Figure";
import type { Item } from "./session";
import { Note } from "../ui/Note";

/** How it is done, what this runner minds, and when to stop. */
export function How({ item }: { item: Item }) {
  const x = item.exercise;
  return (
    <>
      <Figure shapes={item.drawing} label={x.name} className="mt-3 w-40" />
      <p className="mt-3">{x.setUp}</p>
      <ul className="mt-2 list-disc pl-5">
        {x.cues.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
      {item.then && (
        <p className="mt-2">
          <strong>Then: {item.then.words}.</strong> {item.then.setUp}
        </p>
      )}
      {x.tempo && (
        <p className="mt-2 text-quiet">
          Tempo: {x.tempo}. Rest {x.restS} s between sets.
        </p>
      )}
      {item.mind.map((c) => (
        <Note key={c} kind="caution within" className="mt-2">
          {c}
        </Note>
      ))}
      {item.cautions.map((c) => (
        <p key={c} className="mt-2 text-quiet">
          {c}
        </p>
      ))}
      <Note kind="stop within" className="mt-2">
        <strong>Stop at:</strong> {x.stopWhen.join(", ")}.
      </Note>
    </>
  );
}
