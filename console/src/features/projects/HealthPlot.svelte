<script lang="ts">
  import type { HealthPoint } from "./api";
  let { points }: { points: HealthPoint[] } = $props();

  const WIDTH = 330;
  const HEIGHT = 90;
  const most = $derived(Math.max(...points.map((p) => Math.max(p.dangling, p.stale)), 1));
  const x = (index: number) => 4 + (index / Math.max(points.length - 1, 1)) * (WIDTH - 8);
  const y = (value: number) => HEIGHT - 4 - (value / most) * (HEIGHT - 12);
  const line = (key: "dangling" | "stale") =>
    points.map((p, i) => `${x(i)},${y(p[key])}`).join(" ");
</script>

<svg
  viewBox="0 0 {WIDTH} {HEIGHT}"
  class="w-full"
  role="img"
  aria-label="Dangling and stale references after each of {points.length} runs"
>
  <line x1="0" x2={WIDTH} y1={HEIGHT - 4} y2={HEIGHT - 4} stroke="var(--rule)" />
  <polyline points={line("dangling")} fill="none" stroke="var(--dangling)" stroke-width="2" />
  <polyline
    points={line("stale")}
    fill="none"
    stroke="var(--stale)"
    stroke-width="2"
    stroke-dasharray="5 4"
  />
</svg>
<p class="small soft mt-1">
  After each run: <span class="dangling">dangling</span> (solid, {points.at(-1)!.dangling} now) and
  <span class="stale">stale</span> (dashed, {points.at(-1)!.stale} now); {most} at most.
</p>
