/**
 * A ferry that has sailed under our flag.
 *
 * @see sailings
 */
CREATE TABLE ships (
  /** The radio call sign, for life. */
  call_sign   VARCHAR(9)   NOT NULL,
  name        VARCHAR(60)  NOT NULL COMMENT 'As painted on the bow.',
  -- cars that fit on the car deck of the ship
  car_spaces  SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  launched_on DATE         NULL,
  PRIMARY KEY (call_sign),
  CONSTRAINT at_least_one_car CHECK (car_spaces >= 0)
) ENGINE=InnoDB;

/** One crossing of one ship, from casting off to making fast. */
CREATE TABLE sailings (
  id          BIGINT UNSIGNED NOT NULL AUTO_INCREMENT, /**< Counted up, never used again. */
  /** Which of the `ships` sailed. */
  call_sign   VARCHAR(9)   NOT NULL,
  departed_at DATETIME     NOT NULL,
  arrived_at  DATETIME     NULL COMMENT 'Empty while she is at sea.',
  from_port   CHAR(3)      NOT NULL,
  to_port     CHAR(3)      NOT NULL,
  hours       DECIMAL(5,2) NULL COMMENT 'Under way, as the officer wrote it.',
  cars        SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  minutes_late INT GENERATED ALWAYS AS (TIMESTAMPDIFF(MINUTE, departed_at, arrived_at)) STORED,
  PRIMARY KEY (id),
  UNIQUE KEY one_departure (call_sign, departed_at),
  KEY by_port (from_port, to_port),
  CONSTRAINT sailing_of_ship FOREIGN KEY (call_sign) REFERENCES ships (call_sign)
);
