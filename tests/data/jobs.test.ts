import { QueryTypes, type Sequelize } from "sequelize";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { ENGINE_VERSION } from "../../src/core/listen";
import { AssessmentRow, Job, Take } from "../../src/data";
import {
  claim,
  fail,
  finish,
  giveUpLost,
  queueAgain,
  queueForgotten,
  queueReassessment,
  queueTake,
  renew,
} from "../../src/server/jobs";
import type { Director, PlayerActor } from "../../src/services/actor";
import { giveUpOn } from "../../src/services/listening";
import { hearAgain } from "../../src/services/practice";
import { addTo, anotherBand, type BandInDatabase, bandInDatabase, give, takeOf } from "../support/band";
import { line } from "../support/music";

let band: BandInDatabase;
let db: Sequelize;
let ada: PlayerActor;
let bo: PlayerActor;
let cy: PlayerActor;
let other: { director: Director; fullBandId: string };
let assignments: { own: string; foreign: string };

beforeAll(async () => {
  band = await bandInDatabase();
  db = band.db;
  ada = await addTo(band.director, "Ada", ["flute"]);
  bo = await addTo(band.director, "Bo", ["flute"]);
  other = await anotherBand();
  cy = await addTo(other.director, "Cy", ["flute"]);
  const tune = line("Bb4:1 C5:1 D5:2");
  assignments = {
    own: (await give(band.director, tune, band.fullBandId)).assignmentId,
    foreign: (await give(other.director, tune, other.fullBandId)).assignmentId,
  };
});
afterAll(() => band.close());
beforeEach(() => Job.destroy({ where: {} }));

const queue = async (player: PlayerActor, count = 1) => {
  const ids = Array.from({ length: count }, () => uuid());
  for (const id of ids) await queueTake({ id, bandId: player.bandId, playerId: player.playerId });
  return ids;
};
/** Everything there is to claim, in the order in which one worker gets it. */
const worked = async () => {
  const subjects: string[] = [];
  for (let job = await claim(); job; job = await claim()) {
    subjects.push(job.subjectId);
    await finish(job);
  }
  return subjects;
};

describe("the queue", () => {
  it("takes the same work once, however often it is asked", async () => {
    const [id] = await queue(ada);
    await queueTake({ id: id!, bandId: ada.bandId, playerId: ada.playerId });
    expect(await Job.count()).toBe(1);
  });

  it("gives each job to one worker only", async () => {
    await queue(ada, 6);
    await queue(bo, 6);
    const claimed = (await Promise.all(Array.from({ length: 12 }, () => claim()))).filter(
      (job) => job !== null,
    );
    for (let more = await claim(); more; more = await claim()) claimed.push(more);
    expect(claimed).toHaveLength(12);
    expect(new Set(claimed.map((job) => job.id)).size).toBe(12);
  });

  it("serves bands and players in turn, whoever sent more and earlier", async () => {
    const many = await queue(ada, 4);
    const [one] = await queue(bo);
    const [foreign] = await queue(cy);
    const order = await worked();
    // The first two turns go to two bands, the third to the player of the first band who was not served yet.
    expect([...order.slice(0, 2)].sort()).toEqual([many[0], foreign].sort());
    expect(order[2]).toBe(one);
    expect(order.slice(3)).toEqual(many.slice(1));
  });

  it("gives a crashed worker's job to another when its lease has run out, unless it is renewed", async () => {
    await queue(ada);
    const first = await claim();
    expect(await claim()).toBeNull();
    await db.query("UPDATE jobs SET lease_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND");
    await renew(first!);
    expect(await claim()).toBeNull();
    await db.query("UPDATE jobs SET lease_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND");
    expect(await claim()).toMatchObject({ id: first!.id, attempts: 2 });
  });

  it("tries a failing job later, and gives it up after the fourth time", async () => {
    await queue(ada);
    const outcomes: boolean[] = [];
    for (let i = 0; i < 4; i++) {
      const job = await claim();
      outcomes.push(await fail(job!, "no luck"));
      expect(await claim()).toBeNull();
      await db.query("UPDATE jobs SET run_after = UTC_TIMESTAMP(3)");
    }
    expect(outcomes).toEqual([false, false, false, true]);
    expect(await claim()).toBeNull();
  });

  it("gives up a take that ends its worker every time, says so, and hears it again when asked", async () => {
    const takeId = await takeOf(ada, assignments.own, { state: "waiting" });
    await queueTake({ id: takeId, bandId: ada.bandId, playerId: ada.playerId });
    for (let i = 0; i < 4; i++) {
      expect(await claim()).toMatchObject({ subjectId: takeId, attempts: i + 1 });
      await db.query("UPDATE jobs SET lease_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND");
    }
    expect(await claim()).toBeNull();
    expect(await giveUpLost()).toEqual([takeId]);
    await giveUpOn(takeId);
    expect(await Take.findByPk(takeId)).toMatchObject({
      state: "unheard",
      problem: "The bench could not hear this take. Let it try again, or listen yourself.",
    });
    expect(await queueForgotten()).toBe(0);
    await expect(hearAgain(bo, takeId)).rejects.toThrow("belongs to somebody else");
    await expect(hearAgain(other.director, takeId)).rejects.toThrow("belongs to another band");
    await hearAgain(ada, takeId);
    expect(await Take.findByPk(takeId)).toMatchObject({ state: "waiting", problem: null });
    expect(await claim()).toMatchObject({ subjectId: takeId, attempts: 1 });
  });

  it("finds takes that wait without a job", async () => {
    const takeId = await takeOf(bo, assignments.own, { state: "waiting" });
    await Job.destroy({ where: {} });
    expect(await queueForgotten()).toBeGreaterThan(0);
    expect(await worked()).toContain(takeId);
    await Take.update({ state: "unreadable" }, { where: { id: takeId } });
  });

  it("does not hand out finished work again, and hears a take once for each version of the engine", async () => {
    const takeId = await takeOf(cy, assignments.foreign);
    await queueTake({ id: takeId, bandId: cy.bandId, playerId: cy.playerId });
    await finish((await claim())!);
    await queueTake({ id: takeId, bandId: cy.bandId, playerId: cy.playerId });
    expect(await claim()).toBeNull();
    await db.query("UPDATE jobs SET engine_version = '1.0.0'");
    // The stored answer is that of an engine called "test": the present one has not heard the take.
    expect(await queueReassessment(cy.bandId)).toBe(1);
    expect(await claim()).toMatchObject({ subjectId: takeId, engineVersion: ENGINE_VERSION });
    await AssessmentRow.update({ engineVersion: ENGINE_VERSION }, { where: { takeId } });
    expect(await queueReassessment(cy.bandId)).toBe(0);
  });

  it("is part of the transaction that stores a take: without the one there is not the other", async () => {
    const id = uuid();
    await expect(
      db.transaction(async (transaction) => {
        await queueAgain({ id, bandId: ada.bandId, playerId: ada.playerId }, transaction);
        throw new Error("the take could not be stored");
      }),
    ).rejects.toThrow("could not be stored");
    const rows = await db.query("SELECT 1 FROM jobs WHERE subject_id = ?", {
      replacements: [id],
      type: QueryTypes.SELECT,
    });
    expect(rows).toEqual([]);
  });
});
