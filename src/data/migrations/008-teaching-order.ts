/** The director's own order of teaching where it differs from the book's, with the reason. */
export const teachingOrder = [
  "ALTER TABLE `lines` ADD COLUMN IF NOT EXISTS teaching_place SMALLINT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS teaching_reason VARCHAR(200) NOT NULL DEFAULT ''",
];
