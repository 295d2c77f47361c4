/** A metronome on the audio clock: beats are scheduled ahead of time, so that a busy page never shifts
 * one. onBeat is for the picture only. Returns how to stop it. */
export function metronome(secondsPerBeat: number, onBeat: (n: number) => void): () => void {
  const audio = new AudioContext();
  void audio.resume();
  const start = audio.currentTime + 0.1;
  let next = 0;
  let shown = -1;
  const timer = setInterval(() => {
    while (start + next * secondsPerBeat < audio.currentTime + 0.3) {
      const t = start + next * secondsPerBeat;
      const tone = audio.createOscillator();
      const gain = audio.createGain();
      tone.frequency.value = next % 4 === 0 ? 1100 : 800;
      gain.gain.setValueAtTime(0.25, t);
      gain.gain.exponentialRampToValueAtTime(0.001, t + 0.06);
      tone.connect(gain).connect(audio.destination);
      tone.start(t);
      tone.stop(t + 0.07);
      next++;
    }
    const n = Math.floor((audio.currentTime - start) / secondsPerBeat);
    if (n > shown) {
      shown = n;
      onBeat(n);
    }
  }, 60);
  return () => {
    clearInterval(timer);
    void audio.close();
  };
}
