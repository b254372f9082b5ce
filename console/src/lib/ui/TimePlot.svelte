<script lang="ts" module>
  export interface Series {
    name: string;
    colour: string;
    values: number[];
    dashed?: boolean;
    bars?: boolean;
  }
</script>

<script lang="ts">
  import uPlot from "uplot";
  import "uplot/dist/uPlot.min.css";

  let {
    times,
    series,
    label,
    height = 220,
  }: { times: number[]; series: Series[]; label: string; height?: number } = $props();

  const DAY_S = 86_400;
  const span = $derived((times.at(-1) ?? 0) - (times[0] ?? 0));
  const format = $derived(
    new Intl.DateTimeFormat(
      "en-GB",
      span > 3 * DAY_S
        ? { day: "numeric", month: "short" }
        : span > 3600
          ? { hour: "2-digit", minute: "2-digit" }
          : { hour: "2-digit", minute: "2-digit", second: "2-digit" },
    ),
  );
  const moment = (seconds: number) => format.format(new Date(seconds * 1000));

  /** Draws at the width that there is, anew when data or theme change. */
  function draw(box: HTMLElement) {
    const token = (name: string) => getComputedStyle(box).getPropertyValue(name).trim();
    const axis = () => ({
      stroke: token("--soft"),
      grid: { stroke: token("--rule"), width: 1 },
      ticks: { show: false },
      font: "13px 'Instrument Sans Variable', sans-serif",
    });
    const plot = new uPlot(
      {
        width: box.clientWidth,
        height,
        legend: { show: false },
        cursor: { show: false },
        padding: [8, 8, 0, 0],
        scales: { y: { range: (_, __, most) => [0, Math.max(most, 1)] } },
        axes: [
          { ...axis(), space: 80, values: (_, splits) => splits.map(moment) },
          { ...axis(), size: 40, incrs: [1, 2, 5, 10, 20, 50, 100, 500, 1000, 5000] },
        ],
        series: [
          {},
          ...series.map((s) => ({
            stroke: token(s.colour),
            fill: s.bars ? token(s.colour) : undefined,
            width: 2,
            dash: s.dashed ? [6, 5] : undefined,
            points: { show: times.length < 30, size: 6, fill: token(s.colour) },
          })),
        ],
      },
      [times, ...series.map((s) => s.values)] as uPlot.AlignedData,
      box,
    );
    const seen = new ResizeObserver(() => plot.setSize({ width: box.clientWidth, height }));
    seen.observe(box);
    return () => {
      seen.disconnect();
      plot.destroy();
    };
  }
</script>

<div role="img" aria-label={label} class="min-w-0" {@attach draw}></div>
<p class="small soft mt-1">
  {#each series as s, index (s.name)}{index ? ", " : ""}<span
      class="{s.colour === '--dangling'
        ? 'dangling'
        : s.colour === '--stale'
          ? 'stale'
          : ''} {s.colour === '--accent' ? 'text-accent' : ''}">{s.name}</span
    >
    {s.dashed ? "(dashed)" : "(solid)"}{/each}
</p>
