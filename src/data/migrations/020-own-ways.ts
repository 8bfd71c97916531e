/** What players open by their own choice, and answers that are played or spoken. */
export const ownWays = [
  "ALTER TABLE assignments ADD COLUMN IF NOT EXISTS chosen_by CHAR(36) CHARACTER SET ascii NULL COMMENT 'the player who opened it by own choice; null where a director gave it'",
  "ALTER TABLE assignments ADD FOREIGN KEY IF NOT EXISTS assignments_chosen_by (chosen_by, band_id) REFERENCES players (id, band_id)",
  "ALTER TABLE questions ADD COLUMN IF NOT EXISTS answer_media_id CHAR(36) CHARACTER SET ascii NULL COMMENT 'the answer as the director played or spoke it'",
  "ALTER TABLE questions ADD FOREIGN KEY IF NOT EXISTS questions_answer (answer_media_id, band_id) REFERENCES media (id, band_id)",
];
