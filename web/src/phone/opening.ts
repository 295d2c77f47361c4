import { newId } from "../api/id";
import { kept, opened, setDevice, take, type Bundle } from "./kept";
import { call, problem } from "./outbox";

/** Opens a link on this device, by its secret or by a short code. A server of the release before takes the secret itself. */
export async function openLink(by: { token: string } | { code: string }) {
  const known = kept().device;
  if (!known) await setDevice(newId());
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
