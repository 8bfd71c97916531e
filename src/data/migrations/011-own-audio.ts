/** A recording or backing track of the director's that belongs to a line; bars holds the second each bar begins at. */
export const ownAudio = [
  `CREATE TABLE IF NOT EXISTS line_recordings (
    id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    line_id CHAR(36) CHARACTER SET ascii NOT NULL,
    media_id CHAR(36) CHARACTER SET ascii NOT NULL,
    name VARCHAR(160) NOT NULL,
    bars JSON NOT NULL,
    removed_at DATETIME(3) NULL,
    created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    UNIQUE (id, band_id),
    INDEX (line_id),
    FOREIGN KEY (line_id, band_id) REFERENCES \`lines\` (id, band_id),
    FOREIGN KEY (media_id, band_id) REFERENCES media (id, band_id))`,
];
