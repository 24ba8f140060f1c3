import Close from "@mui/icons-material/Close";
import FilterList from "@mui/icons-material/FilterList";
import {
  Box,
  Button,
  IconButton,
  MenuItem,
  Popover,
  Select,
  Table,
  TableBody,
  TableCell,
  TableContainer,
  TableFooter,
  TableHead,
  TablePagination,
  TableRow,
  TableSortLabel,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import { FIGURES } from "../common/theme";
import { csvAddress, useTable } from "../common/useTable";
import {
  figure,
  isLimit,
  ROWS,
  sortedBy,
  type Domain,
  type TableColumn,
  type TablePage,
  type TableState,
} from "../model/tableState";

const DOMAINS: Record<Domain, string> = {
  point: "Points",
  face: "Faces",
  shard: "Shards",
  copy: "Copies",
};
const FIGURES_OF = {
  least: "Least",
  most: "Most",
  mean: "Mean",
  median: "Median",
  deviation: "Deviation",
} as const;

/** Points, faces, shards or copies of the piece with all their values, below the stage. */
export function TablePanel({ state, piece }: { state: StudyState; piece: string | undefined }) {
  const table = useInterface((s) => s.table);
  const found = useTable(state, piece, table);
  if (!table || !piece) return null;
  const put = (part: Partial<TableState>) =>
    useInterface.getState().set({ table: { ...table, ...part } });
  const page = found.data;
  return (
    <Box
      component="section"
      aria-label="Table"
      sx={{
        display: "flex",
        flexDirection: "column",
        minHeight: 0,
        height: "46%",
        borderTop: "1px solid",
        borderColor: "divider",
        bgcolor: "background.default",
        color: "text.primary",
      }}
    >
      <Head table={table} page={page} put={put} csv={csvAddress(state, piece, table)} />
      {found.isError && (
        <Typography role="alert" color="error" variant="body2" sx={{ p: 2 }}>
          {found.error.message}
        </Typography>
      )}
      {page && !found.isError && <Rows table={table} page={page} put={put} />}
      {page && (
        <TablePagination
          component="div"
          count={page.matching}
          page={Math.min(table.page, Math.max(0, Math.ceil(page.matching / ROWS) - 1))}
          rowsPerPage={ROWS}
          rowsPerPageOptions={[]}
          onPageChange={(_, to) => put({ page: to })}
          labelDisplayedRows={({ from, to, count }) =>
            `${figure(from)} to ${figure(to)} of ${figure(count)}`
          }
          showFirstButton
          showLastButton
          sx={{ flex: "none", minHeight: 36, "& .MuiToolbar-root": { minHeight: 36 } }}
        />
      )}
    </Box>
  );
}

type Put = (part: Partial<TableState>) => void;

function Head(props: { table: TableState; page: TablePage | undefined; put: Put; csv: string }) {
  const { table, page, put } = props;
  const filtered = page && page.matching < page.total;
  const playing = useInterface((s) => s.playing);
  return (
    <Box
      sx={{ display: "flex", alignItems: "center", gap: 1.5, px: 1.5, py: 0.75, flexWrap: "wrap" }}
    >
      <ToggleButtonGroup
        exclusive
        size="small"
        value={table.domain}
        aria-label="Elements"
        onChange={(_, domain: Domain | null) =>
          domain && put({ domain, sort: "", filters: {}, page: 0, column: null })
        }
      >
        {Object.entries(DOMAINS).map(([key, label]) => (
          <ToggleButton key={key} value={key} sx={{ py: 0.25, px: 1.25 }}>
            {label}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Typography variant="body2" color="textSecondary" role="status" sx={{ flex: 1 }} noWrap>
        {page &&
          (filtered
            ? `${figure(page.matching)} of ${figure(page.total)} pass the filters`
            : `${figure(page.total)} ${DOMAINS[table.domain].toLowerCase()}`)}
        {playing && " · as before it played; follows when it pauses"}
      </Typography>
      <Typography variant="body2">On the stage</Typography>
      <Select
        value={page && table.column ? table.column : ""}
        displayEmpty
        inputProps={{ "aria-label": "Column on the stage" }}
        onChange={(e) => put({ column: e.target.value || null })}
      >
        <MenuItem value="">nothing</MenuItem>
        {page?.columns.map((c) => (
          <MenuItem key={c.key} value={c.key}>
            {c.label}
          </MenuItem>
        ))}
      </Select>
      {table.column && (
        <Select
          value={table.how}
          inputProps={{ "aria-label": "How the stage shows it" }}
          onChange={(e) => put({ how: e.target.value as TableState["how"] })}
        >
          <MenuItem value="heat">as heat</MenuItem>
          <MenuItem value="numbers">as numbers</MenuItem>
        </Select>
      )}
      <Button
        variant={table.figures ? "contained" : "outlined"}
        aria-pressed={table.figures}
        onClick={() => put({ figures: !table.figures })}
      >
        Statistics
      </Button>
      <Button variant="outlined" component="a" href={props.csv} download>
        CSV
      </Button>
      <IconButton
        aria-label="Close the table"
        onClick={() => useInterface.getState().set({ table: null })}
      >
        <Close fontSize="small" />
      </IconButton>
    </Box>
  );
}

const CELL = { fontFamily: FIGURES, fontSize: 12, py: 0.25, px: 1.25, whiteSpace: "nowrap" };

const FIGURE = { ...CELL, py: 0, lineHeight: 1.45, color: "text.primary", border: 0 };

const NOTHING: Record<Domain, string> = {
  point: "There are no points here.",
  face: "There are no faces here: curves and loose points have points only.",
  shard: "There are no shards here: tilings, letters and parts of a file have them.",
  copy: "There are no copies here: steps that repeat make them.",
};

function Rows({ table, page, put }: { table: TableState; page: TablePage; put: Put }) {
  if (page.total === 0)
    return (
      <Typography color="textSecondary" sx={{ p: 2, flex: 1 }}>
        {NOTHING[table.domain]}
      </Typography>
    );
  return (
    <TableContainer sx={{ flex: 1, minHeight: 0 }}>
      <Table size="small" stickyHeader aria-label={DOMAINS[table.domain]}>
        <TableHead>
          <TableRow>
            <TableCell sx={CELL}>number</TableCell>
            {page.columns.map((column) => (
              <ColumnHead key={column.key} column={column} table={table} put={put} />
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {page.rows.map((row) => (
            <TableRow key={row.number} hover>
              <TableCell sx={CELL}>{figure(row.number)}</TableCell>
              {row.values.map((value, k) => (
                <TableCell key={k} align="right" sx={CELL}>
                  {figure(value)}
                </TableCell>
              ))}
            </TableRow>
          ))}
          {page.rows.length === 0 && (
            <TableRow>
              <TableCell colSpan={page.columns.length + 1}>
                Nothing passes the filters. Widen or clear one.
              </TableCell>
            </TableRow>
          )}
        </TableBody>
        {table.figures && (
          <TableFooter sx={{ position: "sticky", bottom: 0, bgcolor: "roles.quiet" }}>
            {(Object.keys(FIGURES_OF) as (keyof typeof FIGURES_OF)[]).map((name) => (
              <TableRow key={name}>
                <TableCell sx={FIGURE}>{FIGURES_OF[name]}</TableCell>
                {page.columns.map((c) => (
                  <TableCell key={c.key} align="right" sx={FIGURE}>
                    {figure(c[name])}
                  </TableCell>
                ))}
              </TableRow>
            ))}
          </TableFooter>
        )}
      </Table>
    </TableContainer>
  );
}

function ColumnHead(props: { column: TableColumn; table: TableState; put: Put }) {
  const { column, table, put } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const limits = table.filters[column.key] ?? ["", ""];
  const filtered = limits.some((l) => l !== "");
  return (
    <TableCell align="right" sx={CELL} sortDirection={table.sort === column.key ? "asc" : false}>
      <TableSortLabel
        active={table.sort === column.key}
        direction={table.sort === column.key && table.descending ? "desc" : "asc"}
        onClick={() => put(sortedBy(table, column.key))}
      >
        {column.label}
        {column.unit && ` (${column.unit})`}
      </TableSortLabel>
      <IconButton
        aria-label={`Filter ${column.label}`}
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ p: 0.25, ml: 0.25, color: filtered ? "roles.what" : "text.secondary" }}
      >
        <FilterList sx={{ fontSize: 14 }} />
      </IconButton>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
      >
        <FilterFields
          column={column}
          limits={limits}
          store={(next) => put({ filters: { ...table.filters, [column.key]: next }, page: 0 })}
        />
      </Popover>
    </TableCell>
  );
}

function FilterFields(props: {
  column: TableColumn;
  limits: [string, string];
  store: (limits: [string, string]) => void;
}) {
  const { column, store } = props;
  const [typed, setTyped] = useState(props.limits);
  const put = (next: [string, string]) => {
    setTyped(next);
    if (next.every(isLimit)) store(next);
  };
  return (
    <Box sx={{ p: 1.5, display: "flex", gap: 1, alignItems: "flex-start" }}>
      {(["From", "To"] as const).map((label, k) => (
        <TextField
          key={label}
          label={label}
          size="small"
          value={typed[k]}
          error={!isLimit(typed[k])}
          helperText={isLimit(typed[k]) ? " " : "not a number"}
          placeholder={figure(k ? column.most : column.least)}
          onChange={(e) => put(k ? [typed[0], e.target.value] : [e.target.value, typed[1]])}
          onKeyDown={(e) => e.key !== "Escape" && e.stopPropagation()}
          slotProps={{ htmlInput: { "aria-label": `${column.label}, ${label.toLowerCase()}` } }}
          sx={{ width: 120 }}
        />
      ))}
      <Button sx={{ mt: 0.5 }} onClick={() => put(["", ""])}>
        Clear
      </Button>
    </Box>
  );
}
