/**
 * What players do in practice, as facts that a device makes and hands over once: rounds, cards, held tones, own entries. What
 * they ask their director, and how they like to see their stand.
 */
export const practiceRoom = [
  `CREATE TABLE IF NOT EXISTS practice_facts (
    id CHAR(36) CHARACTER SET ascii NOT NULL PRIMARY KEY COMMENT 'made by the device: the same fact counts once',
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    player_id CHAR(36) CHARACTER SET ascii NOT NULL,
    task_id CHAR(36) CHARACTER SET ascii NULL COMMENT 'the line it belongs to; null for tools, cards and own entries',
    kind VARCHAR(16) CHARACTER SET ascii NOT NULL,
    at DATETIME(3) NOT NULL,
    day DATE NOT NULL COMMENT 'local day of the band',
    seconds SMALLINT UNSIGNED NOT NULL COMMENT 'of practice',
    detail JSON NOT NULL,
    INDEX practice_facts_player (player_id, day),
    INDEX practice_facts_task (task_id, at),
    INDEX practice_facts_kind (player_id, kind, at),
    INDEX (band_id),
    FOREIGN KEY (player_id, band_id) REFERENCES players (id, band_id),
    FOREIGN KEY (task_id, band_id) REFERENCES tasks (id, band_id))`,
  `CREATE TABLE IF NOT EXISTS questions (
    id CHAR(36) CHARACTER SET ascii NOT NULL PRIMARY KEY COMMENT 'made by the device',
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    player_id CHAR(36) CHARACTER SET ascii NOT NULL,
    task_id CHAR(36) CHARACTER SET ascii NOT NULL,
    kind VARCHAR(16) CHARACTER SET ascii NOT NULL COMMENT 'question, or please-play',
    measure VARCHAR(16) NULL COMMENT 'the printed number of the bar it is about',
    text VARCHAR(400) NOT NULL DEFAULT '',
    asked_at DATETIME(3) NOT NULL,
    answer VARCHAR(800) NULL,
    answered_by CHAR(36) CHARACTER SET ascii NULL,
    answered_at DATETIME(3) NULL,
    CONSTRAINT questions_kind CHECK (kind IN ('question', 'please-play')),
    INDEX questions_open (band_id, answered_at),
    INDEX questions_task (task_id),
    FOREIGN KEY (player_id, band_id) REFERENCES players (id, band_id),
    FOREIGN KEY (task_id, band_id) REFERENCES tasks (id, band_id),
    FOREIGN KEY (answered_by) REFERENCES users (id))`,
  "ALTER TABLE players ADD COLUMN IF NOT EXISTS preferences JSON NULL COMMENT 'how the player likes to see the stand; plain when null'",
];
