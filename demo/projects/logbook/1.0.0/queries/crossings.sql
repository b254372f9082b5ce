/** Sailings that have ended, with the ship's name beside the call sign. */
SELECT
  s.id,
  h.name AS ship,
  s.from_port,
  s.to_port,
  /** Under way by the clock, not by the officer's word. */
  {{ hours_between("s.departed_at", "s.arrived_at") }} AS hours_by_clock,
  s.hours AS hours_written,
  CASE WHEN s.wind_force >= 8 THEN 'gale' ELSE 'fair' END AS weather
FROM {{ stored("sailings") }} s
JOIN {{ stored("ships") }} h ON h.call_sign = s.call_sign
WHERE s.arrived_at IS NOT NULL
