import type { Sung } from "../../core/listen";

/** What came of singing a line, in a sentence. */
export function sungSentence({ notes, found }: Sung): string {
  if (notes.every(({ heard }) => heard === "silent"))
    return "No voice was heard. Sing nearer to the microphone.";
  if (found === notes.length) return `Every note was there: all ${found}.`;
  return `${found} of ${notes.length} notes were at their pitch.`;
}

/** What may help, at most two sentences; nothing of it is a mark. */
export function sungAdvice({ notes, found, keySemitones }: Sung): string[] {
  const sounded = notes.filter(({ heard }) => heard !== "silent");
  if (sounded.length === 0) return [];
  const advice: string[] = [];
  if (keySemitones !== 0)
    advice.push(
      `You sang all of it ${keySemitones > 0 ? "higher" : "lower"} than the note you heard. That is fine here.`,
    );
  if (found < notes.length) {
    const off = notes.find(({ heard }) => heard === "high" || heard === "low");
    if (off) {
      const where = off.measure === "0" ? "The pickup" : `Bar ${off.measure}`;
      advice.push(
        `${where} was ${off.heard === "low" ? "too low" : "too high"} first. Hear it, then sing it again.`,
      );
    } else advice.push("Some notes had no voice. Sing on through the line, slips and all.");
  }
  return advice;
}
