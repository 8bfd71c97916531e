/**
 * What keeps one file, one child or one crash from stopping the others: tasks pin how their notes were made, jobs belong to
 * a player and an engine version, takes know what the device left out, lines can be archived and carry their outline,
 * devices are remembered, and rules that were only in code become constraints.
 */
export const soundGround = [
  "ALTER TABLE bands ADD COLUMN IF NOT EXISTS a4_hz DECIMAL(5,2) NOT NULL DEFAULT 440 CHECK (a4_hz BETWEEN 415 AND 466)",

  "ALTER TABLE `lines` ADD COLUMN IF NOT EXISTS removed_at DATETIME(3) NULL",
  "ALTER TABLE `lines` ADD CONSTRAINT IF NOT EXISTS lines_source CHECK ((kind = 'line' AND routine_id IS NULL AND drill_id IS NULL) OR (kind = 'warm-up' AND routine_id IS NOT NULL AND drill_id IS NULL) OR (kind = 'counting' AND drill_id IS NOT NULL AND routine_id IS NULL))",
  "ALTER TABLE line_revisions ADD COLUMN IF NOT EXISTS outline JSON NULL COMMENT 'what the shelf is searched by, computed once; null when it is still to be computed'",
  "ALTER TABLE line_revisions ADD INDEX IF NOT EXISTS line_revisions_hash (content_hash)",

  "ALTER TABLE assignments MODIFY goal_bpm SMALLINT NOT NULL CHECK (goal_bpm BETWEEN 20 AND 400)",
  "ALTER TABLE tasks ADD COLUMN IF NOT EXISTS stage ENUM('making-a-sound','five-notes','small-tunes','widening') NULL COMMENT 'the stage the part was made for'",
  "ALTER TABLE tasks ADD COLUMN IF NOT EXISTS variant VARCHAR(24) CHARACTER SET ascii NULL COMMENT 'the build of the instrument then'",
  "ALTER TABLE tasks ADD COLUMN IF NOT EXISTS octave_shift TINYINT NULL COMMENT 'octaves the part was moved; null until pinned'",
  "UPDATE tasks t JOIN players p ON p.id = t.player_id SET t.stage = p.stage WHERE t.stage IS NULL",
  "UPDATE tasks t JOIN player_instruments i ON i.player_id = t.player_id AND i.instrument_id = t.instrument_id AND i.to_date IS NULL SET t.variant = i.variant WHERE t.octave_shift IS NULL AND t.variant IS NULL AND i.variant IS NOT NULL",
  "ALTER TABLE tasks MODIFY stage ENUM('making-a-sound','five-notes','small-tunes','widening') NOT NULL COMMENT 'the stage the part was made for'",
  "ALTER TABLE tasks ADD INDEX IF NOT EXISTS tasks_band_state (band_id, state)",
  "ALTER TABLE reminders ADD INDEX IF NOT EXISTS reminders_band (band_id, removed_at)",

  "ALTER TABLE takes MODIFY state ENUM('waiting','assessed','unreadable','unheard') NOT NULL DEFAULT 'waiting' COMMENT 'unheard: the bench failed at it, trying again may help'",
  "ALTER TABLE takes ADD COLUMN IF NOT EXISTS gaps JSON NULL COMMENT 'stretches the device left out: [{fromSec, toSec}]'",
  "ALTER TABLE uploads ADD COLUMN IF NOT EXISTS gaps JSON NULL",
  "ALTER TABLE uploads ADD INDEX IF NOT EXISTS uploads_player (player_id)",

  "CREATE OR REPLACE VIEW current_assessments AS SELECT s.* FROM assessments s WHERE s.id = (SELECT MAX(y.id) FROM assessments y WHERE y.take_id = s.take_id)",

  "ALTER TABLE jobs ADD COLUMN IF NOT EXISTS engine_version VARCHAR(20) CHARACTER SET ascii NOT NULL DEFAULT '1.4.1'",
  "ALTER TABLE jobs ADD COLUMN IF NOT EXISTS band_id CHAR(36) CHARACTER SET ascii NULL",
  "ALTER TABLE jobs ADD COLUMN IF NOT EXISTS player_id CHAR(36) CHARACTER SET ascii NULL",
  "ALTER TABLE jobs ADD COLUMN IF NOT EXISTS started_at DATETIME(3) NULL",
  "UPDATE jobs j JOIN takes k ON k.id = j.subject_id SET j.band_id = k.band_id, j.player_id = k.player_id WHERE j.band_id IS NULL",
  "DELETE FROM jobs WHERE band_id IS NULL",
  "ALTER TABLE jobs MODIFY band_id CHAR(36) CHARACTER SET ascii NOT NULL, MODIFY player_id CHAR(36) CHARACTER SET ascii NOT NULL",
  "ALTER TABLE jobs MODIFY engine_version VARCHAR(20) CHARACTER SET ascii NOT NULL",
  "ALTER TABLE jobs ADD UNIQUE INDEX IF NOT EXISTS jobs_once (kind, subject_id, engine_version)",
  "ALTER TABLE jobs DROP INDEX IF EXISTS kind",
  "ALTER TABLE jobs ADD INDEX IF NOT EXISTS jobs_started (started_at)",
  "ALTER TABLE jobs ADD FOREIGN KEY IF NOT EXISTS jobs_player (player_id, band_id) REFERENCES players (id, band_id)",

  `CREATE TABLE IF NOT EXISTS known_devices (
    device CHAR(64) CHARACTER SET ascii NOT NULL COMMENT 'hash of what the device keeps in a cookie',
    account CHAR(36) CHARACTER SET ascii NOT NULL COMMENT 'user or player who signed in on it',
    last_used_at DATETIME(3) NOT NULL,
    PRIMARY KEY (device, account),
    INDEX (last_used_at))`,
  "ALTER TABLE sign_in_attempts ADD INDEX IF NOT EXISTS sign_in_attempts_window (window_start)",
];
