import DeleteOutline from "@mui/icons-material/DeleteOutlined";
import SwapHoriz from "@mui/icons-material/SwapHoriz";
import ViewWeek from "@mui/icons-material/ViewWeekOutlined";
import { Box, IconButton, MenuItem, Select, Tooltip, Typography } from "@mui/material";
import { useState } from "react";
import type { DocValue, OwnGradient } from "../../../api/document";
import { useInterface } from "../../store/store";
import { added, removed, reversed, spaced } from "../../../model/gradientStops";
import { ColourCell } from "../ColourCell";
import { GradientShelf } from "./GradientShelf";
import { GradientStrip } from "./GradientStrip";
import { PlaceField } from "./PlaceField";

interface Props {
  gradient: OwnGradient;
  /** Of a bundled one; "" of one's own. */
  name: string;
  live: (value: DocValue) => void;
  store: (value: DocValue, label?: string) => void;
}

/** Stops, how they are joined and mixed, and gradients to begin with. */
export function GradientEditor({ gradient, name, live, store }: Props) {
  const [wanted, setChosen] = useState(0);
  const say = useInterface((s) => s.say);
  const chosen = Math.min(wanted, gradient.stops.length - 1);
  const stop = gradient.stops[chosen];
  const put = (next: OwnGradient, label: string) => store(next, label);
  const add = (at: number) => {
    const below = [...gradient.stops].sort((a, b) => a.at - b.at).filter((s) => s.at <= at);
    const made = added(gradient, at, (below.at(-1) ?? gradient.stops[0]).colour);
    if (!made) return say({ text: "A gradient has no more than 64 colours.", tone: "error" });
    setChosen(made.stops.length - 1);
    put(made, "Add a colour");
  };
  const remove = (which: number) => put(removed(gradient, which), "Remove a colour");
  const coloured = (colour: string): OwnGradient => ({
    ...gradient,
    stops: gradient.stops.map((each, k) => (k === chosen ? { ...each, colour } : each)),
  });
  return (
    <Box>
      <GradientStrip
        gradient={gradient}
        chosen={chosen}
        choose={setChosen}
        add={add}
        remove={remove}
        live={live}
        store={put}
      />
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 0.5, px: 0.5 }}>
        <PlaceField
          key={`${chosen}/${stop.at}`}
          at={stop.at}
          store={(at) =>
            put(
              {
                ...gradient,
                stops: gradient.stops.map((each, k) => (k === chosen ? { ...each, at } : each)),
              },
              "Move a colour",
            )
          }
        />
        <ColourCell
          label="Colour of the stop"
          value={stop.colour}
          live={(colour) => live(coloured(colour))}
          store={(colour) => put(coloured(colour), "Change a colour")}
        />
        <Box sx={{ flex: 1 }} />
        <Tooltip title="Remove this colour">
          <span>
            <IconButton
              aria-label="Remove this colour"
              disabled={gradient.stops.length === 1}
              onClick={() => remove(chosen)}
            >
              <DeleteOutline sx={{ fontSize: 16 }} />
            </IconButton>
          </span>
        </Tooltip>
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 0.5, px: 0.5 }}>
        <Select
          value={gradient.join ?? "smooth"}
          onChange={(e) => put({ ...gradient, join: e.target.value }, "Join the colours")}
          inputProps={{ "aria-label": "Between two colours" }}
        >
          <MenuItem value="smooth">smooth</MenuItem>
          <MenuItem value="held">held to the next</MenuItem>
        </Select>
        <Select
          value={gradient.mix ?? "perceptual"}
          disabled={gradient.join === "held"}
          onChange={(e) => put({ ...gradient, mix: e.target.value }, "Mix the colours")}
          inputProps={{ "aria-label": "Mixed" }}
        >
          <MenuItem value="perceptual">even to the eye</MenuItem>
          <MenuItem value="linear">even in light</MenuItem>
        </Select>
        <Box sx={{ flex: 1 }} />
        <Tooltip title="From right to left">
          <IconButton
            aria-label="From right to left"
            onClick={() => put(reversed(gradient), "Reverse the colours")}
          >
            <SwapHoriz sx={{ fontSize: 17 }} />
          </IconButton>
        </Tooltip>
        <Tooltip title="Space them evenly">
          <IconButton
            aria-label="Space them evenly"
            onClick={() => put(spaced(gradient), "Space the colours")}
          >
            <ViewWeek sx={{ fontSize: 16 }} />
          </IconButton>
        </Tooltip>
      </Box>
      <Typography variant="caption" color="textSecondary" sx={{ display: "block", px: 0.5 }}>
        Press the strip to add a colour, drag one to move it, Delete takes it away.
      </Typography>
      <GradientShelf gradient={gradient} name={name} store={store} />
    </Box>
  );
}
