import { Box, Dialog, DialogTitle, InputBase, Typography } from "@mui/material";
import visuallyHidden from "@mui/utils/visuallyHidden";
import { useEffect, useRef, useState, type ReactNode } from "react";
import type { CatalogueEntry, Specimen } from "../api/client";
import { useSpecimens } from "../api/queries";
import { useMotion } from "../common/lessMotion";
import { ranked } from "../model/rank";
import { moved } from "./gridMove";
import { PlainButton } from "../common/PlainButton";
import { Tried, useTrial } from "./Tried";

const COLUMNS = 4;

/** What can be chosen: an entry of the catalogue, or something like it. */
export type Entry = Pick<CatalogueEntry, "key" | "title" | "help"> & {
  sort: string;
  /** Other words by which it is looked for. */
  also?: string[];
  /** What else can be done with it. */
  menu?: ReactNode;
};

interface Props<E extends Entry> {
  open: boolean;
  title: string;
  placeholder: string;
  /** What to say where nothing is found by a word. */
  none: (wanted: string) => string;
  groups: { label: string; entries: E[] }[];
  pick: (entry: E) => void;
  close: () => void;
  /** Moving pictures besides those of forms and steps. */
  pictures?: Thumbnailed[];
  /** Another way to choose, beside the search. */
  aside?: ReactNode;
  /** Address of a picture of what an entry would do to what is there. */
  tried?: (entry: E) => string | undefined;
}

type Thumbnailed = Pick<Specimen, "thumbnail_state" | "address"> & { sort: string; key: string };

/** Forms or steps to choose from: a search field over moving pictures, in groups by intent. */
export function EntrySheet<E extends Entry>(props: Props<E>) {
  return (
    <Dialog
      open={props.open}
      onClose={props.close}
      maxWidth={false}
      slotProps={{ paper: { sx: { width: 908, maxWidth: "calc(100vw - 64px)" } } }}
    >
      <DialogTitle sx={visuallyHidden}>{props.title}</DialogTitle>
      <Choices {...props} />
    </Dialog>
  );
}

/** Mounted with the dialog, so that each opening begins with an empty search. */
function Choices<E extends Entry>(props: Props<E>) {
  const { placeholder, none, groups, pick, close, aside } = props;
  const [wanted, setWanted] = useState("");
  const [chosen, setChosen] = useState(0);
  const specimens = useSpecimens();
  const pictures: Thumbnailed[] = [...specimens, ...(props.pictures ?? [])];
  const list = useRef<HTMLDivElement>(null);
  const all = groups.flatMap((g) => g.entries.map((entry) => ({ entry, label: g.label })));
  const best = ranked(
    all,
    ({ entry, label }) => ({ ...entry, help: `${entry.help} ${label}` }),
    wanted,
  ).map(({ entry }) => entry);
  const shown = (wanted.trim() ? [{ label: "Found", entries: best }] : groups).filter(
    (g) => g.entries.length > 0,
  );
  const sizes = shown.map((g) => g.entries.length);
  const flat = shown.flatMap((g) => g.entries);
  const current = flat[Math.min(chosen, flat.length - 1)];
  useEffect(() => {
    list.current?.querySelector("[data-chosen=true]")?.scrollIntoView({ block: "nearest" });
  }, [chosen, wanted]);
  return (
    <>
      <Box
        sx={{
          display: "flex",
          alignItems: "center",
          pr: aside ? 2.5 : 0,
          borderBottom: "1px solid",
          borderColor: "divider",
        }}
      >
        <InputBase
          autoFocus
          placeholder={placeholder}
          value={wanted}
          onChange={(e) => {
            setWanted(e.target.value);
            setChosen(0);
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter" && current) {
              // The focus goes back to the button that opened the sheet, which Enter would press.
              e.preventDefault();
              pick(current);
            }
            if (e.key === "Escape") close();
            else if (e.key === "ArrowDown" || e.key === "ArrowUp") {
              e.preventDefault();
              setChosen(moved(sizes, chosen, e.key === "ArrowDown" ? COLUMNS : -COLUMNS, COLUMNS));
            } else if ((e.key === "ArrowRight" || e.key === "ArrowLeft") && !wanted) {
              e.preventDefault();
              setChosen(moved(sizes, chosen, e.key === "ArrowRight" ? 1 : -1, COLUMNS));
            }
          }}
          inputProps={{ "aria-label": "Search", role: "searchbox" }}
          sx={{
            flex: 1,
            px: 2,
            py: 1,
            fontSize: 17,
            // Room between the text and the ring of the focus.
            "& input": { px: 1, py: 0.75, borderRadius: 2 },
          }}
        />
        {aside}
      </Box>
      <Box ref={list} sx={{ px: 2.5, py: 2, height: 540, maxHeight: "70vh", overflowY: "auto" }}>
        {shown.map((group) => (
          <Box key={group.label} component="section" sx={{ mb: 2.5 }}>
            <Typography variant="h3" component="h2" color="textSecondary" sx={{ mb: 1 }}>
              {group.label}
            </Typography>
            <Box sx={{ display: "grid", gridTemplateColumns: `repeat(${COLUMNS}, 1fr)`, gap: 1.5 }}>
              {group.entries.map((entry) => (
                <Box key={entry.key} sx={{ position: "relative", display: "grid" }}>
                  <Card
                    entry={entry}
                    chosen={entry === current}
                    picture={pictures.find((p) => p.sort === entry.sort && p.key === entry.key)}
                    tried={props.tried?.(entry)}
                    pick={() => pick(entry)}
                  />
                  {entry.menu}
                </Box>
              ))}
            </Box>
          </Box>
        ))}
        {flat.length === 0 && (
          <Typography color="textSecondary" sx={{ p: 2 }}>
            {none(wanted)}
          </Typography>
        )}
      </Box>
    </>
  );
}

function Card(props: {
  entry: Entry;
  chosen: boolean;
  picture: Thumbnailed | undefined;
  tried: string | undefined;
  pick: () => void;
}) {
  const { entry, chosen, picture } = props;
  const motion = useMotion();
  const trial = useTrial(props.tried);
  return (
    <PlainButton
      data-chosen={chosen}
      onClick={props.pick}
      {...trial.on}
      sx={{
        boxSizing: "border-box",
        display: "flex",
        flexDirection: "column",
        alignItems: "stretch",
        justifyContent: "flex-start",
        cursor: "pointer",
        borderRadius: 2,
        p: 0.75,
        border: "1px solid",
        borderColor: chosen ? "roles.what" : "transparent",
        bgcolor: chosen ? "roles.quiet" : "transparent",
        "&:hover, &:focus-visible": { bgcolor: "roles.quiet" },
      }}
    >
      <Box
        sx={{
          position: "relative",
          aspectRatio: "16 / 10",
          borderRadius: 1.5,
          overflow: "hidden",
          bgcolor: "#28223a",
          mb: 0.75,
        }}
      >
        {picture?.thumbnail_state === "ready" && (
          <Box
            component="img"
            src={motion(picture.address)}
            alt=""
            sx={{ display: "block", width: "100%", height: "100%", objectFit: "cover" }}
          />
        )}
        {trial.address && <Tried address={trial.address} />}
      </Box>
      <Typography component="span" sx={{ display: "block", fontWeight: 600, lineHeight: 1.3 }}>
        {entry.title}
      </Typography>
      <Typography
        component="span"
        variant="caption"
        color="textSecondary"
        sx={{ lineHeight: 1.35, display: "block" }}
      >
        {entry.help}
      </Typography>
    </PlainButton>
  );
}
