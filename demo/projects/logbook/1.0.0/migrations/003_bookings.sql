/** Places that somebody has taken on a sailing. */
CREATE TABLE bookings (
  id         BIGINT UNSIGNED NOT NULL,
  sailing_id BIGINT UNSIGNED NOT NULL,
  passenger  VARCHAR(120) NOT NULL,
  /** Cars that come along; most come without. */
  cars       TINYINT UNSIGNED NOT NULL DEFAULT 0,
  fare       DECIMAL(7,2) NOT NULL,
  PRIMARY KEY (id),
  CONSTRAINT booking_of_sailing FOREIGN KEY (sailing_id) REFERENCES sailings (id)
);

/** Where a ferry was, as she told it herself. */
CREATE TABLE positions (
  call_sign VARCHAR(9) NOT NULL,
  told_at   DATETIME   NOT NULL,
  latitude  DECIMAL(8,5) NOT NULL COMMENT 'Degrees, north of the equator.',
  longitude DECIMAL(8,5) NOT NULL COMMENT 'Degrees, east of Greenwich.',
  PRIMARY KEY (call_sign, told_at),
  CONSTRAINT position_of_ship FOREIGN KEY (call_sign) REFERENCES ships (call_sign)
);
