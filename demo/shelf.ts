import { writeWav } from "../src/core/audio";
import { BOOK_TITLE, type BookLine } from "../src/core/book";
import { instrumentById } from "../src/core/music";
import { plainSounds, playAlong, renderPlan } from "../src/core/playalong";
import { derivePart, type Score, timeline } from "../src/core/score";
import { PlayerInstrument } from "../src/data";
import type { Director } from "../src/services/actor";
import { assign } from "../src/services/giving";
import { setFingerings } from "../src/services/parts";
import {
  attachRecording,
  catalogueLine,
  describeLine,
  lineScore,
  saveView,
  setBars,
  setOverride,
  writePencil,
} from "../src/services/shelf";

/** A book on the stand whose notes stay on paper: invented, like everything here. */
const PAPER_BOOK = "Tidewater Method, Book One";
const ON_PAPER = [
  {
    number: 52,
    page: 18,
    title: "Old Ferry Waltz",
    fifths: -3,
    beats: 3,
    bars: 16,
    bpm: 96,
    introduces: "dotted half notes in E♭",
  },
  {
    number: 57,
    page: 20,
    title: "Signal Flags",
    fifths: -2,
    beats: 4,
    bars: 8,
    bpm: 84,
    introduces: "eighth rests",
  },
];

/** What a year of teaching leaves on the shelf: own order, further parts, pencil, a recording, a view, confirmed fingerings. */
export async function furnishShelf(
  director: Director,
  lineIds: ReadonlyMap<number, string>,
  lines: readonly BookLine[],
  highBrassId: string,
): Promise<void> {
  const idOf = (number: number) => lineIds.get(number)!;
  const onPaper: string[] = [];
  for (const line of ON_PAPER) {
    const { lineId } = await catalogueLine(director, {
      ...line,
      book: PAPER_BOOK,
      beatType: 4,
      unpitched: false,
      teachingPlace: null,
      teachingReason: "",
    });
    onPaper.push(lineId);
  }
  await assign(director, {
    lineId: onPaper[0]!,
    groupId: highBrassId,
    goalBpm: 96,
    timesPerWeek: 4,
    dueDate: new Date(Date.now() + 8 * 86_400_000).toISOString().slice(0, 10),
    note: "From the book on your stand, page 18. Count three in every bar.",
    sure: ["day-off"],
  });

  const order: [number, number, string][] = [
    [2, 1, "E♭ first: the horns find it more easily"],
    [1, 2, "then F, with the lips warm"],
    [20, 3, "eighths early, while counting is fresh"],
    [13, 4, "ties after eighths: easier to count then"],
  ];
  for (const [number, teachingPlace, teachingReason] of order) {
    const line = lines.find((each) => each.number === number)!;
    await describeLine(director, idOf(number), {
      title: line.title,
      number,
      page: line.page,
      introduces: line.introduces,
      book: BOOK_TITLE,
      teachingPlace,
      teachingReason,
    });
  }

  // Over the break on purpose: A4 to E5 as the clarinets read it.
  await setOverride(director, idOf(33), "clarinet", { octave: -1 });
  // High B on the tenor saxophone is for later: down an octave in this one.
  await setOverride(director, idOf(35), "sax-tenor", { octave: -2 });

  const { score } = await lineScore(director, idOf(26), null, "widening", null);
  const note = (measure: number, place: number) => score.parts[0].measures[measure]!.events[place]!.id;
  const pencil = [
    { eventId: note(2, 1), kind: "accidental", text: "♭", instrumentId: null },
    { eventId: note(7, 0), kind: "reminder", text: "hold to 4", instrumentId: null },
    { eventId: note(1, 3), kind: "breath", text: "", instrumentId: null },
    { eventId: note(4, 3), kind: "position", text: "3rd, by ear", instrumentId: "trombone" },
  ] as const;
  for (const mark of pencil) await writePencil(director, idOf(26), { ...mark, shared: true });

  await attachBacking(director, idOf(26), score);
  await saveView(director, {
    name: "E♭, no dotted quarters",
    filter: {
      text: "",
      key: "E♭ major",
      metre: "",
      without: "dotted quarter",
      ready: "",
      brings: "",
      crosses: false,
      like: "",
      book: "",
    },
  });
  await setFingerings(director, "clarinet", {
    notes: [
      { midi: 60, text: "T 123 | ---" },
      { midi: 62, text: "T 12- | ---" },
      { midi: 64, text: "T 1-- | ---" },
    ],
  });
  // The horn section has two double horns and a single one.
  const horns = await PlayerInstrument.findAll({ where: { bandId: director.bandId, instrumentId: "horn" } });
  for (const [i, horn] of horns.entries()) await horn.update({ variant: i === 0 ? null : "double" });
}

/** A play-along of the bench itself stands in for a recording, with its bars marked. */
async function attachBacking(director: Director, lineId: string, score: Score): Promise<void> {
  const line = timeline(derivePart(score, instrumentById("tuba"), "widening").score);
  const plan = playAlong(line);
  const rate = 22_050;
  const samples = renderPlan(plan, {
    mix: { count: true, click: true, reference: true },
    bank: plainSounds(),
    sampleRate: rate,
  });
  const { id } = await attachRecording(
    director,
    lineId,
    "Bass line with click",
    writeWav({ samples, sampleRate: rate }),
  );
  const bars = line.measures.map((measure) => Math.round((plan.startSec + measure.onsetSec) * 1000) / 1000);
  await setBars(director, id, { bars });
}
