/** How long a browser may look at a file to tell its length, ms. */
const LONGEST_LOOK_MS = 4000;

/** Seconds a sound file lasts, as far as this browser can tell without decoding it; null when it cannot. */
export function secondsOf(file: Blob): Promise<number | null> {
  const url = URL.createObjectURL(file);
  const audio = new Audio();
  return new Promise<number | null>((tell) => {
    const timer = setTimeout(() => tell(null), LONGEST_LOOK_MS);
    const end = (seconds: number | null) => {
      clearTimeout(timer);
      tell(seconds);
    };
    audio.onloadedmetadata = () => end(Number.isFinite(audio.duration) ? audio.duration : null);
    audio.onerror = () => end(null);
    audio.preload = "metadata";
    audio.src = url;
  }).finally(() => {
    audio.removeAttribute("src");
    URL.revokeObjectURL(url);
  });
}
