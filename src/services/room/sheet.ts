import { LRUCache } from "lru-cache";
import { Op } from "sequelize";
import { groupBy } from "../../core/lists";
import {
  fingeringFor,
  fingeringText,
  instrumentById,
  parsePitch,
  pitchName,
  pitchToMidi,
  transposePitch,
  writtenInterval,
} from "../../core/music";
import { scorePlace, seatsFor } from "../../core/ready";
import { type BoardRow, rowNotes } from "../../core/room";
import { agreedPart, concertPart, derivePart, forDrumsOnly, type Score, timeline } from "../../core/score";
import { blockTitle, buildBlock, clockOf, type PlayerKind, temposOf, WarmUpError } from "../../core/warmup";
import {
  Band,
  type NamedSeat,
  newestRevisionOf,
  PieceRow,
  type Room,
  StripRow,
  seatsOfGroup,
} from "../../data";
import { type Director, found, ServiceError } from "../actor";
import { drillPage } from "../counting";
import { bandKnowledge } from "../knowledge";
import { engravePart, ownFingerings } from "../parts";
import { settingsOf } from "../settings";
import { routineDetail } from "../warmups";
import { type RunSheetBlock, runSheetOf } from "../week";
import type { RoomBlock, RoomInstrument, RoomSheet, RoomTune } from "./wire";

/** A seat a row: the first player of each instrument stands for it. */
interface RowSeat {
  seat: NamedSeat;
  known: ReadonlySet<number> | null;
}

/** Everything a lesson needs, read with the eyes of the director it is held for. */
export async function sheetOf(room: Room, eyes: Director, withNotes: boolean): Promise<RoomSheet> {
  const { bandId, groupId, date } = room;
  const [sheet, band, seats] = await Promise.all([
    runSheetOf(bandId, groupId, date, room.brought ?? []),
    Band.findByPk(bandId),
    seatsOfGroup(groupId),
  ]);
  const settings = settingsOf(found(band, "band"));
  const read = reader(eyes, seats);
  const blocks = (await Promise.all(sheet.blocks.map((block) => blocksOf(block, read, withNotes)))).flat();
  const instruments = [...new Set(seats.map(({ instrumentId }) => instrumentId))].sort(
    (a, b) => scorePlace(a) - scorePlace(b),
  );
  return {
    groupId,
    groupName: sheet.groupName,
    date,
    label: sheet.label,
    startsAt: sheet.startsAt,
    endsAt: sheet.endsAt,
    lesson: sheet.lesson,
    goal: room.goal,
    changeoverMin: sheet.changeover,
    naming: settings.naming,
    blocks,
    players: [...groupBy(seats, ({ playerId }) => playerId)].map(([id, own]) => ({
      id,
      name: own[0]!.playerName,
      instrumentIds: own.map(({ instrumentId }) => instrumentId),
    })),
    instruments: instruments.map(tuningOf),
    absent: sheet.absentIds,
    home: sheet.home,
  };
}

function tuningOf(id: string): RoomInstrument {
  const instrument = instrumentById(id);
  if (!instrument.tuningNote) return { id, label: instrument.name, tuning: null };
  const concert = parsePitch(instrument.tuningNote);
  return {
    id,
    label: instrument.name,
    tuning: {
      written: pitchName(transposePitch(concert, writtenInterval(instrument)), false),
      concert: pitchName(concert, false),
      midi: pitchToMidi(concert),
    },
  };
}

type Reader = ReturnType<typeof reader>;

