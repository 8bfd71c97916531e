/**
 * A director's words at a place of a take and against the engine; what went wrong in a take by cause; who hears what just now;
 * answers that wait to be released.
 */
export const theDesk = [
  `CREATE TABLE IF NOT EXISTS overrules (
    take_id CHAR(36) CHARACTER SET ascii NOT NULL,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    target VARCHAR(48) CHARACTER SET ascii NOT NULL COMMENT 'a cause by its id, a note by its place, or the take',
    word JSON NOT NULL,
    told_kind VARCHAR(24) CHARACTER SET ascii NOT NULL COMMENT 'what the engine had told; clean where it told nothing',
    places SMALLINT UNSIGNED NOT NULL COMMENT 'how often it had told it',
    engine_version VARCHAR(20) CHARACTER SET ascii NOT NULL,
    by_id CHAR(36) CHARACTER SET ascii NOT NULL,
    at DATETIME(3) NOT NULL,
    PRIMARY KEY (take_id, target),
    INDEX (band_id),
    FOREIGN KEY (take_id, band_id) REFERENCES takes (id, band_id),
    FOREIGN KEY (by_id) REFERENCES users (id))`,
  `CREATE TABLE IF NOT EXISTS pins (
    id CHAR(36) CHARACTER SET ascii NOT NULL PRIMARY KEY,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    take_id CHAR(36) CHARACTER SET ascii NOT NULL,
    by_id CHAR(36) CHARACTER SET ascii NOT NULL,
    event_id VARCHAR(64) NOT NULL COMMENT 'the note it stands at',
    measure VARCHAR(16) NOT NULL COMMENT 'printed number of its bar',
    text VARCHAR(400) NOT NULL DEFAULT '',
    media_id CHAR(36) CHARACTER SET ascii NULL COMMENT 'the same in the director''s voice',
    at DATETIME(3) NOT NULL,
    INDEX pins_take (take_id),
    FOREIGN KEY (take_id, band_id) REFERENCES takes (id, band_id),
    FOREIGN KEY (media_id, band_id) REFERENCES media (id, band_id),
    FOREIGN KEY (by_id) REFERENCES users (id))`,
  `CREATE TABLE IF NOT EXISTS assessment_causes (
    assessment_id CHAR(36) CHARACTER SET ascii NOT NULL,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    cause_id VARCHAR(32) CHARACTER SET ascii NOT NULL,
    kind VARCHAR(24) CHARACTER SET ascii NOT NULL,
    places SMALLINT UNSIGNED NOT NULL,
    PRIMARY KEY (assessment_id, cause_id),
    INDEX (band_id, kind),
    FOREIGN KEY (assessment_id, band_id) REFERENCES assessments (id, band_id))`,
  `CREATE TABLE IF NOT EXISTS take_claims (
    task_id CHAR(36) CHARACTER SET ascii NOT NULL PRIMARY KEY,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    by_id CHAR(36) CHARACTER SET ascii NOT NULL,
    until DATETIME(3) NOT NULL,
    FOREIGN KEY (task_id, band_id) REFERENCES tasks (id, band_id),
    FOREIGN KEY (by_id) REFERENCES users (id))`,
  `CREATE TABLE IF NOT EXISTS own_words (
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    place VARCHAR(64) CHARACTER SET ascii NOT NULL COMMENT 'which sentence of the bench they stand in place of',
    text VARCHAR(400) NOT NULL,
    PRIMARY KEY (band_id, place),
    FOREIGN KEY (band_id) REFERENCES bands (id))`,
  "ALTER TABLE reviews ADD COLUMN IF NOT EXISTS released_at DATETIME(3) NULL COMMENT 'from when on the player sees it'",
  "UPDATE reviews SET released_at = reviewed_at WHERE released_at IS NULL",
  "ALTER TABLE reviews ADD INDEX IF NOT EXISTS reviews_at (band_id, reviewed_at)",
];
