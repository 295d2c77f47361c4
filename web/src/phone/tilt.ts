type Asks = { requestPermission?: () => Promise<"granted" | "denied"> };

/** Asks for the phone's tilt, at somebody's touch. It says why there is none; empty when it may be read. */
export async function askTilt(): Promise<string> {
  const no = "This phone does not let a page read its tilt. Allow it, or use the inclinometer.";
  if (!globalThis.DeviceOrientationEvent) return no;
  try {
    const asks = DeviceOrientationEvent as unknown as Asks;
    return asks.requestPermission && (await asks.requestPermission()) !== "granted" ? no : "";
  } catch {
    return no;
  }
}

/** Follows how far the phone's long side is tilted, degrees; nothing comes where there is no sensor. */
export function tilt(told: (beta: number) => void): () => void {
  const turned = (e: DeviceOrientationEvent) => e.beta !== null && told(e.beta);
  globalThis.addEventListener("deviceorientation", turned);
  return () => globalThis.removeEventListener("deviceorientation", turned);
}

/** How far the long side leans from the vertical, degrees: the world's up has the share sin β of it, whichever way the phone
 * turns about it. Upright is 0, also upside down; lying on its back is 90, tipped over the other way it is below 0. */
export const lean = (beta: number) => 90 - Math.abs(beta);
