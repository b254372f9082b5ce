/** Who had the watch on a sailing. */
CREATE TABLE watches (
  sailing_id BIGINT UNSIGNED NOT NULL,
  duty       VARCHAR(20)     NOT NULL DEFAULT 'bridge',
  officer    VARCHAR(60)     NOT NULL,
  PRIMARY KEY (sailing_id, duty),
  CONSTRAINT watch_of_sailing FOREIGN KEY (sailing_id) REFERENCES sailings (id) ON DELETE CASCADE
);

CREATE TABLE fog_signals (
  sailing_id BIGINT UNSIGNED NOT NULL,
  sounded_at DATETIME NOT NULL,
  KEY (sailing_id)
);
