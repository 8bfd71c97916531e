import { type RefObject, useState } from "react";
import { call } from "../../client/api";
import type { TakeDetail } from "../../services/listening/wire";
import type { PinView } from "../../services/practice/wire";
import { Problem } from "../../ui/Problem";
import { RecordSound } from "../../ui/RecordSound";
import { useCall } from "../../ui/use-call";
import { placeName, writtenName } from "../../ui/wording";
import { Key } from "./Key";

/** Words at a note are short, seconds. */
const LONGEST_WORD_SEC = 60;

interface Props {
  take: TakeDetail;
  pins: PinView[];
  change: (pins: PinView[]) => void;
  /** The note that is chosen, sounding, or of the finding that is open; null before there is one. */
  at: { eventId: string; measure: string; beat: number } | null;
  words: RefObject<HTMLInputElement | null>;
  play: (eventId: string) => void;
}

/** The director's marks at single notes, in words or in the own voice; the player finds them at the bar. */
export function Pins({ take, pins, change, at, words, play }: Props) {
  const [text, setText] = useState("");
  const [sound, setSound] = useState<Blob | null>(null);
  const { run, busy, problem } = useCall();
  const keep = async () => {
    if (!at || (text.trim() === "" && !sound)) return;
    const { eventId, measure } = at;
    const kept = await run(async () => {
      const { id } = await call<{ id: string }>("POST", `/api/takes/${take.id}/pins`, { eventId, text });
      if (sound) await call("PUT", `/api/pins/${id}/sound`, sound);
      return { id, eventId, measure, text: text.trim(), voice: sound !== null };
    }, "The mark could not be kept. It stays here; try again in a moment.");
    if (!kept) return;
    change([...pins, kept]);
    setText("");
    setSound(null);
    words.current?.blur();
  };
  const remove = async (id: string) => {
    const gone = await run(() => call("DELETE", `/api/pins/${id}`), "The mark could not be taken away.");
    if (gone) change(pins.filter((pin) => pin.id !== id));
  };
  const where = at ? `${placeName(at)}, ${writtenName(at.eventId, take.score)}` : "";
  return (
    <section className="flex flex-col gap-1 text-sm" aria-label="Marks at a note">
      {pins.length > 0 && (
        <ul className="panel divide-y divide-base-300" data-testid="pins">
          {pins.map((pin) => (
            <li key={pin.id} className="flex flex-wrap items-center gap-2 px-3 py-1">
              <button type="button" className="link font-bold" onClick={() => play(pin.eventId)}>
                {pin.measure === "0" ? "pickup" : `bar ${pin.measure}`}
              </button>
              <span className="flex-1">{pin.text}</span>
              {pin.voice && (
                // biome-ignore lint/a11y/useMediaCaption: the director's own voice
                <audio controls preload="none" src={`/api/pins/${pin.id}/sound`} className="h-8 w-48" />
              )}
              <button type="button" className="btn btn-ghost btn-xs" onClick={() => remove(pin.id)}>
                Take away
              </button>
            </li>
          ))}
        </ul>
      )}
      <form
        className="flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        <label className="flex min-w-56 flex-1 items-center gap-2">
          <Key of="M" />
          <input
            ref={words}
            className="input input-sm flex-1 border-neutral"
            aria-label="Mark at this note"
            value={text}
            maxLength={400}
            placeholder={at ? `Mark ${where}` : "Choose a note, then mark it"}
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => event.key === "Escape" && event.currentTarget.blur()}
          />
        </label>
        <RecordSound sound={sound} change={setSound} longestSec={LONGEST_WORD_SEC} label="Say it" />
        <button type="submit" className="btn btn-sm" disabled={busy || !at || (text.trim() === "" && !sound)}>
          Mark it
        </button>
      </form>
      <Problem text={problem} />
    </section>
  );
}
