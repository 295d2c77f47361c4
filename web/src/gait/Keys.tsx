import { Fragment } from "react";

const keyWords = [
  ["← →", "one frame; with shift, ten"],
  ["↑ ↓", "the mark or proposal before, after"],
  ["a s", "left touchdown, left toe-off"],
  ["k l", "right touchdown, right toe-off"],
  ["Enter", "confirm the proposal at this frame"],
  ["u", "undo"],
  ["p", "play, stop"],
  ["+ − f", "zoom in, out, the whole picture"],
  ["c", "set the asked point in the middle; then Tab to it and move it with the arrows"],
];

/** The keys of the clip bench. */
export function Keys() {
  return (
    <details className="mt-4 text-sm">
      <summary className="min-h-9 cursor-pointer py-1">Keys</summary>
      <dl className="grid grid-cols-[max-content_1fr] gap-x-4 gap-y-0.5">
        {keyWords.map(([keys, what]) => (
          <Fragment key={keys}>
            <dt className="fig">{keys}</dt>
            <dd>{what}</dd>
          </Fragment>
        ))}
      </dl>
    </details>
  );
}
