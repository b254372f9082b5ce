ALTER TABLE sailings
  ADD COLUMN wind_force TINYINT UNSIGNED NULL COMMENT 'Beaufort, at casting off.' AFTER to_port,
  ADD CONSTRAINT no_hurricane CHECK (wind_force <= 12);

DROP TABLE fog_signals;
