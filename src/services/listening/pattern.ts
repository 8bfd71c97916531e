import { groupBy } from "../../core/lists";
import { instrumentById } from "../../core/music";
import { type CauseKind, distrustedKinds } from "../../core/progress";
import { derivePart, snagsOf } from "../../core/score";
import {
  causesByWeek,
  engineRecord,
  LineRevision,
  lineCauses,
  linesHeardSince,
  sectionBars,
  takesWrongByBar,
} from "../../data";
import { type Actor, director, found } from "../actor";
import { decidedBy, mayHear } from "../settings";
import type { PatternView, SectionRow } from "./wire";

/** Takes of a term. */
const A_TERM_MS = 18 * 7 * 86_400_000;
const EXAMPLES = 3;
/** Small snags lie everywhere; from this weight on one foretells something. */
const TELLING = 2;
const COMMONEST = 10;
/** The last so many weeks against those before. */
const LATELY = 3;

/** What many takes have in common: a line by bars and sections, the term's commonest causes, and how often the bench was right. */
export async function patternView(actor: Actor, lineId: string | null): Promise<PatternView> {
  const who = director(actor);
  const { bandId } = who;
  await mayHear(who);
  const since = new Date(Date.now() - A_TERM_MS);
  const [lines, weeks, record, decided] = await Promise.all([
    linesHeardSince(bandId, since),
    causesByWeek(bandId, since),
    engineRecord(bandId),
    decidedBy(bandId),
  ]);
  const line =
    lineId === null
      ? lines[0]
      : found(
          lines.find((each) => each.lineId === lineId),
          "line",
        );
  return {
    lines: lines.map(({ lineId: id, title, number, takes }) => ({ id, title, number, takes })),
    line: line
      ? {
          id: line.lineId,
          title: line.title,
          goalBpm: line.goalBpm,
          ...(await sectionsOf(bandId, line.revisionId)),
        }
      : null,
    term: commonest(weeks),
    record,
    distrusted: distrustedKinds(record, decided.trustPercent / 100) as CauseKind[],
    trustPercent: decided.trustPercent,
  };
}

async function sectionsOf(
  bandId: string,
  revisionId: string,
): Promise<{ bars: string[]; sections: SectionRow[] }> {
  const [revision, wrong, causes, examples] = await Promise.all([
    LineRevision.findByPk(revisionId, { attributes: ["score"] }),
    sectionBars(bandId, revisionId),
    lineCauses(bandId, revisionId),
    takesWrongByBar(bandId, revisionId, EXAMPLES),
  ]);
  const { score } = found(revision, "line");
  const bars = score.parts[0].measures.map(({ number }) => number);
  const sections = [...groupBy(causes, ({ instrumentId }) => instrumentId)].map(
    ([instrumentId, own]): SectionRow => {
      const instrument = instrumentById(instrumentId);
      const part = derivePart(score, instrument, "small-tunes").score;
      const predicted = new Set(
        snagsOf(part, instrument, "small-tunes")
          .filter(({ kind, weight }) => kind !== "out-of-range" && weight >= TELLING)
          .map(({ measure }) => measure),
      );
      return {
        instrumentId,
        instrument: instrument.name,
        takes: own[0]!.inAll,
        bars: bars.map((number, index) => {
          const here = (row: { instrumentId: string; measureIndex: number }) =>
            row.instrumentId === instrumentId && row.measureIndex === index;
          return {
            wrong: wrong.find(here)?.wrong ?? 0,
            takes: wrong.find(here)?.takes ?? 0,
            predicted: predicted.has(number),
            examples: examples.filter(here).map(({ takeId, playerName }) => ({ takeId, playerName })),
          };
        }),
        causes: own.flatMap(({ kind, takes }) => (kind === null ? [] : [{ kind: kind as CauseKind, takes }])),
      };
    },
  );
  return { bars, sections: sections.sort((a, b) => a.instrument.localeCompare(b.instrument)) };
}

/** The commonest kinds of the term, each with its share of the takes lately and before. */
function commonest(weeks: Awaited<ReturnType<typeof causesByWeek>>): PatternView["term"] {
  const all = [...new Set(weeks.map(({ week }) => week))];
  const takesIn = new Map(weeks.map(({ week, inAll }) => [week, inAll]));
  const late = new Set(all.slice(-LATELY));
  const takes = (of: readonly string[]) => of.reduce((sum, week) => sum + takesIn.get(week)!, 0);
  const before = all.filter((week) => !late.has(week));
  const kinds = groupBy(
    weeks.filter(({ kind }) => kind !== null),
    ({ kind }) => kind!,
  );
  return [...kinds]
    .map(([kind, rows]) => {
      const sum = (of: readonly { takes: number }[]) => of.reduce((all, each) => all + each.takes, 0);
      return {
        kind: kind as CauseKind,
        takes: sum(rows),
        lately: { takes: sum(rows.filter(({ week }) => late.has(week))), of: takes([...late]) },
        before: { takes: sum(rows.filter(({ week }) => !late.has(week))), of: takes(before) },
      };
    })
    .sort((a, b) => b.takes - a.takes)
    .slice(0, COMMONEST);
}
