import type { Stretch } from "./checking";

type Asks = { requestPermission?: () => Promise<"granted" | "denied"> };

/** Asks for the phone's motion sensor, at somebody's touch. It says why there is none; empty when there is one. */
export async function askMotion(): Promise<string> {
  if (!globalThis.DeviceMotionEvent && !("Accelerometer" in globalThis))
    return "This phone has no motion sensor that a page may read.";
  const asks = globalThis.DeviceMotionEvent as unknown as Asks | undefined;
  try {
    if (asks?.requestPermission && (await asks.requestPermission()) !== "granted")
      return "The motion sensor was not allowed. Allow it, or count.";
  } catch {
    return "The motion sensor was not allowed. Allow it, or count.";
  }
  return "";
}

type Sensor = EventTarget & { x: number; y: number; z: number; start(): void; stop(): void };
type Made = new (o: { frequency: number }) => Sensor;

/** Reads the size of the acceleration, m/s², until it is stopped; nothing comes where there is no sensor. */
export function feel(reading: (ms: number, a: number) => void): () => void {
  const from = performance.now();
  const give = (x: number, y: number, z: number) => reading(performance.now() - from, Math.hypot(x, y, z));
  const Accelerometer = (globalThis as unknown as { Accelerometer?: Made }).Accelerometer;
  let sensor: Sensor | null = null;
  if (Accelerometer)
    try {
      sensor = new Accelerometer({ frequency: 60 });
      const s = sensor;
      s.addEventListener("reading", () => give(s.x, s.y, s.z));
      s.addEventListener("error", () => undefined); // then the event below speaks, or nothing does
      s.start();
      return () => s.stop();
    } catch {
      sensor = null;
    }
  const moved = (e: DeviceMotionEvent) => {
    const a = e.accelerationIncludingGravity;
    if (a && a.x !== null && a.y !== null && a.z !== null) give(a.x, a.y, a.z);
  };
  globalThis.addEventListener("devicemotion", moved);
  return () => globalThis.removeEventListener("devicemotion", moved);
}

const round = (n: number, by: number) => Math.round(n * by) / by;

/** Cuts what was felt from one moment to another into a stretch of its own. */
export function stretch(felt: [ms: number, a: number][], from: number, to: number): Stretch {
  const mine = felt.filter(([ms]) => ms >= from && ms <= to);
  const zero = mine[0]?.[0] ?? 0;
  return { ms: mine.map(([ms]) => round(ms - zero, 10)), a: mine.map(([, a]) => round(a, 100)) };
}
