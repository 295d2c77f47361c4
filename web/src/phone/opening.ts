import { newId } from "../api/id";
import { kept, opened, setDevice, take, type Bundle } from "./kept";
import { call, problem } from "./outbox";

let typed = ""; // the short code that this device's id was made for

/** Opens a link on this device, by its secret or by a short code. A code may be of another link than this device has open, so
 * each is asked with an id of its own, and with the same one again where the answer was lost. A server of the release before
 * takes the secret itself. */
export async function openLink(by: { token: string } | { code: string }) {
  const known = "token" in by || by.code === typed ? kept().device : "";
  if (!known) await setDevice(newId());
  if ("code" in by) typed = by.code;
  const a = await call("/api/phone/devices/" + kept().device, { method: "PUT", body: JSON.stringify(by) });
  if (a.ok) {
    const { link } = (await a.json()) as { link: string };
    return "token" in by ? opened(by.token, link) : take(link);
  }
  if ("token" in by && a.status === 404) return;
  if (a.status !== 409 || !known) throw await problem(a);
  await setDevice(""); // this one was ended
  return openLink(by);
}

/** Looks for a cookie where this page holds nothing, as one put on the home screen may. */
export async function findLink() {
  const a = await call("/api/phone");
  if (a.ok) await take(((await a.json()) as Bundle).link);
}
