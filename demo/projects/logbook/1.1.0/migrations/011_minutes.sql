-- Hours with two places after the point were never right: minutes are.
ALTER TABLE sailings
  CHANGE COLUMN hours hours_under_way DECIMAL(5,2) NULL COMMENT 'Under way, as the officer wrote it.',
  MODIFY COLUMN cars MEDIUMINT UNSIGNED NULL,
  DROP COLUMN wind_force;

ALTER TABLE ships ADD COLUMN trailer_metres SMALLINT UNSIGNED NULL AFTER car_spaces;
