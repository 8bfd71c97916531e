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
  // The queue reads outcomes of thousands of takes without the rows themselves, which hold the peaks and everything the engine said.
  "ALTER TABLE assessments ADD INDEX IF NOT EXISTS assessments_outcome (take_id, id, status, notes_total, notes_clean, notes_wrong, tempo_bpm)",
  "ALTER TABLE takes ADD COLUMN IF NOT EXISTS lowest_bpm SMALLINT UNSIGNED AS (JSON_VALUE(asked, '$.lowestBpm')) VIRTUAL",
  "ALTER TABLE takes ADD INDEX IF NOT EXISTS takes_queue (task_id, created_at, id, state, lowest_bpm)",
  `ALTER TABLE tasks ADD COLUMN IF NOT EXISTS best_take_id CHAR(36) CHARACTER SET ascii NULL COMMENT 'follows from its takes, chosen anew whenever one comes out otherwise',
    ADD COLUMN IF NOT EXISTS hearing TINYINT UNSIGNED NULL COMMENT '0 counted, 1 by ear, 2 being heard, 3 could not be judged',
    ADD COLUMN IF NOT EXISTS best_wrong SMALLINT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS best_uneven SMALLINT UNSIGNED NULL`,
  "ALTER TABLE tasks ADD INDEX IF NOT EXISTS tasks_queue (band_id, state, hearing, best_wrong, best_uneven, best_take_id)",
  `UPDATE tasks t JOIN (
     SELECT k.task_id, k.id, CASE WHEN k.state = 'waiting' THEN 2 WHEN k.state <> 'assessed' OR s.status IS NULL OR s.status <> 'assessed' THEN 3
         WHEN s.notes_total = 0 THEN 1 ELSE 0 END AS hearing,
       s.notes_wrong AS wrong, s.notes_total - s.notes_clean - s.notes_wrong AS uneven,
       ROW_NUMBER() OVER (PARTITION BY k.task_id ORDER BY k.state = 'assessed' AND s.status = 'assessed' DESC, s.notes_wrong / NULLIF(s.notes_total, 0), k.created_at DESC) AS place
     FROM takes k LEFT JOIN current_assessments s ON s.take_id = k.id) b ON b.task_id = t.id AND b.place = 1
   SET t.best_take_id = b.id, t.hearing = b.hearing, t.best_wrong = b.wrong, t.best_uneven = b.uneven WHERE t.best_take_id IS NULL`,
  "ALTER TABLE reviews ADD INDEX IF NOT EXISTS reviews_at (band_id, reviewed_at)",
];
