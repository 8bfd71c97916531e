import { describe, expect, it } from "vitest";
import { inTurns, LineFull } from "../../src/server/turns";

/** Work that ends when it is told to. */
function held(name: string, began: string[]) {
  let end = () => {};
  const ended = new Promise<void>((resolve) => {
    end = resolve;
  });
  const work = async () => {
    began.push(name);
    await ended;
    return name;
  };
  return { work, end };
}

describe("work in turns", () => {
  it("runs so much at once, and the first line before the second", async () => {
    const began: string[] = [];
    const turn = inTurns(2, [9, 9]);
    const [a, b, stranger, known] = ["a", "b", "stranger", "known"].map((name) => held(name, began));
    const answers = [turn(a!.work), turn(b!.work), turn(stranger!.work, 1), turn(known!.work, 0)];
    expect(began).toEqual(["a", "b"]);
    a!.end();
    await answers[0];
    expect(began).toEqual(["a", "b", "known"]);
    for (const each of [b, known, stranger]) each!.end();
    expect(await Promise.all(answers)).toEqual(["a", "b", "stranger", "known"]);
  });

  it("refuses who finds the line full, and goes on after work that failed", async () => {
    const began: string[] = [];
    const turn = inTurns(1, [1]);
    const first = held("first", began);
    const running = turn(first.work);
    const failing = turn(() => Promise.reject(new Error("broken")));
    await expect(turn(first.work)).rejects.toThrow(LineFull);
    first.end();
    await expect(failing).rejects.toThrow("broken");
    expect(await running).toBe("first");
    expect(await turn(async () => "after")).toBe("after");
  });
});
