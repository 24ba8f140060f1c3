import type { Schemas } from "../api/client";

export type Domain = "point" | "face" | "shard" | "copy";

/** What the table shows, and what of it the stage shows. */
export interface TableState {
  domain: Domain;
  sort: string;
  descending: boolean;
  /** Column to its least and most as they were typed; "" is no limit. */
  filters: Record<string, [string, string]>;
  page: number;
  /** The column that the stage shows. */
  column: string | null;
  how: "numbers" | "heat";
  figures: boolean;
}

export const ROWS = 50;

export const NEW_TABLE: TableState = {
  domain: "point",
  sort: "",
  descending: false,
  filters: {},
  page: 0,
  column: null,
  how: "heat",
  figures: false,
};

/** Filters as the server reads them; those without limits are left out. */
export function filterTexts(filters: TableState["filters"]): string[] {
  return Object.entries(filters)
    .filter(([, limits]) => limits.some((l) => l.trim() !== ""))
    .map(([column, [low, high]]) => `${column}~${low.trim()}~${high.trim()}`);
}

/** Whether a limit is empty or a number. */
export function isLimit(text: string): boolean {
  return text.trim() === "" || Number.isFinite(Number(text));
}

/** The same table ordered by a column: upward, downward, then in its own order again. */
export function sortedBy(table: TableState, column: string): TableState {
  const same = table.sort === column;
  if (!same) return { ...table, sort: column, descending: false, page: 0 };
  if (!table.descending) return { ...table, descending: true, page: 0 };
  return { ...table, sort: "", descending: false, page: 0 };
}

/** A number in as few figures as tell it apart from its neighbours. */
export function figure(value: number | null | undefined): string {
  if (value === null || value === undefined) return "–";
  if (Number.isInteger(value) && Math.abs(value) < 1e9) return value.toLocaleString("en");
  const size = Math.abs(value);
  if (size !== 0 && (size < 1e-3 || size >= 1e6)) return value.toExponential(3);
  return value.toFixed(size >= 100 ? 2 : 4);
}

export type TablePage = Schemas["TablePage"];
export type TableColumn = Schemas["TableColumn"];
