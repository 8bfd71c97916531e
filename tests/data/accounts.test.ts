import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Session, User } from "../../src/data";
import { hashSecret } from "../../src/server/hashing";
import {
  accountOf,
  actorOf,
  ChangeAccount,
  changeAccount,
  signInDirector,
  signInStudent,
  signOut,
  signOutEverywhere,
  sweepAccounts,
} from "../../src/services/accounts";
import { addTo, anotherBand, type BandInDatabase, bandInDatabase, newCard } from "../support/band";

let band: BandInDatabase;
beforeAll(async () => {
  band = await bandInDatabase();
});
afterAll(() => band.close());

/** A band with one player who has a card. */
async function withCard(name = "Ines Haldorsen") {
  const { director } = await anotherBand();
  const player = await addTo(director, name, ["clarinet"]);
  return { director, player, card: await newCard(director, player.playerId) };
}

describe("sessions", () => {
  it("know their owner until they run out, and the database never holds the token", async () => {
    const { player, card } = await withCard();
    const { token, expiresAt } = await signInStudent(card);
    expect(await actorOf(token)).toEqual({
      kind: "player",
      playerId: player.playerId,
      bandId: player.bandId,
      name: player.name,
    });
    expect(expiresAt.getTime()).toBeGreaterThan(Date.now() + 29 * 86_400_000);
    const rows = await Session.findAll({ where: { playerId: player.playerId } });
    expect(rows).toHaveLength(1);
    expect(JSON.stringify(rows)).not.toContain(token);
    await Session.update(
      { expiresAt: new Date(Date.now() - 1000) },
      { where: { playerId: player.playerId } },
    );
    expect(await actorOf(token)).toEqual({ kind: "nobody" });
  });

  it("are new at every sign-in and gone after signing out", async () => {
    const { card } = await withCard();
    const [first, second] = [await signInStudent(card), await signInStudent(card)];
    expect(first.token).not.toBe(second.token);
    await signOut(first.token);
    expect((await actorOf(first.token)).kind).toBe("nobody");
    expect((await actorOf(second.token)).kind).toBe("player");
    expect(await actorOf("not a token")).toEqual({ kind: "nobody" });
    expect(await actorOf(undefined)).toEqual({ kind: "nobody" });
  });
});

describe("a director's own account", () => {
  const PASSWORD = "quay lantern rope tide";

  /** A director who can sign in. */
  async function withPassword() {
    const { director } = await anotherBand();
    const user = (await User.findByPk(director.userId))!;
    await user.update({ passwordHash: await hashSecret(PASSWORD) });
    return { director, email: user.email, user };
  }

  it("changes name and address with the password of today, and stays signed in", async () => {
    const { director, user } = await withPassword();
    const { token } = await signInDirector({ email: user.email, password: PASSWORD });
    const email = `new-${user.email}`;
    const change = { name: "Marit Newly-Named", email, newPassword: "" };
    await expect(changeAccount(director, { ...change, password: "wrong" })).rejects.toThrow(
      "This is not the password you have now.",
    );
    expect(await changeAccount(director, { ...change, password: PASSWORD })).toBeNull();
    expect(await accountOf(director)).toEqual({ name: "Marit Newly-Named", email });
    expect(await actorOf(token)).toMatchObject({ kind: "director", name: "Marit Newly-Named" });
    const other = await withPassword();
    await expect(
      changeAccount(other.director, { name: "Other", email, newPassword: "", password: PASSWORD }),
    ).rejects.toThrow("Another account has this e-mail address.");
  });

  it("ends every other sign-in with a new password, and the old one opens nothing", async () => {
    const { director, email } = await withPassword();
    const elsewhere = await signInDirector({ email, password: PASSWORD });
    const next = "a new harbour password";
    const session = await changeAccount(director, {
      name: "Marit",
      email,
      newPassword: next,
      password: PASSWORD,
    });
    expect((await actorOf(elsewhere.token)).kind).toBe("nobody");
    expect((await actorOf(session!.token)).kind).toBe("director");
    await expect(signInDirector({ email, password: PASSWORD })).rejects.toThrow("do not fit together");
    expect((await actorOf((await signInDirector({ email, password: next })).token)).kind).toBe("director");
  });

  it("rests after too many wrong tries from a signed-in page, and asks for twelve letters", async () => {
    const { director, email } = await withPassword();
    const guess = () => changeAccount(director, { name: "X", email, newPassword: "", password: "guess" });
    for (let i = 0; i < 8; i++) await expect(guess()).rejects.toThrow("not the password");
    await expect(guess()).rejects.toThrow("too many wrong tries");
    const short = ChangeAccount.safeParse({ name: "X", email, password: "p", newPassword: "short" });
    expect(short.error?.issues[0]?.message).toMatch(/at least 12 letters/);
  });
});

