import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assess, assessTaps } from "../../src/core/listen";
import { plainSounds, playAlong, renderPlan } from "../../src/core/playalong";
import {
  againstClick,
  binomial,
  COUNTING_SYSTEMS,
  CourseError,
  checkDictation,
  countForms,
  easiestFirst,
  type Form,
  fillTheBar,
  findTheMistake,
  formId,
  formsOf,
  gradeOf,
  gridsOf,
  METRES,
  type Metre,
  makePage,
  oneOfEachRing,
  PageError,
  type PageSettings,
  pageSeconds,
  planCourse,
  readForm,
  scoreOfForms,
  slotsIn,
  slotsOfTaps,
  spellForm,
  startingBeat,
  syllablesOf,
  tapDelay,
  USUAL_COURSE,
  USUAL_PAGE,
} from "../../src/core/rhythm";
import {
  barQuarters,
  fractionToNumber,
  readMusicXml,
  type ScoreEvent,
  sumFractions,
  timeline,
  writeMusicXml,
} from "../../src/core/score";
import { line } from "../support/music";

const four: Metre = { beats: 4, beatType: 4 };
const form = (cells: string, slotsPerBeat = 2, metre = four): Form => ({ metre, slotsPerBeat, cells });
const NAMES: Record<string, string> = { whole: "1", half: "2", quarter: "4", eighth: "8", "16th": "16" };
/** "4. r8 8~": value, dot, rest, tie into the next. */
const values = (events: ScoreEvent[]) =>
  events
    .map(
      (each) =>
        `${each.kind === "rest" ? "r" : ""}${NAMES[each.type]}${".".repeat(each.dots)}${each.tuplet ? "t" : ""}${each.tieStart ? "~" : ""}`,
    )
    .join(" ");
const spelled = (cells: string, slotsPerBeat = 2, metre = four) =>
  values(spellForm(form(cells, slotsPerBeat, metre), "e"));

describe("every form there is", () => {
  it("finds the seven bars of seven attacks on the eighth grid", () => {
    // Common practice, no published source: one quarter wanders through the eighths.
    const all = [...formsOf({ metre: four, slotsPerBeat: 2, attacks: 7, rests: false })];
    expect(all.map((each) => each.cells.indexOf("-"))).toEqual([7, 6, 5, 4, 3, 2, 1]);
  });

  it("counts as compositions do: C(n-1, k-1), 2^(n-1) in all", () => {
    // Compositions of n into k parts: binomial(n-1, k-1), row n-1 of Pascal's triangle (OEIS A007318); of n: 2^(n-1) (A011782).
    const row = [1, 7, 21, 35, 35, 21, 7, 1];
    for (let k = 1; k <= 8; k++) {
      const query = { metre: four, slotsPerBeat: 2, attacks: k, rests: false };
      expect([...formsOf(query)]).toHaveLength(row[k - 1]!);
      expect(countForms(query)).toBe(row[k - 1]);
    }
    expect(countForms({ metre: four, slotsPerBeat: 2, rests: false })).toBe(128);
    expect(countForms({ metre: four, slotsPerBeat: 4, rests: false })).toBe(32768);
  });

  it("counts with rests as published: C(n+k, 2k), and every second Fibonacci number in all", () => {
    // OEIS A085478, triangle binomial(n+k, 2k), rows 3 and 4; OEIS A001519: 1, 2, 5, 13, 34, 89 ... less the silent bar.
    const rows: Record<string, number[]> = { "3/4": [6, 5, 1], "4/4": [10, 15, 7, 1] };
    for (const [name, row] of Object.entries(rows)) {
      const metre = { beats: Number(name[0]), beatType: 4 };
      row.forEach((number, i) => {
        const query = { metre, slotsPerBeat: 1, attacks: i + 1, rests: true };
        expect([...formsOf(query)]).toHaveLength(number);
        expect(countForms(query)).toBe(number);
      });
    }
    expect(countForms({ metre: { beats: 3, beatType: 4 }, slotsPerBeat: 1, rests: true })).toBe(13 - 1);
    expect(countForms({ metre: four, slotsPerBeat: 1, rests: true })).toBe(34 - 1);
    expect(countForms({ metre: four, slotsPerBeat: 4, rests: true })).toBe(3524578 - 1);
  });

  it("counts rings as binary necklaces", () => {
    // OEIS A047996, necklaces of 8 beads, k black: 1, 4, 7, 10, 7, 4, 1, 1 for k = 1 .. 8.
    const rings = [1, 4, 7, 10, 7, 4, 1, 1];
    for (let k = 1; k <= 8; k++) {
      const forms = formsOf({ metre: four, slotsPerBeat: 2, attacks: k, rests: false });
      expect([...oneOfEachRing(forms)], String(k)).toHaveLength(rings[k - 1]!);
    }
  });

  it("knows big binomials exactly", () => {
    expect(binomial(52, 5)).toBe(2598960);
    expect(binomial(3, 5)).toBe(0);
  });

  it("makes them one at a time", () => {
    const endless = formsOf({ metre: { beats: 12, beatType: 8 }, slotsPerBeat: 6, rests: true });
    expect(endless.next().value!.cells).toBe("x".repeat(24));
  });

  it("gives no form twice and none that cannot be played", () => {
    const forms = [...formsOf({ metre: { beats: 6, beatType: 8 }, slotsPerBeat: 3, rests: true })];
    expect(new Set(forms.map(formId)).size).toBe(forms.length);
    for (const each of forms) expect(readForm(formId(each))).toEqual(each);
    expect(() => readForm("4/4:2:.-xxxxxx")).toThrow("no bar of rhythm");
    expect(() => readForm("5/4:2:xxxxxxxxxx")).toThrow("no bar of rhythm");
  });
});

