export const operations = [
  `CREATE TABLE IF NOT EXISTS jobs (
    id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
    kind ENUM('assess-take') NOT NULL,
    subject_id CHAR(36) CHARACTER SET ascii NOT NULL,
    state ENUM('waiting','running','done','failed') NOT NULL DEFAULT 'waiting',
    attempts TINYINT NOT NULL DEFAULT 0,
    lease_until DATETIME(3) NULL,
    run_after DATETIME(3) NOT NULL,
    problem VARCHAR(500) NULL,
    created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    UNIQUE (kind, subject_id),
    INDEX (state, run_after))`,
  `CREATE TABLE IF NOT EXISTS audit_log (
    id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    actor VARCHAR(60) CHARACTER SET ascii NOT NULL,
    action VARCHAR(60) CHARACTER SET ascii NOT NULL,
    subject_id VARCHAR(60) CHARACTER SET ascii NOT NULL,
    at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
    INDEX (band_id, at),
    FOREIGN KEY (band_id) REFERENCES bands (id))`,
];
