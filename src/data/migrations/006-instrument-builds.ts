/** A player has one build of the instrument (single or double horn, with or without trigger); the usual one when null. */
export const instrumentBuilds = [
  "ALTER TABLE player_instruments ADD COLUMN IF NOT EXISTS variant VARCHAR(24) CHARACTER SET ascii NULL",
];