describe("writing a form", () => {
  it.each([
    ["x-------", "1"],
    ["x---x---", "2 2"],
    ["x--xx-x-", "4. 8 4 4"],
    ["xx-xx-xx", "8 4 8 4 8 8"],
    ["x-x--xx-", "4 4~ 8 8 4"],
    ["x-xx-xx-", "4 8 8~ 8 8 4"],
    ["x-----x-", "2. 4"],
    ["x----xxx", "2~ 8 8 8 8"],
    ["..x-..x-", "r4 4 r4 4"],
    ["....x---", "r2 2"],
    ["x.x.x.x.", "8 r8 8 r8 8 r8 8 r8"],
    ["x-....x-", "4 r4 r4 4"],
    ["xx--x-x-", "8 4. 4 4"],
    ["x-x-xx--", "4 4 8 4."],
    ["x-xx--x-", "4 8 8~ 4 4"],
  ])("%s in 4/4 as %s", (cells, written) => expect(spelled(cells)).toBe(written));

  it.each([
    ["xxxx", 4, { beats: 2, beatType: 4 }, "16 16 16 16"],
    ["x--x", 4, { beats: 2, beatType: 4 }, "8. 16"],
    ["xx-x", 4, { beats: 2, beatType: 4 }, "16 8 16"],
    ["x-xx", 4, { beats: 2, beatType: 4 }, "8 16 16"],
  ])("one beat %s of sixteenths as %s", (beat, grid, metre, written) => {
    expect(spelled(`${beat}x---`, grid, metre)).toBe(`${written} 4`);
  });

  it.each([
    ["x--x--", "4. 4."],
    ["x-----", "2."],
    ["x-xx-x", "4 8 4 8"],
    ["xxxx--", "8 8 8 4."],
    ["x...x-", "8 r8 r8 r8 4"],
    ["xx---x", "8 4~ 4 8"],
  ])("%s in 6/8 as %s", (cells, written) =>
    expect(spelled(cells, 3, { beats: 6, beatType: 8 })).toBe(written));

  it("writes triplets as three in the time of two", () => {
    expect(spelled("xxxx--x-xx--", 3)).toBe("8t 8t 8t 4 4t 8t 4");
    const events = spellForm(form("xxxx--x-xx--", 3), "e");
    expect(events.map((each) => Boolean(each.tuplet?.start))).toEqual([
      true,
      false,
      false,
      false,
      true,
      false,
      false,
    ]);
    expect(events.map((each) => Boolean(each.tuplet?.stop))).toEqual([
      false,
      false,
      true,
      false,
      false,
      true,
      false,
    ]);
  });

  it("fills every bar exactly and sounds at its slots, whatever the form", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...METRES).chain((metre) =>
          fc.constantFrom(...gridsOf(metre)).chain((slotsPerBeat) => {
            const slots = slotsIn({ metre, slotsPerBeat });
            return fc
              .array(fc.constantFrom("x", "-", "."), { minLength: slots, maxLength: slots })
              .map((signs) => ({
                metre,
                slotsPerBeat,
                cells: signs
                  .map((sign, i) => (sign === "-" && (i === 0 || signs[i - 1] === ".") ? "x" : sign))
                  .join("")
                  .replace(/\.-/g, ".x")
                  .replace(/\.-/g, ".x"),
              }));
          }),
        ),
        (each) => {
          fc.pre(each.cells.includes("x") && !each.cells.includes(".-"));
          const events = spellForm(each, "e");
          expect(sumFractions(events.map((event) => event.duration))).toBe(barQuarters(each.metre));
          const score = scoreOfForms([each], { title: "t", bpm: 60, loops: 1 });
          const slot = fractionToNumber(barQuarters(each.metre)) / each.cells.length;
          const struck = [...each.cells].flatMap((cell, i) => (cell === "x" ? [i] : []));
          const onsets = timeline(score).notes.map((note) => note.onsetQuarters / slot);
          expect(onsets).toHaveLength(struck.length);
          for (const [i, onset] of onsets.entries()) expect(onset).toBeCloseTo(struck[i]!, 6);
        },
      ),
      { numRuns: 300 },
    );
  });

  it("beams by the beat, also in compound metre and in a pickup", () => {
    const beams = (xml: string) =>
      [...xml.matchAll(/<beam number="1">(\w+)/g)].map(([, word]) => word).join(" ");
    const page = (forms: Form[]) => writeMusicXml(scoreOfForms(forms, { title: "t", bpm: 80, loops: 1 }));
    expect(beams(page([form("xxxxxxxx")]))).toBe("begin end begin end begin end begin end");
    expect(beams(page([form("xxxxxx", 3, { beats: 6, beatType: 8 })]))).toBe(
      "begin continue end begin continue end",
    );
    const pickup = scoreOfForms([form("xxxxxxxx")], { title: "t", bpm: 80, loops: 1 });
    const [measure] = pickup.parts[0].measures;
    // Three eighths before the bar: one alone on the "and" of 3, two together on 4.
    measure!.implicit = true;
    measure!.events = measure!.events.slice(0, 3);
    expect(beams(writeMusicXml(pickup))).toBe("begin end");
    expect(writeMusicXml(pickup).indexOf("<beam")).toBeGreaterThan(
      writeMusicXml(pickup).indexOf('id="b1e2"'),
    );
  });

  it("beams three eighths as one group in 3/8, seven as 2 + 2 + 3", () => {
    const beams = (beats: number) => {
      const score = line(Array(beats).fill("Bb4:1/2").join(" "), { metre: [beats, 8] });
      return [...writeMusicXml(score).matchAll(/<beam number="1">(\w+)/g)].map(([, word]) => word).join(" ");
    };
    // Grouping of compound and irregular metres: common practice of engraving, no published source.
    expect(beams(3)).toBe("begin continue end");
    expect(beams(7)).toBe("begin end begin end begin continue end");
    expect(beams(5)).toBe("begin end begin continue end");
    expect(beams(6)).toBe("begin continue end begin continue end");
  });

  it("comes back from MusicXML with its purpose", () => {
    const score = scoreOfForms([form("x--xx-x-"), form("xxx-", 2, { beats: 2, beatType: 4 })], {
      title: "Page",
      bpm: 80,
      loops: 2,
    });
    const { score: back, notUnderstood } = readMusicXml(new TextEncoder().encode(writeMusicXml(score)));
    expect(notUnderstood).toEqual([]);
    expect(back.purpose).toEqual({
      kind: "counting",
      forms: ["4/4:2:x--xx-x-", "2/4:2:xxx-"],
      system: null,
    });
    expect(timeline(back).notes.map((note) => note.onsetQuarters)).toEqual(
      timeline(score).notes.map((note) => note.onsetQuarters),
    );
  });
});

