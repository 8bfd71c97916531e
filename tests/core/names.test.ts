import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { nameKey, tidyText } from "../../src/core/text";

describe("names", () => {
  it.each([
    ["  A\u030ase\u200b \u0000 Berg ", "Åse Berg"],
    ["\u200b\u200b\u0007", ""],
    ["\u0301\u0301", ""],
    ["\u2066Noor\u2069", "Noor"],
    ["Łucja\tØygard", "Łucja Øygard"],
    ["شیرین‌گل", "شیرین‌گل"],
    ["李 小龍", "李 小龍"],
  ])("%j is kept as %j", (typed, kept) => {
    expect(tidyText(typed)).toBe(kept);
  });

  it("are one, however they are typed", () => {
    const forms = [
      "Åse Ünal",
      "åse ünal",
      "A\u030aSE  U\u0308NAL",
      "Åse\u200b Ünal",
      "\u0001Åse Ünal",
      "Ａse Unal",
    ];
    expect(new Set(forms.map(nameKey))).toEqual(new Set(["ase unal"]));
  });

  it("stay as they are when they are tidied twice, and hold no control character", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary" }), (typed) => {
        const tidy = tidyText(typed);
        expect(tidyText(tidy)).toBe(tidy);
        expect(tidy).not.toMatch(/\p{Cc}/u);
        expect(nameKey(tidy)).toBe(nameKey(typed));
      }),
    );
  });
});
