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

const everyFourth = (n: number): number => (n % 4 === 0 ? 1100 : 800);

/** A metronome on the audio clock: beats are scheduled ahead of time, so that a busy page never shifts
 * one. pitch gives the tone of beat n in hertz; onBeat is for the picture only. Returns how to stop it. */
export function metronome(secondsPerBeat: number, onBeat: (n: number) => void, pitch = everyFourth): () => void {
  const clock = new AudioContext();
  void clock.resume();
  const start = clock.currentTime + 0.1;
  let next = 0;
  let shown = -1;
  const timer = setInterval(() => {
    // Far enough ahead that a page in the background, whose timers run once a second, keeps time too.
    while (start + next * secondsPerBeat < clock.currentTime + 1.5) {
      beep(clock, pitch(next), start + next * secondsPerBeat);
      next++;
    }
    const n = Math.floor((clock.currentTime - start) / secondsPerBeat);
    if (n > shown) {
      shown = n;
      onBeat(n);
    }
  }, 40);
  return () => {
    clearInterval(timer);
    void clock.close();
  };
}
