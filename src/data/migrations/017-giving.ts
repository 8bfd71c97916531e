/**
 * Work given with all its terms: how it is to be played and recorded, for whom in the group, from when on, whether it counts
 * for a test, and what stands in its place for whom the class clashes with something else. A take keeps how it was asked for.
 */
export const giving = [
  "ALTER TABLE assignments ADD COLUMN IF NOT EXISTS terms JSON NULL COMMENT 'repeats, lowest tempo, ladder, styles, steps, what to record, minutes, criteria, test, extra; plain when null'",
  "ALTER TABLE assignments ADD COLUMN IF NOT EXISTS opens_on DATE NULL COMMENT 'local day from which it is on the stands; at once when null'",
  "ALTER TABLE assignments ADD COLUMN IF NOT EXISTS only_for JSON NULL COMMENT 'instruments, stages or players of the group it is for; everybody when null'",
  // There again when this is begun a second time after it stopped half way.
  "ALTER TABLE assignments ADD COLUMN IF NOT EXISTS instrument_id VARCHAR(32) CHARACTER SET ascii NULL, ADD COLUMN IF NOT EXISTS player_id CHAR(36) CHARACTER SET ascii NULL",
  `UPDATE assignments SET only_for = IF(player_id IS NOT NULL, JSON_OBJECT('playerIds', JSON_ARRAY(player_id)), JSON_OBJECT('instrumentIds', JSON_ARRAY(instrument_id)))
     WHERE only_for IS NULL AND (player_id IS NOT NULL OR instrument_id IS NOT NULL)`,
  "ALTER TABLE assignments ADD COLUMN IF NOT EXISTS counts_for CHAR(36) CHARACTER SET ascii NULL COMMENT 'the test that this one makes up for'",
  "ALTER TABLE assignments ADD FOREIGN KEY IF NOT EXISTS assignments_counts_for (counts_for, band_id) REFERENCES assignments (id, band_id)",
  "ALTER TABLE assignments DROP FOREIGN KEY IF EXISTS assignments_player",
  "ALTER TABLE assignments DROP COLUMN IF EXISTS player_id, DROP COLUMN IF EXISTS instrument_id",
  "ALTER TABLE takes ADD COLUMN IF NOT EXISTS asked JSON NULL COMMENT 'how it was asked for when it was sent: goal, slowest tempo, repeats, styles'",
  "ALTER TABLE tasks ADD COLUMN IF NOT EXISTS told_done_at DATETIME(3) NULL COMMENT 'its player said it is done, where nothing is recorded'",
  "ALTER TABLE strips ADD COLUMN IF NOT EXISTS terms JSON NULL COMMENT 'how it is given; plain when null'",
  `CREATE TABLE IF NOT EXISTS clashes (
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    group_id CHAR(36) CHARACTER SET ascii NOT NULL COMMENT 'whose class is missed',
    player_id CHAR(36) CHARACTER SET ascii NOT NULL,
    weekday TINYINT UNSIGNED NOT NULL COMMENT '1 is Monday',
    reason VARCHAR(80) NOT NULL DEFAULT '',
    PRIMARY KEY (group_id, player_id, weekday),
    INDEX (band_id),
    CONSTRAINT clashes_weekday CHECK (weekday BETWEEN 1 AND 7),
    FOREIGN KEY (group_id, band_id) REFERENCES band_groups (id, band_id),
    FOREIGN KEY (player_id, band_id) REFERENCES players (id, band_id))`,
];
