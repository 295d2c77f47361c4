import { Button } from "./Button";
import { Note } from "./Note";

/** What somebody else kept meanwhile beside what was to be kept here; one of them is chosen. */
export function Versions({
  what,
  theirs,
  mine,
  busy,
  onTheirs,
  onMine,
}: {
  what: string;
  theirs: string;
  mine: string;
  busy?: boolean;
  onTheirs: () => void;
  onMine: () => void;
}) {
  return (
    <Note role="alert" kind="caution" className="mt-2">
      <p className="font-semibold">Somebody changed {what} meanwhile. Nothing of yours is lost; choose which stands.</p>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button disabled={busy} onClick={onTheirs}>
          Theirs: {theirs}
        </Button>
        <Button disabled={busy} onClick={onMine}>
          Yours: {mine}
        </Button>
      </div>
    </Note>
  );
}
