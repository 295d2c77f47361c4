import { useState } from "react";
import { Problem } from "../api/problem";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { openLink } from "./opening";

/** Opens the link here by the short code that another device of the runner, or the coach, shows. */
export function ShortCode() {
  const [code, setCode] = useState("");
  const [said, setSaid] = useState("");
  const [busy, setBusy] = useState(false);
  const open = async () => {
    setBusy(true);
    setSaid("");
    try {
      await openLink({ code });
    } catch (e) {
      const why = e instanceof Problem && e.fields.code;
      setSaid(
        why ? `The code ${why}.` : e instanceof Problem ? e.message : "No signal. Try again where there is some.",
      );
    }
    setBusy(false);
  };
  return (
    <form
      className="mt-6 border-t border-line pt-4"
      onSubmit={(e) => {
        e.preventDefault();
        void open();
      }}
    >
      <Field
        label="Or type a short code"
        hint="The phone that has the link makes one, at the foot of its page; so does your coach."
        error={said}
        value={code}
        onText={setCode}
        autoCapitalize="characters"
        autoComplete="off"
        spellCheck={false}
      />
      <Button kind="main" type="submit" className="mt-3 w-full" disabled={busy || code.trim() === ""}>
        Open
      </Button>
    </form>
  );
}