describe("grades", () => {
  const grade = (cells: string, slotsPerBeat = 2, metre = four) =>
    gradeOf(form(cells, slotsPerBeat, metre)).grade;
  it("puts beginners' bars in the order they are taught", () => {
    const order = [
      grade("x-------"),
      grade("x---x---"),
      grade("x-x-x-x-"),
      grade("x-xxx-x-"),
      grade("xxxxxxxx"),
      grade("x--xx-x-"),
      grade("x-xx-xx-"),
      grade("xxxxx-x-x--xx---", 4),
    ];
    expect(order).toEqual([...order].sort((a, b) => a - b));
  });

  it("never falls when an attack is added off the beat", () => {
    fc.assert(
      fc.property(
        fc.array(fc.boolean(), { minLength: 7, maxLength: 7 }),
        fc.integer({ min: 0, max: 3 }),
        (struck, beat) => {
          const cells = ["x", ...struck.map((each) => (each ? "x" : "-"))];
          const slot = 2 * beat + 1;
          // On a beat that is struck itself and without a tie to break the added attack only adds.
          fc.pre(cells[slot] === "-" && cells[slot - 1] === "x" && (slot === 7 || cells[slot + 1] === "x"));
          const more = cells.with(slot, "x");
          expect(grade(more.join(""))).toBeGreaterThan(grade(cells.join("")));
        },
      ),
    );
  });

  it("puts a syncopation above the same notes on their beats", () => {
    // Eighth, quarter, eighth above quarter and eighths; sixteenth, eighth, sixteenth above four sixteenths.
    expect(grade("xx-xx-x-")).toBeGreaterThan(grade("x-xxx-x-"));
    expect(grade("xx-xx-x-")).toBeGreaterThan(grade("xxxxx-x-"));
    expect(grade("xx-xx---x---x---", 4)).toBeGreaterThan(grade("xxxxx---x---x---", 4));
    expect(gradeOf(form("xx-xx-x-")).reasons).toContain("1 syncopation");
    expect(gradeOf(form("xxxxx-x-")).reasons.join()).not.toContain("syncopation");
  });

  it("says why", () => {
    expect(gradeOf(form("x-xx-xx-")).reasons).toContain("1 tie");
    expect(gradeOf(form("xxxxxx", 3, { beats: 6, beatType: 8 })).reasons[0]).toBe("thirds of the beat");
  });
});

