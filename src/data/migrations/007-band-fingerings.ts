/** What a director has set or confirmed for a note of an instrument. */
export const bandFingerings = [
  `CREATE TABLE IF NOT EXISTS band_fingerings (
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    instrument_id VARCHAR(32) CHARACTER SET ascii NOT NULL,
    written_midi TINYINT UNSIGNED NOT NULL,
    fingering VARCHAR(60) NOT NULL COMMENT 'as text, in the form the chart writes it',
    PRIMARY KEY (band_id, instrument_id, written_midi),
    CHECK (written_midi BETWEEN 12 AND 120),
    FOREIGN KEY (band_id) REFERENCES bands (id))`,
];
