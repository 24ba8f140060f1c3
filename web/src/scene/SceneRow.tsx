import DeleteOutline from "@mui/icons-material/DeleteOutlined";
import { Box, IconButton, Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { CatalogueEntry, StudyState } from "../api/client";
import type { Carried, DocValue } from "../api/document";
import { CarriedRow } from "../common/CarriedRow";
import { PlainButton } from "../common/PlainButton";
import { PlainName } from "../common/PlainName";
import { useChange } from "../common/useStep";
import { ScenePart } from "./ScenePart";

interface Props {
  state: StudyState;
  /** "light" or "camera", as it is called in its list. */
  kind: "light" | "camera";
  part: {
    id: string;
    name: string;
    values?: Record<string, DocValue>;
    carried?: Carried | null;
  };
  entry: CatalogueEntry;
  open: boolean;
  toggle: () => void;
  /** Before its name. */
  sign: ReactNode;
  /** At the end of its line. */
  end: ReactNode;
  faint?: boolean;
  /** Missing where it cannot be removed. */
  removed?: () => void;
  /** Over its values. */
  children?: ReactNode;
}

/** One light or camera: a line, or with its values when it is open. */
export function SceneRow(props: Props) {
  const { state, kind, part, entry, open, toggle, sign, end, faint, removed, children } = props;
  const base = `/${kind}s/${part.id}`;
  const change = useChange(state.id, base);
  const words = state.scene.parts.find((each) => each.address === base);
  return (
    <Box
      {...{ [`data-${kind}`]: part.id }}
      sx={{
        borderBottom: "1px solid",
        borderColor: "divider",
        bgcolor: open ? "roles.card" : undefined,
        mx: -2,
        px: 2,
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", height: 34 }}>
        <PlainButton
          aria-expanded={open}
          onClick={toggle}
          sx={{
            display: "flex",
            alignItems: "center",
            gap: 1,
            flex: 1,
            minWidth: 0,
            height: "100%",
            cursor: "pointer",
            opacity: faint ? 0.45 : 1,
          }}
        >
          {sign}
          <Typography variant="body2" noWrap component="span" sx={{ flex: 1 }}>
            <b>{part.name}</b> {words?.sentence}
          </Typography>
        </PlainButton>
        {end}
      </Box>
      {open && (
        <Box sx={{ pb: 1 }}>
          <Box sx={{ display: "flex", alignItems: "center" }}>
            <PlainName
              name={part.name}
              label={`Name of the ${kind}`}
              store={(name) => change.store("name", name, `Name the ${kind}`)}
            />
            {removed && (
              <IconButton
                aria-label={`Remove ${part.name}`}
                onClick={() => {
                  change.edit(`Remove ${kind}`, [{ do: "remove", path: base }]);
                  removed();
                }}
              >
                <DeleteOutline sx={{ fontSize: 18 }} />
              </IconButton>
            )}
          </Box>
          {children}
          <ScenePart state={state} address={base} entries={entry.values} given={part.values ?? {}}>
            <CarriedRow
              state={state}
              address={base}
              carried={part.carried}
              sticks={kind === "camera" || (kind === "light" && "position" in entry.values)}
            />
          </ScenePart>
        </Box>
      )}
    </Box>
  );
}
