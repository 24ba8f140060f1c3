import { useQuery } from "@tanstack/react-query";
import { client, unwrap, type StudyState } from "../api/client";
import { readNumbers, type Numbers } from "../model/labels";
import { filterTexts, ROWS, type TableState } from "../model/tableState";
import { useInterface } from "./store/store";

interface Wanted {
  frame: number;
  quality: "draft" | "final";
  domain: TableState["domain"];
  mask_of?: string;
  sort: string;
  descending: boolean;
  filter: string[];
}

function wantedOf(table: TableState): Wanted {
  const { frame, quality, step } = useInterface.getState();
  return {
    frame,
    quality,
    domain: table.domain,
    mask_of:
      (table.domain === "point" || table.domain === "copy") && step && step !== "form"
        ? step
        : undefined,
    sort: table.sort,
    descending: table.descending,
    filter: filterTexts(table.filters),
  };
}

/** Everything the table depends on besides itself; read so that it changes with them. */
function useMoment() {
  const frame = useInterface((s) => (s.table ? s.frame : 0));
  const playing = useInterface((s) => s.playing);
  const quality = useInterface((s) => s.quality);
  const step = useInterface((s) => s.step);
  return { frame, playing, quality, step };
}

/** The rows of the table at the present frame; while it plays they stay as they were. */
export function useTable(state: StudyState, piece: string | undefined, table: TableState | null) {
  const { frame, playing, quality, step } = useMoment();
  return useQuery({
    queryKey: ["table", state.id, state.revision, piece, frame, quality, step, table],
    queryFn: async () =>
      unwrap(
        await client.GET("/api/studies/{study_id}/pieces/{piece_id}/table", {
          params: {
            path: { study_id: state.id, piece_id: piece! },
            query: { ...wantedOf(table!), first: table!.page * ROWS, count: ROWS },
          },
        }),
      ),
    enabled: table !== null && piece !== undefined && !playing,
    placeholderData: (before) => before,
    retry: false,
  });
}

function addressOf(state: StudyState, piece: string, table: TableState, file: string): string {
  const { filter, ...wanted } = wantedOf(table);
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(wanted)) {
    if (value !== undefined) query.set(name, String(value));
  }
  for (const text of filter) query.append("filter", text);
  return `/api/studies/${state.id}/pieces/${piece}/${file}?${query}`;
}

/** Where the rows are to be had as text. */
export function csvAddress(state: StudyState, piece: string, table: TableState): string {
  return addressOf(state, piece, table, "table.csv");
}

export interface Heat {
  low: number;
  high: number;
  /** One byte a point: its share of the range. */
  shares: Uint8Array;
}

/** A column at the elements that pass the filters, to be written on the stage. */
export function useNumbers(
  state: StudyState,
  piece: string,
  table: TableState | null,
): Numbers | null {
  const { frame, playing, quality, step } = useMoment();
  const column = table?.how === "numbers" ? table.column : null;
  const { domain, filters } = table ?? {};
  const moment = [state.id, state.revision, piece, frame, quality, step];
  const found = useQuery({
    queryKey: ["numbers", ...moment, domain, column, filters],
    queryFn: async () => {
      const address = addressOf(state, piece, { ...table!, sort: "" }, "numbers");
      const answer = await fetch(`${address}&column=${encodeURIComponent(column!)}`);
      if (!answer.ok) throw new Error((await answer.json()).error.message);
      return readNumbers(await answer.arrayBuffer());
    },
    enabled: column !== null && !playing,
    placeholderData: (before) => before,
    retry: false,
  });
  return column ? (found.data ?? null) : null;
}

/** A column at the points, to be shown on the stage. */
export function useColumnHeat(
  state: StudyState,
  piece: string | undefined,
  table: TableState | null,
): Heat | null {
  const { frame, playing, quality, step } = useMoment();
  const column = table?.how === "heat" ? table.column : null;
  const found = useQuery({
    queryKey: [
      "heat",
      state.id,
      state.revision,
      piece,
      frame,
      quality,
      step,
      table?.domain,
      column,
    ],
    queryFn: async (): Promise<Heat> => {
      const address = addressOf(state, piece!, { ...table!, filters: {} }, "heat");
      const answer = await fetch(`${address}&column=${encodeURIComponent(column!)}`);
      if (!answer.ok) throw new Error((await answer.json()).error.message);
      const data = await answer.arrayBuffer();
      const [low, high] = new Float32Array(data, 0, 2);
      return { low, high, shares: new Uint8Array(data, 8) };
    },
    enabled: column !== null && piece !== undefined && !playing,
    placeholderData: (before) => before,
    retry: false,
  });
  return column ? (found.data ?? null) : null;
}
