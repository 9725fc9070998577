<script lang="ts">
  import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js';
  import { onMount } from 'svelte';

  let {
    rows,
    of,
    height,
  }: {
    rows: { name: string; shown: number }[];
    of: number;
    /** Of one row, in pixels; the bars stand beside the rows of a table. */
    height: number;
  } = $props();

  Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);
  let canvas: HTMLCanvasElement;
  let chart: Chart<'bar'> | undefined;

  const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`);

  onMount(() => {
    chart = new Chart(canvas, {
      type: 'bar',
      data: {
        labels: [],
        datasets: [
          {
            label: 'Appears for',
            data: [],
            backgroundColor: colour('moss'),
            barPercentage: 0.62,
            categoryPercentage: 1,
          },
          {
            label: 'Hidden for',
            data: [],
            backgroundColor: colour('linen-deep'),
            barPercentage: 0.62,
            categoryPercentage: 1,
          },
        ],
      },
      options: {
        indexAxis: 'y',
        animation: false,
        responsive: true,
        maintainAspectRatio: false,
        layout: { padding: 0 },
        scales: { x: { stacked: true, display: false, min: 0 }, y: { stacked: true, display: false } },
        plugins: { legend: { display: false }, tooltip: { displayColors: false } },
      },
    });
    return () => chart?.destroy();
  });

  $effect(() => {
    const [names, shown, all] = [rows.map((row) => row.name), rows.map((row) => row.shown), of];
    if (!chart) return;
    chart.data.labels = names;
    chart.data.datasets[0]!.data = shown;
    chart.data.datasets[1]!.data = shown.map((n) => all - n);
    chart.options.scales!.x!.max = Math.max(1, all);
    chart.update('none');
  });
</script>

<div class="relative w-full" style="height:{height * rows.length}px">
  <!-- svelte-ignore a11y_no_interactive_element_to_noninteractive_role -->
  <canvas bind:this={canvas} aria-label="For how many records each section appears" role="img"></canvas>
</div>