describe("pages", () => {
  const page = (changes: Partial<PageSettings>) => makePage({ ...USUAL_PAGE, ...changes });
  const ids = (forms: Form[]) => forms.map(formId);

  it("is the same for the same seed, another for another, and repeats no bar", () => {
    for (const rests of [false, true]) {
      const one = ids(page({ seed: 7, rests, bars: 24 }).forms);
      expect(ids(page({ seed: 7, rests, bars: 24 }).forms)).toEqual(one);
      expect(ids(page({ seed: 8, rests, bars: 24 }).forms)).not.toEqual(one);
      expect(new Set(one).size).toBe(24);
    }
  });

  it("draws from sets too large to look through, still without a bar twice", () => {
    const { forms, available } = page({ slotsPerBeat: 4, rests: true, bars: 48, seed: 3 });
    expect(available).toBeNull();
    expect(new Set(ids(forms)).size).toBe(48);
  });

  it("stands in order of grade and keeps to what is asked", () => {
    const { forms } = page({ attacks: [4, 6], ties: false, dots: false, grades: [2, 5], bars: 10 });
    const grades = forms.map((each) => gradeOf(each).grade);
    expect(grades).toEqual([...grades].sort((a, b) => a - b));
    for (const each of forms) {
      expect(spellForm(each, "e").some((event) => event.tieStart || event.dots > 0)).toBe(false);
      expect([4, 5, 6]).toContain([...each.cells].filter((cell) => cell === "x").length);
      expect(gradeOf(each).grade).toBeGreaterThanOrEqual(2);
      expect(gradeOf(each).grade).toBeLessThanOrEqual(5);
    }
  });

  it("gives a complete set", () => {
    expect(page({ choice: "complete", attacks: [7, 7] }).forms).toHaveLength(7);
    expect(page({ choice: "complete", attacks: [4, 4], rings: true }).forms).toHaveLength(10);
  });

  it("mixes metres", () => {
    const metres = [four, { beats: 3, beatType: 4 }];
    const score = scoreOfForms(page({ metres, bars: 12 }).forms, { title: "t", bpm: 80, loops: 2 });
    expect(score.parts[0].measures.filter((measure) => measure.time).length).toBeGreaterThan(1);
    expect(timeline(score).measures).toHaveLength(24);
  });

  it.each([
    [
      { attacks: [9, 9] as [number, number] },
      "A bar of 4/4 on this grid has 8 places, so there is no form with 9 attacks; the nearest is 8.",
    ],
    [{ bars: 0 }, "A page has 1 to 48 bars, not 0."],
    [
      { attacks: [7, 7] as [number, number], bars: 12 },
      "There are only 7 such bars, and no bar comes twice on a page. The nearest page has 7.",
    ],
    [
      {
        slotsPerBeat: 3,
        metres: [{ beats: 6, beatType: 8 }, four].slice(1),
        grades: [90, 99] as [number, number],
      },
      "No bar is like that between grade 90 and 99; without the limits of grade there are some.",
    ],
    [
      { slotsPerBeat: 4, metres: [{ beats: 6, beatType: 8 }] },
      "The beat of 6/8 is not divided into 4; 3 is the nearest division it has.",
    ],
    [{ metres: [] }, "A page needs at least one metre, such as 4/4."],
    [
      { choice: "complete" as const },
      "There are 128 such bars; a page holds 48. The nearest page is 48 of them by chance.",
    ],
  ])("refuses what does not exist with a nearest page that does (%#)", (changes, sentence) => {
    let refused: unknown;
    try {
      page(changes);
    } catch (error) {
      refused = error;
    }
    expect(refused).toBeInstanceOf(PageError);
    expect((refused as PageError).message).toBe(sentence);
    expect(makePage((refused as PageError).offer).forms.length).toBeGreaterThan(0);
  });

  it("knows how long a page takes", () => {
    // Two bars of four, twice each, and a bar to count off at 60.
    expect(pageSeconds([form("x-------"), form("xxxxxxxx")], 60, 2)).toBe(20);
  });
});

