import { Figure } from "../../ui/Figure";
import { Note } from "../../ui/Note";
import { doseOf, sideName } from "../session";
import { now, type Play } from "./play";

/** An exercise before it begins: what, which side, how much, how it is set up and what good looks like. */
export function Ready({ play }: { play: Play }) {
  const n = now(play);
  if (!n || !play.item) return null;
  const x = play.item.exercise;
  return (
    <div>
      <p className="text-sm text-quiet">{play.item.name}</p>
      <h2 className="text-2xl leading-tight">{x.name}</h2>
      <div className="mt-1 flex items-start justify-between gap-3">
        <ul>
          {play.item.sides.map((s, i) => (
            <li key={s.side} className={i === n.turn.side ? "" : "text-quiet"}>
              <span className="fig text-2xl font-semibold">{doseOf(s, play.short).text}</span>{" "}
              <span className="text-lg capitalize">{sideName(play.item!, s)}</span>
            </li>
          ))}
          {n.turn.set > 0 && (
            <li>
              set {n.turn.set + 1}, {n.name}
            </li>
          )}
        </ul>
        <Figure shapes={play.item.drawing} label={x.name} className="w-28 shrink-0" />
      </div>
      {play.item.less && (
        <Note kind="caution" className="mt-2">
          Less than planned: {play.item.less}.
        </Note>
      )}
      <p className="mt-2">{x.setUp}</p>
      <ul className="mt-1 list-disc pl-5 text-lg">
        {x.cues.slice(0, 3).map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
      <p className="mt-2">
        <strong>Good: </strong>
        {x.good}
      </p>
      {play.item.mind.map((m) => (
        <Note key={m} kind="caution" className="mt-2">
          {m}
        </Note>
      ))}
      <Stop words={x.stopWhen} more={play.item.cautions} />
      {play.item.then && (
        <p className="mt-2">
          <strong>Then: {play.item.then.words}.</strong> {play.item.then.setUp}
        </p>
      )}
    </div>
  );
}

export function Stop({ words, more }: { words: readonly string[]; more: readonly string[] }) {
  return (
    <details className="mt-2">
      <summary className="min-h-11 py-2 font-semibold text-brick">⬣ When to stop</summary>
      <p>{words.join(", ")}.</p>
      {more.map((m) => (
        <p key={m} className="mt-1 text-quiet">
          {m}
        </p>
      ))}
    </details>
  );
}
