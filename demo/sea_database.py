"""The database that the logbook's tables lie in, beside the portal's own. It is not quite as the logbook says."""

from __future__ import annotations

import subprocess
from pathlib import Path

_MIGRATIONS = Path(__file__).resolve().parent / "projects" / "logbook"
_BEGIN = """DROP DATABASE IF EXISTS sea; CREATE DATABASE sea CHARACTER SET utf8mb4; USE sea;
CREATE OR REPLACE USER logbook_reader IDENTIFIED BY '{password}';
GRANT SELECT, SHOW VIEW ON sea.* TO logbook_reader;
"""
#: One column was never added, another was made wider by hand, and somebody keeps a table of which nobody told.
_BY_HAND = """ALTER TABLE ships DROP COLUMN trailer_metres, COMMENT 'Ferries that are or were ours.';
ALTER TABLE sailings MODIFY COLUMN cars INT UNSIGNED NULL COMMENT 'Counted by the officer on the ramp.';
CREATE TABLE tide_marks (port CHAR(3) NOT NULL, at DATETIME NOT NULL, metres DECIMAL(4,2) NOT NULL);
CREATE VIEW crossings AS SELECT s.id, h.name AS ship, s.from_port, s.to_port,
  ROUND(TIMESTAMPDIFF(MINUTE, s.departed_at, s.arrived_at) / 60, 2) AS hours_by_clock,
  s.hours_under_way AS hours_written, 'fair' AS weather
  FROM sailings s JOIN ships h ON h.call_sign = s.call_sign WHERE s.arrived_at IS NOT NULL;
INSERT INTO ships (call_sign, name, car_spaces, launched_on) VALUES
  ('OXHF', 'Halmere', 84, '2009-05-02'), ('OXSK', 'Skerry', 40, '2016-03-11');
INSERT INTO sailings (call_sign, departed_at, arrived_at, from_port, to_port, hours_under_way, cars)
  SELECT 'OXHF', '2026-01-05 07:30' + INTERVAL seq * 3 HOUR, '2026-01-05 08:42' + INTERVAL seq * 3 HOUR,
  IF(seq % 2, 'HAL', 'SKE'), IF(seq % 2, 'SKE', 'HAL'), 1.20, seq % 84 FROM seq_1_to_400;
"""


def make_sea_database(socket: str, password: str) -> None:
    """Make it anew in the server at a socket; password: of the account that may read it."""
    migrations = sorted(_MIGRATIONS.glob("*/migrations/*.sql"), key=lambda path: path.name)
    texts = [_BEGIN.format(password=password), *(path.read_text(encoding="utf-8") for path in migrations), _BY_HAND]
    subprocess.run(["mariadb", "-S", socket], input="\n".join(texts).encode(), check=True)