describe("counting aloud", () => {
  const say = (id: string, cells: string, slotsPerBeat = 2, metre = four) => {
    const { parts } = scoreOfForms([form(cells, slotsPerBeat, metre)], { title: "t", bpm: 80, loops: 1 });
    return syllablesOf(parts[0].measures, COUNTING_SYSTEMS.find((each) => each.id === id)!)
      .map(({ text }) => text)
      .join(" ");
  };
  const six = { beats: 6, beatType: 8 };

  it("counts in numbers, rests and ties in brackets", () => {
    expect(say("numbers", "x-xxx-x-")).toBe("1 2 & 3 4");
    expect(say("numbers", "xxxxxxxxxxxxxxxx", 4)).toBe("1 e & a 2 e & a 3 e & a 4 e & a");
    expect(say("numbers", "x-..xx..")).toBe("1 (2) 3 & (4)");
    expect(say("numbers", "x-x--xx-")).toBe("1 2 (3) & 4");
  });

  it("says beat-function syllables as published", () => {
    // Hoffman, Pelto and White, "Takadimi", Journal of Music Theory Pedagogy 10 (1996): ta-ka-di-mi for the quarters of a
    // simple beat, ta-di for its halves, ta-ki-da for thirds, ta-va-ki-di-da-ma for the sixths of a compound beat; the
    // beat is always ta.
    expect(say("takadimi", "xxxxx-xxx-x-x---", 4)).toBe("ta ka di mi ta di mi ta di ta");
    expect(say("takadimi", "xxx-xx--")).toBe("ta di ta ta di");
    expect(say("takadimi", "xxxx-x", 3, six)).toBe("ta ki da ta da");
    expect(say("takadimi", "xxxxxxx--x--", 6, six)).toBe("ta va ki di da ma ta di");
    expect(say("takadimi", "xxxx--x--x--", 3)).toBe("ta ki da ta ta ta");
  });

  it("says values in ta and ti", () => {
    expect(say("ta-ti", "x---xxx-")).toBe("ta-a ti ti ta");
    expect(say("ta-ti", "x--xx-..")).toBe("ta-i ti ta");
    // Common practice, no published source: by place in the group.
    expect(say("ta-ti", "xxxxx-xxxxx-x--x", 4)).toBe("ti ri ti ri ti ti ri ti ri ti tim ri");
    expect(say("ta-ti", "xxxx--x--x--", 3)).toBe("tri o la ta ta ta");
  });

  it("counts a pickup from its place in the bar", () => {
    const { parts } = scoreOfForms([form("xxx-x-x-")], { title: "t", bpm: 80, loops: 1 });
    const measures = [
      { ...parts[0].measures[0]!, implicit: true as const, events: parts[0].measures[0]!.events.slice(0, 3) },
    ];
    expect(syllablesOf(measures, COUNTING_SYSTEMS[0]!).map(({ text }) => text)).toEqual(["3", "&", "4"]);
  });
});

