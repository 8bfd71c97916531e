import { LONGEST_TAKE_SEC } from "../core/listen";

/** How long a browser may look at a file to tell its length, ms. */
const LONGEST_LOOK_MS = 4000;

/** Seconds a sound file lasts, as far as this browser can tell without decoding it; null when it cannot. */
function secondsOf(file: Blob): Promise<number | null> {
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

const LARGEST_FILE_MB = 60;

/** What of a file cannot be sent, in one sentence, before a byte of it is; nothing when it can. */
export async function refusalOf(file: File): Promise<string> {
  if (file.size === 0) return `${file.name} is empty.`;
  if (file.size > LARGEST_FILE_MB * 1e6)
    return `${file.name} has ${Math.round(file.size / 1e6)} MB; the most that can be sent is ${LARGEST_FILE_MB} MB. Choose a shorter recording.`;
  const seconds = await secondsOf(file);
  if (seconds !== null && seconds > LONGEST_TAKE_SEC)
    return `${file.name} lasts ${Math.round(seconds / 60)} minutes; the bench hears at most ${LONGEST_TAKE_SEC / 60}. Choose a shorter recording.`;
  return "";
}
