<script lang="ts">
  import { figure } from "../../lib/words";
  let { days, references }: { days: { day: string; dangling: number }[]; references: number } =
    $props();

  const WIDTH = 330;
  const HEIGHT = 100;
  const most = $derived(Math.max(...days.map((d) => d.dangling), 1));
  const step = $derived(WIDTH / Math.max(days.length, 14));
  const peak = $derived(days.reduce((a, b) => (b.dangling > a.dangling ? b : a), days[0]!));
  const name = (day: string) =>
    new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long" }).format(new Date(day));
</script>

<h2>Dangling, day by day</h2>
<svg
  viewBox="0 0 {WIDTH} {HEIGHT}"
  class="mt-2 w-full"
  role="img"
  aria-label="Dangling references on each of the last {days.length} days"
>
  {#each days as day, index (day.day)}
    {@const height = (day.dangling / most) * (HEIGHT - 4)}
    <rect
      x={index * step}
      y={HEIGHT - height}
      width={step - 6}
      {height}
      fill="var(--dangling)"
      opacity={index === days.length - 1 ? 1 : 0.6}
      ><title>{name(day.day)}: {day.dangling}</title></rect
    >
  {/each}
  <line x1="0" x2={WIDTH} y1={HEIGHT} y2={HEIGHT} stroke="var(--rule)" />
</svg>
<p class="small soft mt-2">
  {figure(peak.dangling)} at most, on {name(peak.day)}; {figure(days.at(-1)!.dangling)} today, of {figure(
    references,
  )}
</p>
