import { Player, type Film } from "./film";

/** Takes pictures of frames: JPEGs in base64 for keeping, or, with pixels, a string of the small
 * picture's grey values for comparing. */
export async function snapshots(
  film: Film,
  frames: number[],
  {
    wide = 960,
    pixels = false,
    progress = () => {},
  }: { wide?: number; pixels?: boolean; progress?: (done: number) => void } = {},
): Promise<Map<number, string>> {
  const out = new Map<number, string>();
  if (!frames.length) return out;
  const canvas = document.createElement("canvas");
  canvas.width = Math.min(wide, film.width);
  canvas.height = Math.round((canvas.width * film.height) / film.width);
  const pen = canvas.getContext("2d", { willReadFrequently: true })!;
  let arrived = () => {};
  const player = new Player(film, (video) => {
    pen.drawImage(video, 0, 0, canvas.width, canvas.height);
    arrived();
  });
  try {
    for (const n of new Set(frames)) {
      await new Promise<void>((done) => {
        arrived = done;
        player.shown = -1;
        player.go(n);
      });
      progress(out.size);
      if (pixels) {
        const { data } = pen.getImageData(0, 0, canvas.width, canvas.height);
        let s = "";
        for (let i = 1; i < data.length; i += 16) s += String.fromCharCode(data[i] ?? 0);
        out.set(n, s);
      } else out.set(n, jpeg(canvas));
    }
  } finally {
    player.close();
  }
  return out;
}

/** The picture in base64, made smaller until it may be kept. */
function jpeg(canvas: HTMLCanvasElement): string {
  for (const quality of [0.85, 0.7, 0.5, 0.3]) {
    const url = canvas.toDataURL("image/jpeg", quality);
    const text = url.slice(url.indexOf(",") + 1);
    if (text.length < 230_000) return text;
  }
  throw new Error("the picture is too large to keep");
}
