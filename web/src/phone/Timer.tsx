import { useEffect, useRef, useState } from "react";

/** Counts a hold down, with sound and vibration at the end; stopping early keeps the time held. */
export function Timer({ seconds, onDone }: { seconds: number; onDone: (held: number) => void }) {
  const [left, setLeft] = useState<number | null>(null);
  const end = useRef(0);
  const tell = useRef(onDone);
  useEffect(() => {
    tell.current = onDone;
  });
  const running = left !== null;
  useEffect(() => {
    if (!running) return;
    const t = setInterval(() => {
      const now = Math.max(0, Math.ceil((end.current - Date.now()) / 1000));
      setLeft(now);
      if (now > 0) return;
      clearInterval(t);
      setLeft(null);
      navigator.vibrate?.([200, 100, 200]);
      beep();
      tell.current(seconds);
    }, 200);
    return () => clearInterval(t);
  }, [running, seconds]);
  return (
    <button
      type="button"
      className={`mt-2 min-h-16 w-full rounded-sq border text-xl font-semibold ${running ? "border-tide bg-tide text-panel" : "border-line bg-ground"}`}
      onClick={() => {
        if (left === null) {
          end.current = Date.now() + seconds * 1000;
          setLeft(seconds);
          return;
        }
        setLeft(null);
        onDone(seconds - left);
      }}
    >
      {running ? (
        <>
          <span className="fig text-3xl">{left}</span> s · tap to stop
        </>
      ) : (
        `Time ${seconds} s`
      )}
    </button>
  );
}

function beep() {
  const audio = new AudioContext();
  const tone = audio.createOscillator();
  tone.frequency.value = 880;
  tone.connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.3);
  tone.onended = () => void audio.close();
}