/** What reads the material of blocks, each thing of the band once. */
function reader(eyes: Director, seats: readonly NamedSeat[]) {
  const knowledge = bandKnowledge(eyes.bandId);
  const own = new Map<string, ReturnType<typeof ownFingerings>>();
  const fingeringsOf = (instrumentId: string) => {
    const known = own.get(instrumentId) ?? ownFingerings(eyes.bandId, instrumentId);
    own.set(instrumentId, known);
    return known;
  };
  const rowOf = async (score: Score, { seat }: Pick<RowSeat, "seat">): Promise<BoardRow> => {
    const instrument = instrumentById(seat.instrumentId);
    const options = { variant: seat.variant, own: await fingeringsOf(seat.instrumentId) };
    const text = (written: Parameters<typeof fingeringFor>[1]) => {
      const first = fingeringFor(instrument, written, options)?.choices[0];
      return first ? fingeringText(first) : "";
    };
    return {
      instrumentIds: [seat.instrumentId],
      labels: [instrument.name],
      notes: rowNotes(score, text),
    };
  };
  /** One seat an instrument, in score order. */
  const onePerInstrument = async (drums: boolean): Promise<RowSeat[]> => {
    const known = await knowledge;
    return [...groupBy(known.seated(seatsFor(drums, seats)), ({ instrumentId }) => instrumentId).values()]
      .map(([first]) => ({ seat: first!, known: first!.known.notes }))
      .sort((a, b) => scorePlace(a.seat.instrumentId) - scorePlace(b.seat.instrumentId));
  };

  return {
    async line(lineId: string): Promise<RoomTune | null> {
      const revision = await newestRevisionOf(eyes.bandId, lineId);
      if (!revision || revision.score.catalogued) return null;
      const { score } = revision;
      const concert = concertPart(score);
      const rows: BoardRow[] = [];
      for (const each of await onePerInstrument(forDrumsOnly(score))) {
        const { instrumentId, stage, part } = each.seat;
        const derived = derivePart(score, instrumentById(instrumentId), stage, {
          known: each.known ?? new Set(),
          partId: agreedPart(score, instrumentId, part),
        });
        rows.push(await rowOf(derived.score, each));
      }
      return tuneOf(lineId, concert, rows, "");
    },
    async counting(drillId: string): Promise<RoomTune> {
      const { score, svg } = await drillPage(eyes, drillId, "medium");
      const row = { instrumentIds: [], labels: ["Everybody"], notes: rowNotes(score, () => "") };
      return tuneOf(null, score, [row], svg);
    },
    async routine(routineId: string) {
      const { content } = await routineDetail(eyes, routineId);
      const clock = clockOf(content);
      const kinds = await onePerInstrument(false);
      const blocks = [];
      for (const [i, block] of content.blocks.entries()) {
        const build = buildBlock(block, content.pieceBpm);
        const rows: BoardRow[] = [];
        let sounds: Score | null = null;
        let unheard = true;
        for (const each of kinds) {
          const { instrumentId, stage, variant } = each.seat;
          const kind: PlayerKind = { instrument: instrumentById(instrumentId), stage, variant };
          const score = partIn(build, kind);
          if (!score) continue;
          const row = await rowOf(score, each);
          if (row.notes.length === 0) continue;
          if (sounds === null || (unheard && row.notes.some(({ written }) => written))) sounds = score;
          unheard &&= row.notes.every(({ written }) => written === null);
          rows.push(row);
        }
        blocks.push({
          id: block.id,
          title: blockTitle(block),
          minutes: clock.blocks[i]!.seconds / 60,
          bpm: temposOf(block.tempo, content.pieceBpm)[0]!,
          tune: sounds ? { ...tuneOf(null, sounds, rows, ""), unheard } : null,
        });
      }
      return blocks;
    },
    async piece(pieceId: string): Promise<RoomTune | null> {
      const piece = await PieceRow.findOne({ where: { id: pieceId, bandId: eyes.bandId } });
      return piece?.lineId ? this.line(piece.lineId) : null;
    },
  };
}

/** What a block of a routine is for one kind of player; null where it has nothing to play. */
function partIn(build: ReturnType<typeof buildBlock>, kind: PlayerKind): Score | null {
  try {
    return build(kind).score;
  } catch (error) {
    if (error instanceof WarmUpError) return null;
    throw error;
  }
}

function tuneOf(lineId: string | null, score: Score, rows: BoardRow[], slide: string): RoomTune {
  const numbers = score.parts[0].measures.map(({ number }) => number);
  return { lineId, score, numbers, rows, slide, unheard: false };
}