describe("limits", () => {
  const guess = (classCode: string, name: string) =>
    signInStudent({ classCode, name, words: "four wrong little words" });

  it("count tries at the same moment, each of them", async () => {
    const { director } = await anotherBand();
    const { email } = (await User.findByPk(director.userId))!;
    const said = await Promise.all(
      Array.from({ length: 40 }, (_, i) =>
        signInDirector({ email, password: `guess ${i}` }).catch((error: Error) => error.message),
      ),
    );
    const tried = said.filter((sentence) => String(sentence).includes("do not fit together"));
    expect(tried).toHaveLength(8);
    expect(said.filter((sentence) => String(sentence).includes("too many wrong tries"))).toHaveLength(32);
  });

  it("rest what a stranger guesses, and neither the right card nor the whole class", async () => {
    const { card } = await withCard();
    for (let i = 0; i < 8; i++)
      await expect(guess(card.classCode, card.name)).rejects.toThrow(/do not fit together/);
    await expect(guess(card.classCode, card.name)).rejects.toThrow(
      "There were too many wrong tries. Wait fifteen minutes, then try again.",
    );
    // However a name is written, it is one account: case, accents, invisible and control signs make no new one.
    for (const name of [
      card.name.toUpperCase(),
      `${card.name}\u200b`,
      `\u0001${card.name}`,
      ` ${card.name} `,
    ])
      await expect(guess(card.classCode, name)).rejects.toThrow(/too many wrong tries/);
    expect((await signInStudent(card)).token).toBeTruthy();
    // A quarter of an hour later one may guess again.
    await band.db.query("UPDATE sign_in_attempts SET window_start = window_start - INTERVAL 16 MINUTE");
    await expect(guess(card.classCode, card.name)).rejects.toThrow(/do not fit together/);
  });

  it("leave a known device in, whatever strangers try, and count its own slips apart", async () => {
    const { director } = await anotherBand();
    const { email } = (await User.findByPk(director.userId))!;
    const right = { email, password: "long enough for a test" };
    const { device } = await signInDirector(right);
    await Promise.allSettled(
      Array.from({ length: 10 }, () => signInDirector({ email, password: "a stranger's guess" })),
    );
    await expect(signInDirector(right)).rejects.toThrow(/too many wrong tries/);
    const again = await signInDirector(right, device);
    expect(again.device).toBe(device);
    // A device that was known for another account is a stranger to this one.
    const { card } = await withCard();
    const shared = await signInStudent(card, device);
    expect(shared.device).toBe(device);
    await signOutEverywhere(director);
    await expect(signInDirector(right, device)).rejects.toThrow(/too many wrong tries/);
  });

  it("and everything about sign-ins that has run out is swept", async () => {
    const { card } = await withCard();
    await signInStudent(card);
    await expect(guess(card.classCode, "Nobody Here")).rejects.toThrow();
    await band.db.query("UPDATE sign_in_attempts SET window_start = window_start - INTERVAL 16 MINUTE");
    await band.db.query("UPDATE sessions SET expires_at = expires_at - INTERVAL 1 YEAR");
    await band.db.query("UPDATE known_devices SET last_used_at = last_used_at - INTERVAL 2 YEAR");
    expect(await sweepAccounts()).toBeGreaterThan(2);
    expect(await Session.count()).toBe(0);
    expect(await sweepAccounts()).toBe(0);
  });

  it("forget an account's slips once it got in", async () => {
    const { director } = await anotherBand();
    const { email } = (await User.findByPk(director.userId))!;
    const enter = (password: string) => signInDirector({ email, password });
    for (let round = 0; round < 3; round++) {
      for (let slip = 0; slip < 4; slip++)
        await expect(enter("not my password")).rejects.toThrow(
          "This e-mail address and password do not fit together.",
        );
      expect((await actorOf((await enter("long enough for a test")).token)).kind).toBe("director");
    }
  });

  it("say the same of a wrong word, a wrong name and a wrong class", async () => {
    const { card } = await withCard();
    const said = await Promise.all(
      [
        { ...card, words: "acorn acorn acorn acorn" },
        { ...card, name: "Someone Else" },
        { ...card, classCode: "NO-SUCH" },
      ].map((input) => signInStudent(input).catch((error: Error) => error.message)),
    );
    expect(new Set(said).size).toBe(1);
  });
});

describe("cards", () => {
  it("hold four words, new each time, and end the card before", async () => {
    const { director, player, card } = await withCard();
    expect(card.words.split(" ")).toHaveLength(4);
    const next = await newCard(director, player.playerId);
    expect(next.words).not.toBe(card.words);
    await expect(signInStudent(card)).rejects.toThrow(/do not fit together/);
    expect((await signInStudent(next)).token).toBeTruthy();
  });

  it("are drawn by the own director only", async () => {
    const { player } = await withCard();
    const { director: stranger } = await anotherBand();
    await expect(newCard(stranger, player.playerId)).rejects.toThrow(/belongs to another band/);
    await expect(newCard(player, player.playerId)).rejects.toThrow("Only the band's director can do this.");
    await expect(newCard({ kind: "nobody" }, player.playerId)).rejects.toThrow("Please sign in first.");
  });
});
