import { pitchName } from "../../core/music";
import type { Cause, GoodThing } from "../../core/progress";
import type { Score } from "../../core/score";
import { barStretch, heardName, namesOf, strokesOnly } from "./takes";

/** One cause told to its player: what, where, how often. Short sentences, said once however often it happened. */
export function causeText({ kind, written, playedMidi, places, outOf }: Cause, score: Score): string {
  const sound = strokesOnly(score) ? "stroke" : "note";
  const name = written ? pitchName(written, false) : "note";
  const heard = playedMidi === null ? "" : heardName(playedMidi, score);
  const count = places.length;
  const every = count > 1 && count === outOf;
  const where = barsText(places);
  const times = count === 1 ? where : `${count} times (${lower(where)})`;
  switch (kind) {
    case "key-signature":
      return count === 1
        ? `${where}: the key makes it ${name}. You played ${heard}.`
        : `${every ? "Every" : "The"} ${name} was played as ${heard}. The key makes it ${name}: ${times}.`;
    case "semitone":
    case "other":
      return count === 1
        ? `${where}: ${name} is written. You played ${heard}.`
        : `${every ? "Every" : "The"} ${name} was played as ${heard}: ${times}.`;
    case "partial":
      return `${count === 1 ? where : times}: ${name} came out as ${heard}. Same fingering, other air.`;
    case "octave":
      return `${count === 1 ? where : times}: ${name} came in another octave.`;
    case "missed":
      return written
        ? count === 1
          ? `${where}: ${article(name)} ${name} is missing.`
          : `${every ? "Every" : "The"} ${name} is missing: ${times}.`
        : `${count === 1 ? "A stroke is" : `${count} strokes are`} missing (${lower(where)}).`;
    case "heard-wrong":
      return `${numbered(count, sound)} ${count === 1 ? "was" : "were"} not right (${lower(where)}). Your director heard it.`;
    case "doubled":
      return `${numbered(count, sound)} ${count === 1 ? "was" : "were"} played twice: ${namesOf(places, score)} (${lower(where)}).`;
    case "bars-left-out":
      return `${barStretch(places, true)} left out. Follow the line with your finger once.`;
    case "repeat-left-out":
      return `You went on without the repeat: play ${barStretch(places)} twice.`;
    case "dynamics":
      return `${count === 1 ? "A change of loudness was" : `${count} changes of loudness were`} not heard (${lower(where)}). Play the difference.`;
    case "repeat-too-many":
      return `You played ${barStretch(places)} twice; there is no repeat.`;
    case "accents":
      return `The accents do not stand out (${lower(where)}). More air at the start of each one, the others softer.`;
    case "not-short":
      return `${numbered(count, sound)} with a dot ${count === 1 ? "was" : "were"} held on (${lower(where)}). A dot makes a note short.`;
    case "staccato-slower":
      return `The short notes got slower (${lower(where)}). Keep the beat: short is not slow.`;
    case "extra":
      return `${numbered(count, sound)} too many (${lower(where)}).`;
    case "cracked":
      return `${numbered(count, sound)} cracked at the start (${lower(where)}). Set lips and air first.`;
    case "corrected":
      return `${numbered(count, sound)} ${count === 1 ? "was" : "were"} wrong at first and put right (${lower(where)}). Hear the note before you play it.`;
    case "squeak":
      return `${count === 1 ? "A squeak" : `${count} squeaks`} (${lower(where)}). Keep the air steady and the holes closed.`;
    case "rushing":
      return `The beat ran away from ${lower(where)} on. Keep the tempo of the beginning.`;
    case "dragging":
      return `The beat got slower from ${lower(where)} on. Keep the tempo of the beginning.`;
    case "uneven":
      return `The rhythm is not even (${lower(where)}). Count aloud and clap it slowly first.`;
    case "early":
      return `${numbered(count, sound)} came early (${lower(where)}). Wait for the beat.`;
    case "late":
      return `${numbered(count, sound)} came late (${lower(where)}). Keep moving with the beat.`;
    case "short":
      return `${numbered(count, sound)} ${count === 1 ? "was" : "were"} too short (${lower(where)}). Hold to the end.`;
    case "long":
      return `${numbered(count, sound)} ${count === 1 ? "was" : "were"} too long (${lower(where)}). Let go in time.`;
    case "breath-in-slur":
      return `${count === 1 ? "A breath" : `${count} breaths`} inside a slur (${lower(where)}). Breathe before it.`;
    case "re-tongued-slur":
      return `Tongued inside a slur (${lower(where)}). Tongue only its first note.`;
    case "hesitation":
      return `A stop before ${lower(where)}. Play into it slowly, without stopping.`;
    case "restart":
      return `You began again at ${lower(where)}. Next time keep going.`;
    case "stopped-early":
      return `You stopped at ${lower(where)}. Next time play on to the end.`;
  }
}

const numbered = (count: number, what: string) => (count === 1 ? `One ${what}` : `${count} ${what}s`);
const lower = (text: string) => text.replace(/^./, (letter) => letter.toLowerCase());
const article = (name: string) => (/^[AEF]/.test(name) ? "an" : "a");

/** "Bar 5", "Bars 3, 5 and 7", "Bars 2, 3, 4 and 2 more". */
function barsText(places: Cause["places"]): string {
  const bars = [...new Set(places.map(({ measure }) => (measure === "0" ? "the pickup" : measure)))];
  const pickup = bars[0] === "the pickup";
  if (bars.length === 1) return pickup ? "The pickup" : `Bar ${bars[0]}`;
  const shown = bars.length > 4 ? bars.slice(0, 3) : bars.slice(0, -1);
  const last = bars.length > 4 ? `${bars.length - 3} more` : bars.at(-1)!;
  return `${pickup ? "" : "Bars "}${shown.join(", ")} and ${last}`.replace(/^./, (letter) =>
    letter.toUpperCase(),
  );
}

/** What went well, in a sentence. */
export function goodText(good: GoodThing, score: Score): string {
  const sounds = strokesOnly(score) ? "strokes" : "notes";
  switch (good.kind) {
    case "all-notes":
      return `Every one of the ${good.notes} ${sounds} was right.`;
    case "steady":
      return "Your beat was steady all the way.";
    case "bars":
      return good.from === good.to
        ? `Bar ${good.from} was clean.`
        : `Bars ${good.from} to ${good.to} were clean.`;
    case "notes":
      return `${good.found} of ${good.notes} ${sounds} were right.`;
  }
}
