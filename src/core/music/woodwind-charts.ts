import type { HoleFingering } from "./fingering";
import { parsePitch, pitchToMidi } from "./pitch";

/** Reads the chart shorthand: "R" register or octave key, "T" thumb, six fingers with "-" for up and "h" for half, then extra keys. */
export function readHoles(text: string): HoleFingering {
  const [fingers = "", ...rest] = text.split(" ").filter((word) => word !== "R" && word !== "T");
  const words = text.split(" ");
  return {
    kind: "holes",
    register: words.includes("R"),
    thumb: words.includes("T"),
    fingers: [...fingers].map((sign) => (sign === "h" ? "half" : sign !== "-")),
    extra: rest.map((word) => word.replace("_", " ")),
  };
}

/** One row a note: its name, then fingerings, alternates after a slash. */
function chart(rows: string): Record<number, string[]> {
  return Object.fromEntries(
    rows
      .trim()
      .split("\n")
      .map((row) => {
        const [note, ...fingering] = row.trim().split(/\s+/);
        return [pitchToMidi(parsePitch(note!)), fingering.join(" ").split(" / ")];
      }),
  );
}

// Fingers: left 1 2 3, right 1 2 3; "-" is up, "h" half-holed; alternates after a slash. "left", "right" before a key is the
// little finger. T is the thumb: the B key on the flute, the hole on the clarinet, the whisper key on the bassoon.
// Written from memory; `checksOf` says of every note what else speaks for it.
export const CHARTS = {
  flute: chart(`
    C4  T 123123 low_C
    C#4 T 123123 low_C♯
    D4  T 123123
    Eb4 T 123123 E♭
    E4  T 12312- E♭
    F4  T 1231-- E♭
    F#4 T 123--3 E♭
    G4  T 123--- E♭
    Ab4 T 123--- G♯ E♭
    A4  T 12---- E♭
    Bb4 T 1--1-- E♭ / T 1----- thumb_B♭ E♭
    B4  T 1----- E♭
    C5  1----- E♭
    Db5 ------ E♭
    D5  T -23123
    Eb5 T -23123 E♭
    E5  T 12312- E♭
    F5  T 1231-- E♭
    F#5 T 123--3 E♭
    G5  T 123--- E♭
    Ab5 T 123--- G♯ E♭
    A5  T 12---- E♭
    Bb5 T 1--1-- E♭ / T 1----- thumb_B♭ E♭
    B5  T 1----- E♭
    C6  1----- E♭
    C#6 ------ E♭
    D6  T -23--- E♭
    Eb6 T 123123 G♯ E♭
    E6  T 12-12- E♭
    F6  T 1-31-- E♭
    F#6 T 1-3--3 E♭
    G6  123--- E♭`),
  oboe: chart(`
    C4  123123 low_C
    C#4 123123 C♯
    D4  123123
    Eb4 123123 E♭
    E4  12312-
    F4  1231-- F / 1231-3
    F#4 1231--
    G4  123---
    Ab4 123--- G♯
    A4  12----
    Bb4 12-1--
    B4  1-----
    C5  1--1--
    C#5 h23123 C♯
    D5  h23123
    Eb5 h23123 E♭
    E5  R 12312-
    F5  R 1231-- F / R 1231-3
    F#5 R 1231--
    G5  R 123---
    Ab5 R 123--- G♯
    A5  12---- side_octave
    Bb5 12-1-- side_octave
    B5  1----- side_octave
    C6  1--1-- side_octave`),
  bassoon: chart(`
    Bb1 123123 low_B♭ low_B low_C low_D pancake_E F
    B1  123123 low_B low_C low_D pancake_E F
    C2  123123 low_C low_D pancake_E F
    C#2 123123 low_C low_D C♯ pancake_E F
    D2  123123 low_D pancake_E F
    Eb2 123123 low_D E♭ pancake_E F
    E2  T 123123 pancake_E F
    F2  T 123123 F
    F#2 T 123123 F♯
    G2  T 123123
    Ab2 T 123123 G♯
    A2  T 12312-
    Bb2 T 12312- B♭
    B2  T 1231--
    C3  T 123---
    C#3 T 123--- C♯
    D3  T 12----
    Eb3 T 1-3---
    E3  T 1-----
    F3  T ------
    F#3 T h23123 F♯
    G3  T h23123
    Ab3 T h23123 G♯
    A3  12312-
    Bb3 12312- B♭
    B3  1231--
    C4  123---
    C#4 123--- C♯
    D4  12----`),
  clarinet: chart(`
    E3  T 123123 left_E / T 123123 right_E
    F3  T 123123 right_F / T 123123 left_F
    F#3 T 123123 left_F♯ / T 123123 right_F♯
    G3  T 123123
    Ab3 T 123123 A♭
    A3  T 12312-
    Bb3 T 1231--
    B3  T 123-2- / T 1231-- side_B
    C4  T 123---
    C#4 T 123--- C♯
    D4  T 12----
    Eb4 T 12---- side_E♭ / T 1--1--
    E4  T 1-----
    F4  T ------
    F#4 1----- / T ------ side_F♯
    G4  ------
    Ab4 ------ G♯
    A4  ------ A
    Bb4 R ------ A / ------ A side_B♭
    B4  R T 123123 left_E / R T 123123 right_E
    C5  R T 123123 right_F / R T 123123 left_F
    C#5 R T 123123 left_F♯ / R T 123123 right_F♯
    D5  R T 123123
    Eb5 R T 123123 A♭
    E5  R T 12312-
    F5  R T 1231--
    F#5 R T 123-2- / R T 1231-- side_B
    G5  R T 123---
    Ab5 R T 123--- C♯
    A5  R T 12----
    Bb5 R T 12---- side_E♭ / R T 1--1--
    B5  R T 1-----
    C6  R T ------`),
  sax: chart(`
    Bb3 123123 low_B♭
    B3  123123 low_B
    C4  123123 low_C
    C#4 123123 low_C♯
    D4  123123
    Eb4 123123 E♭
    E4  12312-
    F4  1231--
    F#4 123-2- / 1231-- side_F♯
    G4  123---
    G#4 123--- G♯
    A4  12----
    Bb4 12---- side_B♭ / 1----- bis / 1--1--
    B4  1-----
    C5  -2---- / 1----- side_C
    C#5 ------
    D5  R 123123
    Eb5 R 123123 E♭
    E5  R 12312-
    F5  R 1231--
    F#5 R 123-2- / R 1231-- side_F♯
    G5  R 123---
    G#5 R 123--- G♯
    A5  R 12----
    Bb5 R 12---- side_B♭ / R 1----- bis / R 1--1--
    B5  R 1-----
    C6  R -2---- / R 1----- side_C
    C#6 R ------
    D6  R ------ palm_D`),
};
