/**
 * What a week holds beside lines: pieces with the state of their passages, concerts with who plays what and what is said,
 * worksheets and things to listen to, and what players ticked off of it.
 */
export const pieces = [
  `CREATE TABLE IF NOT EXISTS pieces (
    id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    title VARCHAR(160) NOT NULL,
    composer VARCHAR(160) NOT NULL DEFAULT '',
    bars SMALLINT UNSIGNED NOT NULL,
    bpm SMALLINT UNSIGNED NULL,
    line_id CHAR(36) CHARACTER SET ascii NULL COMMENT 'its parts on the shelf; null where only title and bars are known',
    passages JSON NOT NULL COMMENT 'names, bars by printed number, and how far each is',
    version INT UNSIGNED NOT NULL COMMENT 'raised by every change',
    removed_at DATETIME(3) NULL,
    UNIQUE (id, band_id),
    INDEX (band_id),
    CONSTRAINT pieces_bars CHECK (bars BETWEEN 1 AND 2000),
    FOREIGN KEY (band_id) REFERENCES bands (id),
    FOREIGN KEY (line_id, band_id) REFERENCES \`lines\` (id, band_id))`,
  `UPDATE goals SET programme = COALESCE((SELECT JSON_ARRAYAGG(JSON_OBJECT('kind', 'line', 'refId', each_id, 'groupId', NULL, 'spoken', ''))
       FROM JSON_TABLE(goals.programme, '$[*]' COLUMNS (each_id CHAR(36) PATH '$')) ids), JSON_ARRAY())
     WHERE JSON_TYPE(JSON_EXTRACT(programme, '$[0]')) = 'STRING'`,
  `CREATE TABLE IF NOT EXISTS handouts (
    id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    kind ENUM('worksheet','listening') NOT NULL,
    title VARCHAR(160) NOT NULL,
    media_id CHAR(36) CHARACTER SET ascii NULL COMMENT 'a sheet, or a recording; null for an address',
    address VARCHAR(500) NULL COMMENT 'where to listen, approved by a director',
    removed_at DATETIME(3) NULL,
    UNIQUE (id, band_id),
    INDEX (band_id),
    CONSTRAINT handouts_one CHECK ((media_id IS NULL) <> (address IS NULL)),
    FOREIGN KEY (band_id) REFERENCES bands (id),
    FOREIGN KEY (media_id, band_id) REFERENCES media (id, band_id))`,
  `CREATE TABLE IF NOT EXISTS week_templates (
    id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    name VARCHAR(60) NOT NULL,
    monday DATE NOT NULL COMMENT 'of the week it was taken from; its strips lie in that week',
    strips JSON NOT NULL,
    removed_at DATETIME(3) NULL,
    UNIQUE (id, band_id),
    INDEX (band_id),
    FOREIGN KEY (band_id) REFERENCES bands (id))`,
  "ALTER TABLE strips ADD COLUMN IF NOT EXISTS given_at DATETIME(3) NULL COMMENT 'on the stands without a task of its own: sheets, listening, cards, words'",
  "ALTER TABLE strips ADD COLUMN IF NOT EXISTS not_reached BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'the class did not get to it'",
  `CREATE TABLE IF NOT EXISTS strip_ticks (
    strip_id CHAR(36) CHARACTER SET ascii NOT NULL,
    player_id CHAR(36) CHARACTER SET ascii NOT NULL,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    done_at DATETIME(3) NOT NULL,
    PRIMARY KEY (strip_id, player_id),
    INDEX (band_id),
    FOREIGN KEY (strip_id, band_id) REFERENCES strips (id, band_id),
    FOREIGN KEY (player_id, band_id) REFERENCES players (id, band_id))`,
];
