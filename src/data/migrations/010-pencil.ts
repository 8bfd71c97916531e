/** What directors and players write on a part. Event ids survive revisions of a line, so a mark stays with its note. */
export const pencil = [
  `CREATE TABLE IF NOT EXISTS pencil_marks (
    id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    line_id CHAR(36) CHARACTER SET ascii NOT NULL,
    event_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
    instrument_id VARCHAR(32) CHARACTER SET ascii NULL COMMENT 'null is for every instrument',
    player_id CHAR(36) CHARACTER SET ascii NULL COMMENT 'who wrote it; null is the director',
    kind ENUM('accidental','name','position','breath','reminder') NOT NULL,
    text VARCHAR(60) NOT NULL,
    shared BOOLEAN NOT NULL,
    created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    UNIQUE (id, band_id),
    INDEX (line_id, player_id),
    FOREIGN KEY (line_id, band_id) REFERENCES \`lines\` (id, band_id),
    FOREIGN KEY (player_id, band_id) REFERENCES players (id, band_id))`,
];
