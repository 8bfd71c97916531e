/** Which part of a line a player was given: second, bass line, easy; the instrument's own or the first one when null. */
export const taskParts = [
  "ALTER TABLE tasks ADD COLUMN IF NOT EXISTS part_id VARCHAR(64) CHARACTER SET ascii NULL",
];
