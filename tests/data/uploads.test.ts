import { createHash } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { writeWav } from "../../src/core/audio";
import { Job, Media, Take, Task, Upload } from "../../src/data";
import { mediaStore } from "../../src/server/media-store";
import type { PlayerActor } from "../../src/services/actor";
import { beginUpload, completeUpload, putChunk, QUOTAS, sweepUploads } from "../../src/services/practice";
import { addTo, type BandInDatabase, bandInDatabase, give } from "../support/band";
import { line } from "../support/music";

const bytes = writeWav({ samples: new Float32Array(8000), sampleRate: 8000 });
const sha256 = createHash("sha256").update(bytes).digest("hex");

let band: BandInDatabase;
let ada: PlayerActor;
let bo: PlayerActor;
const tasks = { ada: "", adaToo: "", bo: "" };

beforeAll(async () => {
  band = await bandInDatabase();
  ada = await addTo(band.director, "Ada", ["flute"]);
  bo = await addTo(band.director, "Bo", ["flute"]);
  const first = await give(band.director, line("Bb4:1 C5:1 D5:2"), band.fullBandId);
  const second = await give(band.director, line("D5:1 C5:1 Bb4:2"), band.fullBandId);
  const idOf = async (assignmentId: string, { playerId }: PlayerActor) =>
    (await Task.findOne({ where: { assignmentId, playerId } }))!.id;
  tasks.ada = await idOf(first.assignmentId, ada);
  tasks.adaToo = await idOf(second.assignmentId, ada);
  tasks.bo = await idOf(first.assignmentId, bo);
});
afterAll(() => band.close());

const announce = (
  who: PlayerActor,
  taskId: string,
  about: Partial<Parameters<typeof beginUpload>[1]> = {},
) => {
  const announced = {
    id: crypto.randomUUID() as string,
    taskId,
    bytes: bytes.length,
    sha256,
    recordedAt: new Date().toISOString(),
    gaps: [],
    ...about,
  };
  return { ...announced, begun: beginUpload(who, announced) };
};

async function send(who: PlayerActor, taskId: string): Promise<string> {
  const { id, begun } = announce(who, taskId);
  await begun;
  await putChunk(who, id, 0, bytes);
  await completeUpload(who, id);
  return id;
}

describe("an upload", () => {
  it("becomes a take and its job together, once, however often and however much at once it is completed", async () => {
    const { id, begun } = announce(ada, tasks.ada);
    await begun;
    await putChunk(ada, id, 0, bytes);
    const answers = await Promise.allSettled(Array.from({ length: 5 }, () => completeUpload(ada, id)));
    const taken = answers.flatMap((answer) => (answer.status === "fulfilled" ? [answer.value.id] : []));
    expect(taken.length).toBeGreaterThan(0);
    expect(new Set(taken)).toEqual(new Set([id]));
    expect(await Take.count({ where: { id } })).toBe(1);
    expect(await Job.count({ where: { subjectId: id } })).toBe(1);
    expect((await completeUpload(ada, id)).id).toBe(id);
  });

  it("belongs to its maker and task: its id opens nothing for anybody else", async () => {
    const id = await send(ada, tasks.ada);
    const stored = (await Media.findByPk((await Take.findByPk(id))!.originalId))!;
    const before = await mediaStore().read(stored.storeKey);
    for (const [who, taskId] of [
      [bo, tasks.bo],
      [ada, tasks.adaToo],
    ] as const)
      await expect(announce(who, taskId, { id }).begun).rejects.toThrow(
        "Another recording was announced under this id.",
      );
    await expect(putChunk(bo, id, 0, bytes)).rejects.toThrow("does not exist");
    await expect(completeUpload(bo, id)).rejects.toThrow("does not exist");
    expect(Buffer.from(await mediaStore().read(stored.storeKey)).equals(Buffer.from(before))).toBe(true);
    // The same of one that is still on its way, with the same words or others.
    const open = announce(ada, tasks.ada);
    await open.begun;
    await expect(announce(bo, tasks.bo, { id: open.id }).begun).rejects.toThrow("Another recording");
    await expect(announce(ada, tasks.ada, { id: open.id, bytes: 5 }).begun).rejects.toThrow(
      "Another recording",
    );
    await Upload.destroy({ where: { id: open.id } });
  });

  it("is dated within reason, whatever the device's clock says", async () => {
    for (const recordedAt of ["1999-01-01T00:00:00.000Z", "2999-01-01T00:00:00.000Z"]) {
      const { id, begun } = announce(ada, tasks.ada, { recordedAt });
      await begun;
      const stored = (await Upload.findByPk(id))!;
      expect(Math.abs(stored.recordedAt.getTime() - Date.now())).toBeLessThan(60_000);
      await stored.destroy();
    }
  });

  it("keeps where the device left sound out", async () => {
    const { id, begun } = announce(ada, tasks.ada, { gaps: [{ fromSec: 1, toSec: 1.5 }] });
    await begun;
    await putChunk(ada, id, 0, bytes);
    await completeUpload(ada, id);
    expect((await Take.findByPk(id))!.gaps).toEqual([{ fromSec: 1, toSec: 1.5 }]);
  });
});

