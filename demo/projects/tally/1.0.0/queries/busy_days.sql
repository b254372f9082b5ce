/** Sailings and cars of each day and port. */
SELECT
  DATE(s.departed_at) AS day,
  s.from_port AS port,
  COUNT(*) AS sailings,
  SUM(s.cars) AS cars,
  AVG(s.hours) AS mean_hours,
  MAX(s.wind_force) AS strongest_wind
FROM {{ of("logbook", "sailings") }} s
WHERE s.departed_at >= '{{ first_week }}'
GROUP BY 1, 2
