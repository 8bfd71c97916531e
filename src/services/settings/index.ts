import { isDeepStrictEqual } from "node:util";
import type { Transaction } from "sequelize";
import type { z } from "zod";
import { type Rubric, USUAL_RUBRIC } from "../../core/progress";
import { Band, type DirectorRow, directorsOfBand, Membership } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { Decided, type Kept, type SaveSettings, type SettingsView } from "./schema";

export { Decided, isTimeZone, SaveSettings } from "./schema";

/**
 * What holds where a band decided nothing. In tune: 15 to 20 cents in the first year, less later (common practice, no
 * published source); in time as the engine has it, wider for the first stages.
 */
const DEFAULTS: Decided = {
  judging: {
    "making-a-sound": { inTuneCents: 40, inTimeMs: 100 },
    "five-notes": { inTuneCents: 20, inTimeMs: 80 },
    "small-tunes": { inTuneCents: 20, inTimeMs: 70 },
    widening: { inTuneCents: 15, inTimeMs: 60 },
  },
  naming: "letters",
  paper: "a4",
  weekendsOff: true,
  daysOff: [],
  schoolWeek: [1, 2, 3, 4, 5],
  homeMinutes: 15,
  changeoverMinutes: 1,
  cardsFirst: true,
  soundWeeks: 5,
  rubrics: [USUAL_RUBRIC],
  // Common practice is divided; nothing is taken off before a band says so.
  late: { percentPerDay: 0, mostPercent: 50 },
  redo: "best",
  attempts: "best",
  corrected: "right",
  cleanSamples: 3,
  markTogether: false,
  whenDone: "clean-days",
  cleanPasses: 1,
  cleanDays: 2,
  poorTries: 3,
  playingMinutes: 30,
  tuneWhen: "before",
  firstMeeting: "heard",
  putTogether: "halves",
  slursFirst: "tongued",
  ownPace: true,
  hearFirst: true,
  release: "at-once",
  trustPercent: 70,
  logBy: "times",
  logSheet: false,
  lineHint: "",
  spaceHint: "",
  retentionWeeks: null,
};

/** What a band decided, and the usual for what it did not. A stored value that no longer fits counts as not decided. */
export function settingsOf(band: Pick<Band, "settings">): Decided {
  const own = Object.fromEntries(
    Object.entries(band.settings ?? {}).filter(
      ([name, value]) =>
        name in Decided.shape && Decided.shape[name as keyof Decided].safeParse(value).success,
    ),
  );
  return { ...DEFAULTS, ...own };
}

/** What a page needs of the band's decisions. @throws ServiceError when the band is gone */
export async function decidedBy(bandId: string): Promise<Decided> {
  return settingsOf(found(await Band.findByPk(bandId), "band"));
}

/** The ways to mark that a task can be given with. */
export async function bandRubrics(actor: Actor): Promise<Rubric[]> {
  return (await decidedBy(director(actor).bandId)).rubrics;
}

export async function bandSettings(actor: Actor): Promise<SettingsView> {
  const { bandId } = director(actor);
  const [ownBand, directors] = await Promise.all([Band.findByPk(bandId), directorsOfBand(bandId)]);
  const band = found(ownBand, "band");
  const { name, town, classCode, timeZone } = band;
  return {
    ...settingsOf(band),
    name,
    town,
    classCode,
    timeZone,
    a4Hz: Number(band.a4Hz),
    directors,
    zones: Intl.supportedValuesOf("timeZone"),
  };
}

/** Who directs the band. */
export function directorsOf(actor: Actor): Promise<DirectorRow[]> {
  return directorsOfBand(director(actor).bandId);
}

/**
 * Keeps what the band decided anew; what is not given stays.
 * @returns what holds now
 * @throws ServiceError when nobody of the band is left to hear the takes, or when the same was changed since the page was opened
 */
export async function saveSettings(
  actor: Actor,
  { was, sure, ...changes }: z.output<typeof SaveSettings>,
): Promise<SettingsView> {
  const who = director(actor);
  const directors = await directorsOfBand(who.bandId);
  if (changes.hearing && !directors.some(({ userId }) => changes.hearing!.includes(userId)))
    throw new ServiceError("bad-input", "Somebody of the band has to hear the takes.");
  await database().transaction(async (transaction) => {
    const band = found(await Band.findByPk(who.bandId, { lock: true, transaction }), "band");
    const now = keptOf(band, directors);
    const changedSince = (field: keyof Kept) => field in was && !isDeepStrictEqual(was[field], now[field]);
    if (!sure && (Object.keys(changes) as (keyof Kept)[]).some(changedSince))
      throw new ServiceError(
        "conflict",
        "What you changed here was also changed in another window since this page was opened.",
        { sure: "changed-since" },
      );
    const { name, town, timeZone, a4Hz, hearing, ...decided } = { ...now, ...changes };
    const settings = { ...decided, daysOff: inOrder(decided.daysOff) };
    await band.update({ name, town, timeZone, a4Hz, settings }, { transaction });
    for (const { userId, mayHear } of directors)
      if (mayHear !== hearing.includes(userId)) await setMayHear(who.bandId, userId, !mayHear, transaction);
    await audit(who, "save-settings", who.bandId, transaction);
  });
  return bandSettings(actor);
}

function keptOf(band: Band, directors: readonly DirectorRow[]): Kept {
  const { name, town, timeZone } = band;
  const hearing = directors.filter(({ mayHear }) => mayHear).map(({ userId }) => userId);
  return { ...settingsOf(band), name, town, timeZone, a4Hz: Number(band.a4Hz), hearing };
}

async function setMayHear(bandId: string, userId: string, mayHear: boolean, transaction: Transaction) {
  await Membership.update({ mayHear }, { where: { bandId, userId }, transaction });
}

function inOrder(daysOff: Decided["daysOff"]): Decided["daysOff"] {
  return [...daysOff].sort((a, b) => a.from.localeCompare(b.from));
}

/** Whether a director may listen to what the players send. @throws ServiceError when the band keeps it to others */
export async function mayHear(actor: { userId: string; bandId: string }): Promise<void> {
  const membership = await Membership.findOne({ where: { userId: actor.userId, bandId: actor.bandId } });
  if (!membership?.mayHear)
    throw new ServiceError("not-allowed", "Your band keeps the players' takes to other directors.");
}