describe("a course", () => {
  it("fills two weeks with rising grades, within the minutes, no new bar twice", () => {
    const days = planCourse({ ...USUAL_COURSE, minutesPerDay: 10 });
    expect(days).toHaveLength(10);
    const grades = days.map((day) => day.grade);
    expect(grades).toEqual([...grades].sort((a, b) => a - b));
    const all = days.flatMap((day) => day.fresh.map(formId));
    expect(new Set(all).size).toBe(all.length);
    for (const day of days) {
      expect(day.seconds).toBeLessThanOrEqual(600);
      expect(day.fresh.length).toBeGreaterThanOrEqual(2);
    }
    expect(days[0]!.focus).toBe("attacks on the beat");
    expect(days.at(-1)!.focus).toBe("mixed metre");
  });

  it("is about what each day is called after", () => {
    for (const seed of [1, 2, 3])
      for (const minutesPerDay of [5, 8, 15]) {
        const days = planCourse({ ...USUAL_COURSE, minutesPerDay, seed });
        const share = (focus: string, has: (cells: ReturnType<typeof spellForm>) => boolean) => {
          const day = days.find((each) => each.focus === focus)!;
          return day.fresh.filter((each) => has(spellForm(each, "e"))).length / day.fresh.length;
        };
        expect(share("dotted quarters", (events) => events.some((e) => e.dots > 0))).toBeGreaterThanOrEqual(
          0.9,
        );
        expect(share("ties", (events) => events.some((e) => e.tieStart))).toBeGreaterThanOrEqual(0.9);
        expect(
          share("rests on the beat", (events) => events.some((e) => e.kind === "rest")),
        ).toBeGreaterThanOrEqual(0.9);
      }
  });

  it("brings a missed bar back after one, three and six days", () => {
    const plain = planCourse(USUAL_COURSE);
    const missed = { formId: formId(plain[1]!.fresh[0]!), day: 2 };
    const days = planCourse(USUAL_COURSE, [missed]);
    const back = days
      .filter((day) => day.back.some((each) => formId(each) === missed.formId))
      .map((day) => day.day);
    expect(back).toEqual([3, 5, 8]);
    expect(days[0]).toEqual(plain[0]);
    for (const day of days) expect(day.seconds).toBeLessThanOrEqual(60 * USUAL_COURSE.minutesPerDay + 45);
  });

  it("offers the nearest course for days and minutes it cannot plan", () => {
    expect(() => planCourse({ ...USUAL_COURSE, minutesPerDay: 40 })).toThrow(CourseError);
    expect(() => planCourse({ ...USUAL_COURSE, days: 1 })).toThrow(
      "A course has 2 to 15 days, not 1; the nearest is 2.",
    );
  });
});

describe("activities", () => {
  const bars = easiestFirst([...formsOf({ metre: four, slotsPerBeat: 2, attacks: 5, rests: false })]);

  it("marks a dictation slot by slot", () => {
    const heard = form("x-xxx-x-");
    expect(checkDictation(heard, "x-xxx-x-").right).toBe(true);
    // A clap has no length: silence and a held sound are written alike.
    expect(checkDictation(heard, "x.xxx.x.").right).toBe(true);
    const { marks, right } = checkDictation(heard, "xxx-x-x-");
    expect(right).toBe(false);
    expect(marks).toEqual(["right", "extra", "right", "missing", "right", "empty", "right", "empty"]);
  });

  it("writes what was tapped on the nearest places", () => {
    expect(slotsOfTaps([0.04, 0.96, 1.53, 2.02, 2.94], form(""), 60)).toBe("x-xxx-x-");
    expect(slotsOfTaps([], form(""), 60)).toBe("........");
  });

  it("cuts a hole that exactly one piece fills", () => {
    for (const [i, bar] of bars.entries()) {
      const task = fillTheBar(bar, i);
      const hole = task.to - task.from;
      expect(task.pieces.filter((piece) => piece.length === hole)).toHaveLength(1);
      expect(task.pieces[task.answer]).toBe(bar.cells.slice(task.from, task.to));
      expect(task.pieces.length).toBeGreaterThanOrEqual(2);
      expect(task.pieces[task.answer]![0]).toBe("x");
    }
  });

  it("hides one mistake in one beat", () => {
    for (const [i, bar] of bars.entries()) {
      const { printed, played, beat } = findTheMistake(bar, i);
      const differing = [...printed.cells].flatMap((cell, slot) =>
        (cell === "x") === (played.cells[slot] === "x") ? [] : [slot],
      );
      expect(differing).toHaveLength(1);
      expect(Math.floor(differing[0]! / 2)).toBe(beat);
      expect(() => readForm(formId(played))).not.toThrow();
    }
  });

  it("asks on which count a pickup begins", () => {
    const task = startingBeat(form("x---x-xx"), 2);
    const start = 8 - task.pickup.length;
    expect(task.pickup[0]).toBe("x");
    expect(task.options[task.answer]).toBe(start === 7 ? "& of 4" : String(start / 2 + 1));
    expect(new Set(task.options).size).toBe(task.options.length);
  });
});