describe("quotas", () => {
  it("bound what a player has on the way, and say what to wait for", async () => {
    for (let i = 0; i < QUOTAS.openUploadsAPlayer; i++) await announce(bo, tasks.bo).begun;
    await expect(announce(bo, tasks.bo).begun).rejects.toThrow(
      "4 of your takes are still on their way. This one follows when they have arrived.",
    );
    await Upload.destroy({ where: { playerId: bo.playerId } });
    await expect(announce(bo, tasks.bo).begun).resolves.toMatchObject({ received: 0 });
    await Upload.destroy({ where: { playerId: bo.playerId } });
  });

  it("bound what is announced at one moment too", async () => {
    const begun = await Promise.allSettled(Array.from({ length: 12 }, () => announce(bo, tasks.bo).begun));
    expect(begun.some(({ status }) => status === "rejected")).toBe(true);
    expect(await Upload.count({ where: { playerId: bo.playerId } })).toBeLessThanOrEqual(
      QUOTAS.openUploadsAPlayer,
    );
    await Upload.destroy({ where: { playerId: bo.playerId } });
  });

  it("bound the bytes of a band on the way", async () => {
    const { id, begun } = announce(ada, tasks.ada);
    await begun;
    await Upload.update({ bytes: QUOTAS.openBytesABand }, { where: { id } });
    await expect(announce(bo, tasks.bo).begun).rejects.toThrow("Many takes of your band are on their way.");
    await Upload.destroy({ where: { id } });
  });

  it("bound takes of a task and day, for that task only", async () => {
    const takeId = await send(bo, tasks.bo);
    const take = (await Take.findByPk(takeId))!;
    for (let i = 1; i < QUOTAS.takesATaskAndDay; i++)
      await Take.create({ ...take.get({ plain: true }), id: crypto.randomUUID() });
    await expect(announce(bo, tasks.bo).begun).rejects.toThrow(
      "You sent 25 takes of this line since yesterday. Rest, and send the next one tomorrow.",
    );
    await expect(announce(ada, tasks.ada).begun).resolves.toBeTruthy();
    await band.db.query("UPDATE takes SET created_at = created_at - INTERVAL 2 DAY");
    await expect(announce(bo, tasks.bo).begun).resolves.toBeTruthy();
  });

  it("let old announcements go with what had arrived of them", async () => {
    const { id, begun } = announce(ada, tasks.adaToo);
    await begun;
    await putChunk(ada, id, 0, bytes.slice(0, 100));
    const key = `uploads/${ada.playerId}/${id}`;
    expect(await mediaStore().size(key)).toBe(100);
    expect(await sweepUploads()).toBe(0);
    expect(await sweepUploads(Date.now() + (QUOTAS.openUploadDays + 1) * 24 * 3600_000)).toBeGreaterThan(0);
    expect(await mediaStore().size(key)).toBe(0);
    expect(await Upload.count({ where: { id } })).toBe(0);
  });
});
