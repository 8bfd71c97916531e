import { strToU8, zipSync } from "fflate";
import { type Instrument, instrumentById, type Stage } from "../../core/music";
import { scorePlace, seatsFor } from "../../core/ready";
import { agreedPart, cutBars, forDrumsOnly, type Score, writeMidi, writeMusicXml } from "../../core/score";
import { Group, Line, seatsOfBand, seatsOfGroup } from "../../data";
import { type Actor, director, found, ServiceError } from "../actor";
import { bandKnowledge } from "../knowledge";
import { oneByOne } from "../one-by-one";
import { engravePart, fontOnce, ownFingerings, partOf, partView, withPencil } from "../parts";
import { fileName, onPartOf } from "./names";
import { pencilForPrint } from "./pencil";
import { newestRevision } from "./revise";
import type { PartView } from "./schema";

/** A sheet to print: who gets it, and its part, made when the page comes to it. */
export interface SheetToPrint {
  playerId: string;
  playerName: string;
  instrumentId: string;
  part: () => Promise<PartView>;
}

/** A line of so few bars is engraved large, so that it fills its page. */
const SHORT_LINE = 8;

/**
 * A sheet for every player of a group who can play a line, in score order: what is printed and handed out.
 * @param bars  indexes of the first and last bar, for a part of the line; bars it has no more print the whole
 */
export async function sheetsForGroup(
  actor: Actor,
  lineId: string,
  groupId: string,
  { large = true, bars = null }: { large?: boolean; bars?: readonly [number, number] | null } = {},
): Promise<SheetToPrint[]> {
  const { bandId } = director(actor);
  const { score: whole } = await newestRevision(bandId, lineId);
  const there = bars !== null && bars[1] < whole.parts[0].measures.length;
  const score = there ? cutBars(whole, ...bars) : whole;
  found(await Group.findOne({ where: { id: groupId, bandId } }), "group");
  const knowledge = await bandKnowledge(bandId);
  const seats = knowledge
    .seated(seatsFor(forDrumsOnly(score), await seatsOfGroup(groupId)))
    .sort((a, b) => scorePlace(a.instrumentId) - scorePlace(b.instrumentId));
  const marks = await pencilForPrint(bandId, lineId);
  const width = large && score.parts[0].measures.length <= SHORT_LINE ? "narrow" : "medium";
  // Players who read the same and know the same share one part, made once.
  const made = new Map<object, Map<string, Promise<PartView>>>();
  const next = oneByOne();
  const once = fontOnce();
  return seats.map(({ playerId, playerName, instrumentId, variant, stage, known, part: voice }) => ({
    playerId,
    playerName,
    instrumentId,
    part: () =>
      next(async () => {
        const partId = agreedPart(score, instrumentId, voice);
        const key = `${instrumentId}/${variant}/${stage}/${partId}`;
        const ofKnown = made.get(known) ?? new Map<string, Promise<PartView>>();
        made.set(known, ofKnown);
        const make = async () =>
          partView(score, instrumentId, stage, width, {
            variant,
            partId,
            own: await ownFingerings(bandId, instrumentId),
            patient: true,
            known: known.notes,
            asKnown: known,
          });
        const shared = ofKnown.get(key) ?? make();
        ofKnown.set(key, shared);
        const part = await shared;
        const written = marks.get(playerId) ?? [];
        const own = [...(marks.get(null) ?? []).filter(onPartOf(instrumentId)), ...written];
        return { ...part, svg: once(withPencil(part.svg, own)) };
      }),
  }));
}

/** What one player gets of several lines, on one sheet. */
export interface PlayerSet {
  playerName: string;
  lines: { title: string; page: number | null; part: () => Promise<PartView> }[];
}

/** So many lines are printed at once. */
const MOST_LINES = 12;

/** Several lines for every player of a group, together on each player's sheet, in score order. */
export async function setForGroup(
  actor: Actor,
  lineIds: readonly string[],
  groupId: string,
): Promise<{ title: string; players: PlayerSet[] }> {
  const { bandId } = director(actor);
  if (lineIds.length === 0 || lineIds.length > MOST_LINES)
    throw new ServiceError("bad-input", `Choose from one to ${MOST_LINES} lines to print.`);
  const players = new Map<string, PlayerSet & { place: number }>();
  const titles: string[] = [];
  for (const lineId of lineIds) {
    const line = found(await Line.findOne({ where: { id: lineId, bandId } }), "line");
    const title = line.number ? `No. ${line.number} · ${line.title}` : line.title;
    titles.push(line.number ? `No. ${line.number}` : line.title);
    for (const sheet of await sheetsForGroup(actor, lineId, groupId, { large: false })) {
      const own = players.get(sheet.playerId) ?? {
        playerName: sheet.playerName,
        place: scorePlace(sheet.instrumentId),
        lines: [],
      };
      own.lines.push({ title, page: line.page, part: sheet.part });
      players.set(sheet.playerId, own);
    }
  }
  return {
    title: titles.join(", "),
    players: [...players.values()].sort(
      (a, b) => a.place - b.place || a.playerName.localeCompare(b.playerName),
    ),
  };
}

/** Every part of a line that the band needs: as MusicXML, as MIDI, and as sheets to print, in one file. */
export async function lineBundle(
  actor: Actor,
  lineId: string,
): Promise<{ name: string; bytes: Uint8Array<ArrayBuffer> }> {
  const { bandId } = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId } }), "line");
  const { score } = await newestRevision(bandId, lineId);
  const wanted = new Map<string, { instrument: Instrument | null; stage: Stage }>();
  wanted.set("Concert pitch", { instrument: null, stage: "widening" });
  for (const { instrumentId, stage } of seatsFor(forDrumsOnly(score), await seatsOfBand(bandId))) {
    const instrument = instrumentById(instrumentId);
    wanted.set(`${instrument.name}, ${stage.replaceAll("-", " ")}`, { instrument, stage });
  }
  const files: Record<string, Uint8Array> = {};
  const sheets: { name: string; svg: string }[] = [];
  const title = line.number ? `No. ${line.number} ${line.title}` : line.title;
  for (const [name, { instrument, stage }] of wanted) {
    const part = partOf(score, instrument, stage).score;
    const own = fileName([title, name]);
    files[`${own}.musicxml`] = strToU8(writeMusicXml(part));
    if (score.catalogued) continue;
    files[`${own}.mid`] = writeMidi(part);
    sheets.push({ name, svg: await engravePart(part, "medium", true) });
  }
  if (sheets.length > 0)
    files[`${fileName([title, "sheets to print"])}.html`] = strToU8(sheetsPage(title, score, sheets));
  const bytes = Uint8Array.from(zipSync(files, { level: 6 }));
  return { name: `${fileName([title])}.zip`, bytes };
}

/** A page of its own with every part, one a sheet: opened in any browser, without the bench. */
function sheetsPage(title: string, score: Score, sheets: readonly { name: string; svg: string }[]): string {
  const text = (words: string) =>
    words.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${text(title)}</title>
<style>body{font-family:system-ui,sans-serif;margin:0}section{break-after:page;padding:12mm}h1{font-size:16pt;margin:0}p{margin:0 0 4mm}svg{width:100%;height:auto}</style>
${sheets.map(({ name, svg }) => `<section><h1>${text(title)}</h1><p>${text(name)}${score.composer ? ` · ${text(score.composer)}` : ""}</p>${svg}</section>`).join("\n")}</html>
`;
}
