/** Filters a director keeps under a name. */
export const savedViews = [
  `CREATE TABLE IF NOT EXISTS saved_views (
    id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
    band_id CHAR(36) CHARACTER SET ascii NOT NULL,
    user_id CHAR(36) CHARACTER SET ascii NOT NULL,
    name VARCHAR(60) NOT NULL,
    filter JSON NOT NULL,
    UNIQUE (user_id, band_id, name),
    FOREIGN KEY (band_id) REFERENCES bands (id),
    FOREIGN KEY (user_id) REFERENCES users (id))`,
];