describe("clapped and tapped", () => {
  const score = scoreOfForms([form("x-xxx-x-"), form("xxx-x---")], { title: "t", bpm: 80, loops: 2 });
  const line = timeline(score, { bpm: 80 });
  const onsets = line.notes.map((note) => note.onsetSec);

  it("judges taps attack by attack against the player's own beat", () => {
    // Ten percent slower than asked, one tap 120 ms late, one left out, all of it begun somewhere.
    const taps = onsets.map((sec, i) => 3.2 + sec * 1.1 + (i === 6 ? 0.12 : 0)).toSpliced(9, 1);
    const answer = assessTaps(score, taps, { bpm: 80 });
    expect(answer.take.status).toBe("assessed");
    expect(answer.take.tempoBpm).toBeCloseTo(80 / 1.1, 0);
    const late = answer.notes.filter((note) => note.timing === "late").map((note) => note.index);
    expect(late).toEqual([6]);
    expect(answer.notes.filter((note) => note.verdict === "missed").map((note) => note.index)).toEqual([9]);
    expect(answer.notes[0]!.cents).toBeNull();
  });

  it("answers as it does for the same rhythm clapped", () => {
    const plan = playAlong(line);
    const pcm = {
      samples: renderPlan(plan, {
        mix: { count: false, click: false, reference: true },
        bank: plainSounds(),
        sampleRate: 44100,
      }),
      sampleRate: 44100,
    };
    const clapped = assess(score, pcm, { bpm: 80, mode: "rhythm" });
    const tapped = assessTaps(
      score,
      onsets.map((sec) => sec + plan.startSec),
      { bpm: 80 },
    );
    const verdicts = (answer: typeof clapped) =>
      answer.notes.map(({ verdict, timing }) => `${verdict} ${timing}`);
    expect(verdicts(clapped)).toEqual(verdicts(tapped));
    for (const [i, note] of clapped.notes.entries())
      expect(note.onset).toBeCloseTo(tapped.notes[i]!.onset!, 1);
  });

  it("says nothing of two stray taps, or of another rhythm", () => {
    expect(assessTaps(score, [1], { bpm: 80 }).take.status).toBe("no-music");
    expect(assessTaps(score, [1, 4, 4.1, 9, 9.2, 9.35, 15, 15.1], { bpm: 80 }).take.status).toBe("no-match");
  });

  it("shows the steady beat against the click", () => {
    // 40 ms behind at first, 100 ms behind at the end.
    const taps = onsets.map((sec) => 2 + sec + 0.04 + (0.06 * sec) / onsets.at(-1)!);
    const against = againstClick(assessTaps(score, taps, { bpm: 80 }), line, 2)!;
    expect(against.behindMs).toBeGreaterThan(55);
    expect(against.behindMs).toBeLessThan(85);
    expect(against.driftMs).toBeGreaterThan(30);
    expect(against.attacks).toHaveLength(onsets.length);
  });

  it("learns the delay of a device from eight taps", () => {
    const clicks = [0, 0.75, 1.5, 2.25, 3, 3.75, 4.5, 5.25];
    const delay = tapDelay(
      clicks,
      clicks.map((sec, i) => sec + 0.085 + (i % 2 ? 0.01 : -0.01)),
    )!;
    expect(delay.sec).toBeCloseTo(0.085, 1);
    expect(tapDelay(clicks, [0.1, 0.9])).toBeNull();
  });
});
