let audio: AudioContext | null = null;

/** One short tone, now. */
export function tone(hertz: number) {
  audio ??= new AudioContext();
  void audio.resume();
  beep(audio, hertz, audio.currentTime);
}

function beep(on: AudioContext, hertz: number, t: number) {
  const sound = on.createOscillator();
  const gain = on.createGain();
  sound.frequency.value = hertz;
  gain.gain.setValueAtTime(0.25, t);
  gain.gain.exponentialRampToValueAtTime(0.001, t + 0.06);
  sound.connect(gain).connect(on.destination);
  sound.start(t);
  sound.stop(t + 0.07);
}

/** A metronome on the audio clock: beats are scheduled ahead of time, so that a busy page never shifts
 * one. onBeat is for the picture only. Returns how to stop it. */
export function metronome(secondsPerBeat: number, onBeat: (n: number) => void): () => void {
  const clock = new AudioContext();
  void clock.resume();
  const start = clock.currentTime + 0.1;
  let next = 0;
  let shown = -1;
  const timer = setInterval(() => {
    while (start + next * secondsPerBeat < clock.currentTime + 0.3) {
      beep(clock, next % 4 === 0 ? 1100 : 800, start + next * secondsPerBeat);
      next++;
    }
    const n = Math.floor((clock.currentTime - start) / secondsPerBeat);
    if (n > shown) {
      shown = n;
      onBeat(n);
    }
  }, 60);
  return () => {
    clearInterval(timer);
    void clock.close();
  };
}
