/** Bars over time in the colours of the theme. What they show stands in a table beside them, for whoever does not see them. */
import type { Chart as Drawn } from "chart.js";
import { useEffect, useRef } from "react";

export interface Bars {
  name: string;
  /** A colour token, as in `--plum`. */
  colour: string;
  values: number[];
}

interface Props {
  label: string;
  /** What stands under each bar. */
  steps: string[];
  sets: Bars[];
  height: number;
}

const coloursOf = (names: readonly string[]): string[] => {
  // Tokens are given for both themes: an element has them as they are.
  const probe = document.body.appendChild(document.createElement("i"));
  const found = names.map((name) => {
    probe.style.color = `var(${name})`;
    return getComputedStyle(probe).color;
  });
  probe.remove();
  return found;
};

async function draw(canvas: HTMLCanvasElement, { steps, sets }: Props): Promise<Drawn> {
  const { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } = await import("chart.js");
  Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);
  const [ink = "", rule = "", ...colours] = coloursOf(["--soft-ink", "--rule", ...sets.map(({ colour }) => colour)]);
  Chart.getChart(canvas)?.destroy();
  return new Chart(canvas, {
    type: "bar",
    data: {
      labels: steps,
      datasets: sets.map(({ name, values }, i) => ({
        label: name,
        data: values,
        backgroundColor: colours[i] as string,
        maxBarThickness: 18,
      })),
    },
    options: {
      animation: false,
      maintainAspectRatio: false,
      font: { family: getComputedStyle(document.body).fontFamily },
      scales: {
        x: { stacked: true, grid: { display: false }, ticks: { color: ink, maxRotation: 0, autoSkipPadding: 12 }, border: { color: rule } },
        y: { stacked: true, grid: { color: rule }, ticks: { color: ink, precision: 0, maxTicksLimit: 5 }, border: { display: false } },
      },
    },
  });
}

export function BarChart(props: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const key = JSON.stringify([props.steps, props.sets]);
  useEffect(() => {
    let chart: Drawn | undefined;
    let over = false;
    const again = async () => {
      if (!canvas.current) return;
      const made = await draw(canvas.current, props);
      if (over) made.destroy();
      else chart = made;
    };
    void again();
    const theme = new MutationObserver(() => void again());
    theme.observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
    return () => {
      over = true;
      theme.disconnect();
      chart?.destroy();
    };
  }, [key]);
  return (
    <div style={{ height: props.height, position: "relative" }}>
      <canvas ref={canvas} role="img" aria-label={props.label} />
    </div>
  );
}
