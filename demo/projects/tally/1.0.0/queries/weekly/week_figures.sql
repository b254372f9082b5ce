/** What the office reads on Mondays: a row a week and port. */
WITH days AS (
  SELECT *, {{ week_of("day") }} AS week
  FROM {{ of("tally", "busy_days") }}
),
loads AS (
  SELECT g.sailing_id, g.cars FROM {{ of("logbook", "gangway_counts") }} g
)
SELECT
  d.week,
  d.port,
  SUM(d.sailings) AS sailings,
  /** Cars by the officers' count; the gates' own stands beside it. */
  SUM(d.cars) AS cars,
  (SELECT SUM(l.cars) FROM loads l) AS cars_at_the_gates,
  SUM(d.mean_hours * d.sailings) / SUM(d.sailings) AS hours_a_sailing,
  RANK() OVER (PARTITION BY d.week ORDER BY SUM(d.cars) DESC) AS place_among_ports
FROM days d
GROUP BY d.week, d.port
