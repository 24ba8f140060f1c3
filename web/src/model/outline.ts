import type { FormulaPlotData } from "../api/client";

/** The outline of the runs of points, between their least and greatest results. */
export function outline({ low, high }: FormulaPlotData, width: number, height: number): string {
  const least = Math.min(...low);
  const span = Math.max(...high) - least;
  const y = (v: number) =>
    span > 0 ? height - 2 - ((v - least) / span) * (height - 4) : height / 2;
  const x = (k: number) => (low.length > 1 ? (k / (low.length - 1)) * width : width / 2);
  const there = high.map((v, k) => `${x(k).toFixed(1)} ${(y(v) - 0.5).toFixed(1)}`);
  const back = low.map((v, k) => `${x(k).toFixed(1)} ${(y(v) + 0.5).toFixed(1)}`).reverse();
  return `M${[...there, ...back].join("L")}Z`;
}
