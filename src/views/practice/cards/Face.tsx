import { readRhythmName } from "../../../core/score";
import type { CardFace, PracticeView } from "../../../services/practice/wire";
import { FingeringCard, MiniStaff } from "../../../ui/Fingering";
import { RhythmStaff } from "../../../ui/RhythmStaff";
import { meaningOf } from "../../../ui/wording";

const COMMON = { beats: 4, beatType: 4 } as const;

/** One side of a card, or both. */
export function Face({
  card,
  turned,
  hints,
}: {
  card: CardFace;
  turned: boolean;
  hints: PracticeView["cards"];
}) {
  switch (card.kind) {
    case "name": {
      const { note } = card;
      const hint = note.staffPosition % 2 === 0 ? hints.lineHint : hints.spaceHint;
      return (
        <>
          <MiniStaff position={note.staffPosition} alter={note.alter} clef={note.clef} />
          <span className="text-quiet">{turned ? "" : "What is it called?"}</span>
          {turned && <span className="font-heading text-4xl font-bold">{note.name.replace(/\d+$/, "")}</span>}
          {turned && hint && <span className="text-sm text-quiet">{hint}</span>}
        </>
      );
    }
    case "fingering":
      return turned ? (
        <FingeringCard note={card.note} forDirector={false} />
      ) : (
        <>
          <span className="font-heading text-4xl font-bold">{card.note.name}</span>
          <span className="text-quiet">Show it with your hands.</span>
        </>
      );
    case "rhythm": {
      const event = readRhythmName(card.name);
      return (
        <>
          {event ? (
            <RhythmStaff events={[event]} metre={COMMON} label="A sign of rhythm" />
          ) : (
            <span className="font-heading text-3xl font-bold">{card.name}</span>
          )}
          <span className="text-quiet">{turned ? "" : "What is it, and how long?"}</span>
          {turned && <span className="text-xl font-bold">{card.name}</span>}
          {turned && <span>{meaningOf(card.name)}</span>}
        </>
      );
    }
    case "sign":
      return (
        <>
          <span className="font-heading text-3xl font-bold">{card.name}</span>
          <span className="text-quiet">{turned ? "" : "What do you do?"}</span>
          {turned && <span className="text-xl">{meaningOf(card.name)}</span>}
        </>
      );
  }
}
