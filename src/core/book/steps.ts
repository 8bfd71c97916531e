import type { BookLine } from "./shorthand";

/**
 * Quayside Steps, Book One: invented, every tune composed for it. One or two new things a line, in an order of common
 * practice (no published source): a range of five notes first, then one note at a time; eighths, dotted notes, pickups, D.C.
 * and fermata in their turn; clarinets cross the break late and on purpose.
 */
export const BOOK_TITLE = "Quayside Steps, Book One";

/** The book's lines but the drummers' page, in the octave in which a flute reads them. */
export const LINES: BookLine[] = [
  {
    number: 1,
    page: 3,
    title: "First Light",
    introduces: "concert F; whole notes and whole rests",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 72,
    music: "F5:4 | r:4 | F5:4 | r:4 | F5:4 | r:4 | F5:4 | r:4",
  },
  {
    number: 2,
    page: 3,
    title: "Second Lamp",
    introduces: "concert E♭",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 72,
    music: "Eb5:4 | r:4 | Eb5:4 | r:4 | F5:4 | r:4 | Eb5:4 | r:4",
  },
  {
    number: 3,
    page: 3,
    title: "Harbour Hum",
    introduces: "concert D",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 72,
    music: "D5:4 | r:4 | Eb5:4 | r:4 | F5:4 | r:4 | D5:4 | r:4",
  },
  {
    number: 4,
    page: 3,
    title: "Three Buoys",
    introduces: "F, E♭ and D together",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 72,
    music: "F5:4 | Eb5:4 | D5:4 | r:4 | D5:4 | Eb5:4 | D5:4 | r:4",
  },
  {
    number: 5,
    page: 4,
    title: "Low Tide",
    introduces: "concert C",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 72,
    music: "Eb5:4 | D5:4 | C5:4 | r:4 | D5:4 | C5:4 | D5:4 | r:4",
  },
  {
    number: 6,
    page: 4,
    title: "Anchor Down",
    introduces: "concert B♭",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 72,
    music: "D5:4 | C5:4 | Bb4:4 | r:4 | F5:4 | C5:4 | Bb4:4 | r:4",
  },
  {
    number: 7,
    page: 4,
    title: "Ladder to the Deck",
    introduces: "the five notes up and down",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music: "Bb4:4 | C5:4 | D5:4 | Eb5:4 | F5:4 | r:4 | F5:4 | Eb5:4 | D5:4 | C5:4 | Bb4:4 | r:4",
  },
  {
    number: 8,
    page: 4,
    title: "Echo at the Pier",
    introduces: "a round in two: the second group begins in bar 3",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music: "Bb4:4 | C5:4 | D5:4 | Eb5:4 | F5:4 | Eb5:4 | D5:4 | Bb4:4",
  },
  {
    number: 9,
    page: 5,
    title: "Two by Two",
    introduces: "half notes and half rests",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 76,
    music: "D5:2 D5:2 | C5:2 C5:2 | Bb4:2 C5:2 | D5:2 r:2 | D5:2 Eb5:2 | F5:2 D5:2 | C5:2 C5:2 | Bb4:2 r:2",
  },
  {
    number: 10,
    page: 5,
    title: "Mooring Rope",
    introduces: "quarter notes and quarter rests",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 76,
    music:
      "Bb4:1 C5:1 D5:1 r:1 | D5:1 Eb5:1 F5:1 r:1 | F5:1 Eb5:1 D5:1 C5:1 | D5:2 C5:1 r:1 | Bb4:1 C5:1 D5:1 r:1 | D5:1 Eb5:1 F5:1 r:1 | F5:1 D5:1 C5:1 C5:1 | Bb4:2 r:2",
  },
  {
    number: 11,
    page: 5,
    title: "Round the Bollard",
    introduces: "repeat signs",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music:
      "[: Bb4:1 D5:1 C5:1 D5:1 | Eb5:2 D5:2 | C5:1 D5:1 Eb5:1 C5:1 | D5:2 Bb4:2 :] | [: F5:1 Eb5:1 D5:1 C5:1 | D5:2 F5:2 | Eb5:1 D5:1 C5:1 C5:1 | Bb4:2 r:2 :]",
  },
  {
    number: 12,
    page: 5,
    title: "Gull on the Mast",
    introduces: "a tune in the form AABA: bars to compare",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 84,
    music:
      "F5:1 F5:1 D5:1 Bb4:1 | C5:1 D5:1 C5:2 | F5:1 F5:1 D5:1 Bb4:1 | C5:1 C5:1 Bb4:2 | F5:1 F5:1 D5:1 Bb4:1 | C5:1 D5:1 C5:2 | F5:1 F5:1 D5:1 Bb4:1 | C5:1 C5:1 Bb4:2 | D5:1 Eb5:1 F5:2 | C5:1 D5:1 Eb5:2 | D5:1 C5:1 D5:1 Eb5:1 | F5:2 r:2 | F5:1 F5:1 D5:1 Bb4:1 | C5:1 D5:1 C5:2 | F5:1 F5:1 D5:1 Bb4:1 | C5:1 C5:1 Bb4:2",
    parts: [
      {
        name: "Second",
        music:
          "D5:1 D5:1 Bb4:1 Bb4:1 | C5:1 Bb4:1 C5:2 | D5:1 D5:1 Bb4:1 Bb4:1 | Eb5:1 Eb5:1 D5:2 | D5:1 D5:1 Bb4:1 Bb4:1 | C5:1 Bb4:1 C5:2 | D5:1 D5:1 Bb4:1 Bb4:1 | Eb5:1 Eb5:1 D5:2 | Bb4:1 C5:1 D5:2 | C5:1 Bb4:1 C5:2 | Bb4:1 C5:1 Bb4:1 C5:1 | D5:2 r:2 | D5:1 D5:1 Bb4:1 Bb4:1 | C5:1 Bb4:1 C5:2 | D5:1 D5:1 Bb4:1 Bb4:1 | Eb5:1 Eb5:1 D5:2",
      },
    ],
  },
  {
    number: 13,
    page: 6,
    title: "Fog Bell",
    introduces: "ties",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music: "F5:2 D5:2 | F5:4~ | F5:2 D5:2 | C5:4 | Eb5:2 C5:2 | D5:4~ | D5:2 C5:2 | Bb4:4",
  },
  {
    number: 14,
    page: 6,
    title: "Fog Lifting",
    introduces: "slurs; the notes of the line before",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music: "F5:2( D5:2) | F5:4 | F5:2( D5:2) | C5:4 | Eb5:2( C5:2) | D5:4 | D5:2( C5:2) | Bb4:4",
  },
  {
    number: 15,
    page: 6,
    title: "Long Swell",
    introduces: "breath marks and phrases",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 84,
    music: "Bb4:2 C5:2 | D5:2 Eb5:2 | F5:2 D5:2 | C5:4, | D5:2 Eb5:2 | F5:2 D5:2 | C5:2 C5:2 | Bb4:4,",
  },
  {
    number: 16,
    page: 6,
    title: "Two Flats Afloat",
    introduces: "the key signature of B♭",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 84,
    music:
      "Eb5:1 D5:1 Eb5:1 F5:1 | D5:2 Bb4:2 | C5:1 Bb4:1 C5:1 D5:1 | Bb4:4, | Eb5:1 D5:1 Eb5:1 C5:1 | D5:2 F5:2 | Eb5:1 D5:1 C5:1 D5:1 | Bb4:4",
  },
  {
    number: 17,
    page: 7,
    title: "Ferry Timetable",
    introduces: "concert G",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 84,
    music:
      "F5:1 G5:1 F5:1 D5:1 | Bb4:2 D5:2 | Eb5:1 G5:1 F5:1 Eb5:1 | D5:4, | F5:1 G5:1 F5:1 D5:1 | Bb4:2 D5:2 | C5:1 Eb5:1 D5:1 C5:1 | Bb4:4",
  },
  {
    number: 18,
    page: 7,
    title: "Two Gulls",
    introduces: "two-four time",
    composer: "Composed for this book",
    fifths: -2,
    metre: [2, 4],
    bpm: 84,
    music:
      "F5:1 F5:1 | G5:1 F5:1 | D5:1 Eb5:1 | F5:2, | Eb5:1 Eb5:1 | D5:1 C5:1 | D5:1 C5:1 | Bb4:2, | D5:1 Eb5:1 | F5:1 D5:1 | G5:1 Eb5:1 | C5:2, | F5:1 F5:1 | G5:1 F5:1 | D5:1 C5:1 | Bb4:2",
  },
  {
    number: 20,
    page: 8,
    title: "Wandering Pair",
    introduces: "eighth notes in pairs",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 76,
    music:
      "Bb4:1/2 Bb4:1/2 C5:1 D5:1 D5:1 | D5:1 Eb5:1/2 Eb5:1/2 F5:1 F5:1 | G5:1 F5:1 Eb5:1/2 D5:1/2 C5:1 | D5:1 C5:1 D5:1 C5:1/2 C5:1/2 | Bb4:1/2 Bb4:1/2 C5:1 D5:1 D5:1 | D5:1 Eb5:1/2 Eb5:1/2 F5:1 F5:1 | G5:1 F5:1 Eb5:1/2 D5:1/2 C5:1 | Bb4:2 Bb4:2",
    parts: [
      {
        name: "Easy",
        music:
          "Bb4:1 C5:1 D5:1 D5:1 | D5:1 Eb5:1 F5:1 F5:1 | F5:1 F5:1 Eb5:1 C5:1 | D5:1 C5:1 D5:1 C5:1 | Bb4:1 C5:1 D5:1 D5:1 | D5:1 Eb5:1 F5:1 F5:1 | F5:1 F5:1 Eb5:1 C5:1 | Bb4:2 Bb4:2",
      },
    ],
  },
  {
    number: 21,
    page: 8,
    title: "Kite over the Quay",
    introduces: "eighth notes under slurs",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 76,
    music:
      "F5:1/2( Eb5:1/2) D5:1 Eb5:1/2( D5:1/2) C5:1 | D5:1/2( C5:1/2) Bb4:1 C5:2 | F5:1/2( Eb5:1/2) D5:1 G5:1/2( F5:1/2) Eb5:1 | D5:1 C5:1 Bb4:2, | Bb4:1/2( C5:1/2) D5:1 C5:1/2( D5:1/2) Eb5:1 | D5:1/2( Eb5:1/2) F5:1 G5:2 | F5:1/2( Eb5:1/2) D5:1 Eb5:1/2( D5:1/2) C5:1 | Bb4:4",
  },
  {
    number: 22,
    page: 8,
    title: "Cellar Steps",
    introduces: "concert A below",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music:
      "Bb4:1 A4:1 Bb4:1 C5:1 | D5:1 C5:1 Bb4:2 | A4:1 Bb4:1 C5:1 A4:1 | Bb4:4, | Bb4:1 A4:1 Bb4:1 D5:1 | F5:1 Eb5:1 D5:2 | C5:1/2 Bb4:1/2 A4:1 C5:1 A4:1 | Bb4:4",
  },
  {
    number: 23,
    page: 9,
    title: "Slack Tide",
    introduces: "three-four time and dotted half notes",
    composer: "Composed for this book",
    fifths: -2,
    metre: [3, 4],
    bpm: 92,
    music:
      "D5:1 C5:1 Bb4:1 | F5:3 | Eb5:1 D5:1 C5:1 | D5:3, | D5:1 C5:1 Bb4:1 | G5:3 | F5:1 Eb5:1 C5:1 | Bb4:3, | C5:1 C5:1 D5:1 | Eb5:3 | D5:1 D5:1 Eb5:1 | F5:3, | G5:1 F5:1 Eb5:1 | D5:1 C5:1 Bb4:1 | A4:1 C5:1 A4:1 | Bb4:3",
  },
  {
    number: 24,
    page: 9,
    title: "Pickup at Pier Nine",
    introduces: "a pickup; a waltz",
    composer: "Composed for this book",
    fifths: -2,
    metre: [3, 4],
    bpm: 96,
    music:
      "F5:1 | D5:2 F5:1 | Bb4:2 D5:1 | C5:1 Eb5:1 D5:1 | C5:2, F5:1 | D5:2 F5:1 | G5:2 Eb5:1 | D5:1 C5:1 A4:1 | Bb4:2, Bb4:1 | A4:2 C5:1 | Bb4:2 D5:1 | C5:1 D5:1 Eb5:1 | D5:2, F5:1 | G5:2 Eb5:1 | F5:2 D5:1 | C5:1 Bb4:1 A4:1 | Bb4:2",
    parts: [
      {
        name: "Second",
        music:
          "D5:1 | Bb4:2 D5:1 | Bb4:2 Bb4:1 | A4:1 C5:1 Bb4:1 | A4:2, D5:1 | Bb4:2 D5:1 | Eb5:2 C5:1 | Bb4:1 A4:1 A4:1 | Bb4:2, Bb4:1 | A4:2 A4:1 | Bb4:2 Bb4:1 | A4:1 Bb4:1 C5:1 | Bb4:2, D5:1 | Eb5:2 C5:1 | D5:2 Bb4:1 | A4:1 Bb4:1 A4:1 | Bb4:2",
      },
    ],
  },
  {
    number: 25,
    page: 9,
    title: "Foghorn, Far and Near",
    introduces: "p, mf and f; a crescendo on one long note",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music:
      "p= F5:1/2 F5:1/2 F5:1 G5:1 F5:1 | D5:2 Bb4:2 | f= F5:1/2 F5:1/2 F5:1 G5:1 F5:1 | D5:2 Bb4:2, | p= C5:4~{ | C5:4} | f= D5:1/2 Eb5:1/2 D5:1 C5:1 A4:1 | mf= Bb4:4",
  },
  {
    number: 26,
    page: 10,
    title: "Net Menders",
    introduces: "concert A♭, the key of E♭: the flat that stays",
    composer: "Composed for this book",
    fifths: -3,
    metre: [4, 4],
    bpm: 84,
    music:
      "Eb5:1 F5:1 G5:2 | G5:1/2 F5:1/2 Eb5:1 Eb5:2 | G5:1 Ab5:1 G5:1/2 F5:1/2 Eb5:1 | F5:1 D5:1 Eb5:2, | Bb4:1 Eb5:1 G5:1 Ab5:1 | G5:1/2 F5:1/2 Eb5:1 F5:2 | G5:1 F5:1/2 Eb5:1/2 D5:1 F5:1 | Eb5:4",
    parts: [
      {
        name: "Easy",
        music: "Eb5:2 G5:2 | G5:2 Eb5:2 | G5:2 F5:2 | Eb5:4, | Bb4:2 G5:2 | G5:2 Eb5:2 | F5:2 D5:2 | Eb5:4",
      },
    ],
  },
  {
    number: 27,
    page: 10,
    title: "Over the Bar",
    introduces: "sixteen bars in E♭",
    composer: "Composed for this book",
    fifths: -3,
    metre: [4, 4],
    bpm: 84,
    music:
      "Eb5:2 G5:1 Ab5:1 | G5:2 Eb5:2 | F5:1( Eb5:1) D5:1( F5:1) | Eb5:2 Bb4:2, | Eb5:2 G5:1 Ab5:1 | G5:1/2( F5:1/2) Eb5:1 Eb5:2 | D5:1 Eb5:1 F5:1 D5:1 | Eb5:4, | Bb4:1 C5:1/2 D5:1/2 Eb5:1 F5:1 | F5:2 D5:2 | C5:1 D5:1/2 Eb5:1/2 F5:1 Eb5:1 | G5:4, | Ab5:1( G5:1) F5:1( Eb5:1) | G5:1( F5:1) Eb5:1( D5:1) | F5:1 Eb5:1 D5:1 F5:1 | Eb5:4",
  },
  {
    number: 28,
    page: 10,
    title: "Lamplighter",
    introduces: "first and second ending",
    composer: "Composed for this book",
    fifths: -3,
    metre: [4, 4],
    bpm: 84,
    music:
      "[: Bb4:1 Eb5:1/2 Eb5:1/2 Eb5:1 F5:1 | G5:1 Ab5:1 G5:2 | F5:1/2 G5:1/2 F5:1 Eb5:1 C5:1 | D5:2 Bb4:2, | Bb4:1 Eb5:1/2 Eb5:1/2 Eb5:1 F5:1 | G5:1/2 Ab5:1/2 G5:1 Eb5:2 | F5:1 Eb5:1/2 D5:1/2 C5:1 D5:1 |[1 Eb5:2 Bb4:2 :] |[2 Eb5:4",
  },
  {
    number: 29,
    page: 11,
    title: "Rowing Home",
    introduces: "dotted quarter and eighth",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music:
      "Bb4:3/2 C5:1/2 D5:1 Bb4:1 | D5:3/2 Eb5:1/2 F5:2 | G5:3/2 F5:1/2 Eb5:1 D5:1 | C5:2 A4:2, | Bb4:3/2 C5:1/2 D5:1 Bb4:1 | D5:3/2 Eb5:1/2 F5:2 | G5:1 F5:1 D5:1 C5:1 | Bb4:4",
    parts: [
      {
        name: "Easy",
        music:
          "Bb4:2 D5:1 Bb4:1 | D5:2 F5:2 | G5:2 Eb5:1 D5:1 | C5:2 A4:2, | Bb4:2 D5:1 Bb4:1 | D5:2 F5:2 | G5:1 F5:1 D5:1 C5:1 | Bb4:4",
      },
    ],
  },
  {
    number: 30,
    page: 11,
    title: "Evening Gun",
    introduces: "fermata",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music:
      "F5:1 D5:1 Eb5:1 F5:1 | G5:2 F5:2^ | Eb5:1 C5:1 D5:1 Eb5:1 | F5:2 D5:2^ | F5:1 D5:1 Eb5:1 F5:1 | G5:3/2 F5:1/2 Eb5:2 | D5:1 C5:1 Bb4:1 A4:1 | Bb4:4^",
  },
  {
    number: 31,
    page: 11,
    title: "Harbour Master's Round",
    introduces: "D.C. al Fine",
    composer: "Composed for this book",
    fifths: -3,
    metre: [4, 4],
    bpm: 88,
    music:
      "Eb5:1 G5:1 Bb4:1 Eb5:1 | F5:1 D5:1 Bb4:2 | Eb5:1 G5:1 Ab5:1 G5:1 | F5:2 Bb4:2, | Eb5:1 G5:1 Bb4:1 Eb5:1 | F5:1 D5:1 Bb4:2 | C5:1 D5:1 Eb5:1 F5:1 | Eb5:4 FINE | G5:3/2 F5:1/2 Eb5:1 D5:1 | C5:2 Bb4:2 | Ab5:1 G5:1 F5:1 Eb5:1 | D5:2 F5:2, | G5:3/2 F5:1/2 Eb5:1 D5:1 | C5:1 D5:1 Eb5:1 C5:1 | D5:1 Eb5:1 F5:1 D5:1 | Bb4:2 Bb4:2 DC",
  },
  {
    number: 32,
    page: 12,
    title: "March of the Mole",
    introduces: "concert G below; accent and staccato",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 92,
    music:
      "Bb4:1> D5:1. F5:1. D5:1. | G5:2> F5:2 | Eb5:1> D5:1. C5:1. D5:1. | Bb4:2 r:2 | G4:1> Bb4:1. D5:1. Bb4:1. | C5:2> A4:2 | Bb4:1. C5:1. D5:1. Eb5:1. | F5:2 r:2 | Bb4:1> D5:1. F5:1. D5:1. | G5:2> F5:2 | Eb5:1> D5:1. C5:1. D5:1. | G4:2> A4:2 | Bb4:1> A4:1. G4:1. A4:1. | Bb4:1. C5:1. D5:1. Eb5:1. | D5:1> C5:1. A4:1. C5:1. | Bb4:2> r:2",
  },
  {
    number: 33,
    page: 12,
    title: "Up the Mast, Down the Hold",
    introduces: "clarinets go over the break, all others go down",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 76,
    music: "F5:2 Eb5:2 | D5:2 C5:2 | Bb4:2 A4:2 | G4:4, | G4:2 A4:2 | Bb4:2 C5:2 | D5:2 C5:2 | Bb4:4",
    parts: [
      {
        name: "Over the break",
        instruments: ["clarinet"],
        music: "F5:2 G5:2 | Bb5:2 A5:2 | Bb5:2 C6:2 | D6:4, | D6:2 C6:2 | Bb5:2 A5:2 | F5:2 A5:2 | Bb5:4",
      },
    ],
  },
  {
    number: 34,
    page: 13,
    title: "Tide Against Wind",
    introduces: "E and A natural against the key",
    composer: "Composed for this book",
    fifths: -3,
    metre: [4, 4],
    bpm: 84,
    music:
      "Eb5:1 D5:1/2 C5:1/2 Bb4:2 | A4:1 Bb4:1/2 C5:1/2 Bb4:2 | C5:1 D5:1 Eb5:1 E5:1 | F5:4, | G5:1 F5:1/2 E5:1/2 F5:2 | Eb5:3/2 D5:1/2 C5:2 | Bb4:1 A4:1 Bb4:1 D5:1 | Eb5:4",
  },
  {
    number: 35,
    page: 13,
    title: "Regatta",
    introduces: "the key of F; tempo words",
    composer: "Composed for this book",
    fifths: -1,
    metre: [4, 4],
    bpm: 104,
    tempoWords: "Lively",
    music:
      "C5:1 F5:1/2 F5:1/2 F5:1 G5:1 | A5:3/2 G5:1/2 F5:2 | G5:1/2 A5:1/2 G5:1 E5:1 C5:1 | F5:2 C5:2, | D5:1 F5:1/2 F5:1/2 F5:1 D5:1 | C5:1 F5:1 A5:2 | G5:3/2 F5:1/2 E5:1 G5:1 | F5:4",
    parts: [
      {
        name: "Below the break",
        instruments: ["clarinet", "clarinet-bass"],
        music:
          "C5:1 C5:1 C5:1 E5:1 | F5:2 C5:2 | E5:1 F5:1 E5:1 C5:1 | C5:2 C5:2, | Bb4:1 D5:1 D5:1 Bb4:1 | C5:1 C5:1 F5:2 | E5:1 D5:1 C5:1 E5:1 | F5:4",
      },
      {
        name: "Easy",
        music: "C5:2 F5:2 | A5:2 F5:2 | G5:2 E5:2 | F5:2 C5:2, | D5:2 F5:2 | C5:2 A5:2 | G5:2 E5:2 | F5:4",
      },
    ],
  },
  {
    number: 36,
    page: 14,
    title: "Evening Anchorage",
    introduces: "a chorale in four voices; ritardando",
    composer: "Composed for this book",
    fifths: -2,
    metre: [4, 4],
    bpm: 72,
    music:
      'D5:2 Eb5:2 | D5:2 C5:2, | Bb4:2 Eb5:2 | C5:2 Bb4:2, | F5:2 D5:2 | Eb5:2 C5:2, | "rit." D5:2 C5:2 | Bb4:4^',
    parts: [
      {
        name: "Alto",
        instruments: ["clarinet-alto", "sax-alto", "horn", "flugelhorn", "vibraphone", "marimba"],
        music:
          'Bb4:2 Bb4:2 | Bb4:2 A4:2, | Bb4:2 Bb4:2 | A4:2 Bb4:2, | Bb4:2 Bb4:2 | Bb4:2 A4:2, | "rit." Bb4:2 A4:2 | Bb4:4^',
      },
      {
        name: "Tenor",
        instruments: ["sax-tenor", "trombone", "euphonium", "euphonium-treble"],
        music:
          'F5:2 G5:2 | F5:2 F5:2, | D5:2 G5:2 | F5:2 D5:2, | D5:2 F5:2 | G5:2 F5:2, | "rit." F5:2 Eb5:2 | D5:4^',
      },
      {
        name: "Bass",
        instruments: ["bassoon", "clarinet-bass", "sax-bari", "tuba", "string-bass", "bass-guitar"],
        music:
          'Bb4:2 Eb5:2 | Bb4:2 F5:2, | G5:2 Eb5:2 | F5:2 Bb4:2, | Bb4:2 Bb4:2 | Eb5:2 F5:2, | "rit." F5:2 F5:2 | Bb4:4^',
      },
    ],
  },
];

/** A drummers' page of the same book. */
export const SNARE_LINE: BookLine = {
  number: 19,
  page: 7,
  title: "Gull Feet",
  introduces: "eighth rests against quarters, for snare and clapped by all",
  composer: "Composed for this book",
  fifths: 0,
  metre: [4, 4],
  bpm: 80,
  music:
    "x:1 x:1 x:1 r:1 | x:1/2 r:1/2 x:1 x:1/2 r:1/2 x:1 | x:1 r:1 x:1 r:1 | x:1/2 r:1/2 x:1/2 r:1/2 x:1 x:1 | x:1 x:1/2 r:1/2 x:1 x:1/2 r:1/2 | x:1 r:1 x:1 r:1 | x:1/2 r:1/2 x:1/2 r:1/2 x:1/2 r:1/2 x:1 | x:2 r:2",
};