async function blocksOf(block: RunSheetBlock, read: Reader, withNotes: boolean): Promise<RoomBlock[]> {
  const { strip, kind, title, minutes, forWhom, from } = block;
  const about = {
    stripId: strip.id,
    stripTitle: title,
    kind,
    whom: strip.forWhom,
    forWhom,
    from,
    note: withNotes ? block.note : "",
  };
  if (kind === "routine" && strip.refId) {
    const blocks = await orNothing(read.routine(strip.refId));
    if (blocks && blocks.length > 0) {
      // What the routine leaves of the minutes it was given is for words, at its last block.
      const rest = Math.max(0, minutes - blocks.reduce((sum, each) => sum + each.minutes, 0));
      return blocks.map((each, i) => ({
        ...about,
        id: `${strip.id}/${each.id}`,
        title: each.title,
        minutes: each.minutes + (i === blocks.length - 1 ? rest : 0),
        bpm: each.bpm,
        bars: "",
        tune: each.tune,
        note: i === 0 ? about.note : "",
      }));
    }
  }
  const tune = strip.refId ? await orNothing(tuneFor(strip.kind, strip.refId, read)) : null;
  return [
    {
      ...about,
      id: strip.id,
      title,
      minutes,
      bpm: tune ? Math.round(timeline(tune.score).bpm) : null,
      bars: tune ? barsText(tune.numbers, strip.firstBar, strip.lastBar) : "",
      tune,
    },
  ];
}

async function tuneFor(kind: RoomBlock["kind"], refId: string, read: Reader): Promise<RoomTune | null> {
  if (kind === "line" || kind === "drill" || kind === "test") return read.line(refId);
  if (kind === "counting") return read.counting(refId);
  return kind === "piece" ? read.piece(refId) : null;
}

/** What was taken off the shelf since it was planned is words only. */
async function orNothing<T>(found: Promise<T>): Promise<T | null> {
  try {
    return await found;
  } catch (error) {
    if (error instanceof ServiceError && error.code === "not-found") return null;
    throw error;
  }
}

function barsText(numbers: readonly string[], firstBar: number | null, lastBar: number | null): string {
  if (firstBar === null || lastBar === null) return "";
  const [from, to] = [numbers[firstBar], numbers[lastBar]];
  if (from === undefined || to === undefined) return "";
  return from === to ? from : `${from}-${to}`;
}

const drawn = new LRUCache<string, Promise<string>>({ max: 200 });

/** One part of a line engraved for the wall; "concert" for the line as it sounds. */
export async function notesFor(room: Room, lineId: string, instrumentId: string): Promise<{ svg: string }> {
  const revision = found(
    (await isOfLesson(room, lineId)) ? await newestRevisionOf(room.bandId, lineId) : null,
    "line",
  );
  const key = `${revision.id}/${room.groupId}/${instrumentId}`;
  const known = drawn.get(key);
  if (known) return { svg: await known };
  const making = engraved(room, revision.score, instrumentId);
  drawn.set(key, making);
  making.catch(() => drawn.delete(key));
  return { svg: await making };
}

/** Whether a line is played in a lesson: on its run sheet, or as a piece of it. */
async function isOfLesson({ bandId, groupId, date, brought }: Room, lineId: string): Promise<boolean> {
  const strips = await StripRow.findAll({
    where: {
      bandId,
      removedAt: null,
      [Op.or]: [{ groupId, date, atHome: false }, { id: brought ?? [] }],
    },
    attributes: ["refId"],
  });
  const refs = strips.flatMap(({ refId }) => refId ?? []);
  return refs.includes(lineId) || (await PieceRow.count({ where: { bandId, id: refs, lineId } })) > 0;
}

/** So many bars are drawn larger, in more systems. */
const FEW_BARS = 8;

async function engraved(room: Room, score: Score, instrumentId: string): Promise<string> {
  const width = score.parts[0].measures.length <= FEW_BARS ? "narrow" : "medium";
  if (instrumentId === "concert") return engravePart(concertPart(score), width);
  const seat = found(
    (await seatsOfGroup(room.groupId)).find((each) => each.instrumentId === instrumentId),
    "instrument",
  );
  const { known } = (await bandKnowledge(room.bandId)).of(seat);
  const partId = agreedPart(score, instrumentId, seat.part);
  const options = { known: known.notes, partId };
  return engravePart(derivePart(score, instrumentById(instrumentId), seat.stage, options).score, width);
}
