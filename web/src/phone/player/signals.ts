/** How the player makes itself known. */
export interface Signals {
  sound: boolean;
  buzz: boolean;
  voice: boolean;
  still: boolean; // no moving marker
}

export const usual: Signals = { sound: true, buzz: true, voice: false, still: false };

let audio: AudioContext | null = null;

/** Sound may begin only at somebody's touch. */
export function wake() {
  if (!globalThis.AudioContext) return;
  audio ??= new AudioContext();
  void audio.resume().catch(() => undefined);
}

/** A tone: hertz, and seconds. */
export function tone(hz: number, s = 0.12) {
  if (!audio || audio.state === "closed") return;
  const osc = audio.createOscillator();
  const gain = audio.createGain();
  gain.gain.value = 0.25;
  osc.frequency.value = hz;
  osc.connect(gain).connect(audio.destination);
  osc.start();
  osc.stop(audio.currentTime + s);
}

export function say(words: string) {
  if (!globalThis.speechSynthesis) return;
  speechSynthesis.cancel();
  const u = new SpeechSynthesisUtterance(words);
  u.lang = "en-GB";
  speechSynthesis.speak(u);
}

/** One thing the player tells: a tone, a buzz (ms) and words. */
export interface Cue {
  hz: number;
  s?: number;
  buzz: number[];
  words: string;
}

export function give(c: Cue, by: Signals) {
  if (by.sound) tone(c.hz, c.s);
  if (by.buzz) navigator.vibrate?.(c.buzz);
  if (by.voice && c.words) say(c.words);
}

/** Keeps the screen awake until it is let go; phones that cannot say no silently. */
export function awake(): () => void {
  let lock: WakeLockSentinel | null = null;
  let over = false;
  const ask = () => {
    if (over || document.visibilityState !== "visible" || !navigator.wakeLock) return;
    navigator.wakeLock
      .request("screen")
      .then((l) => (over ? void l.release() : (lock = l)))
      .catch(() => undefined); // a low battery may refuse: the session goes on
  };
  ask();
  document.addEventListener("visibilitychange", ask); // the screen lets it go when it is left
  return () => {
    over = true;
    document.removeEventListener("visibilitychange", ask);
    void lock?.release().catch(() => undefined);
  };
}
