import { InputBase } from "@mui/material";
import type { OwnLane } from "./ownLanes";

/** Whether a lane's step, name or signal has what is looked for. */
export function laneMatches({ number, lane }: OwnLane, wanted: string): boolean {
  const said = `${number} ${lane.label} ${lane.signal}`.toLowerCase();
  return wanted
    .toLowerCase()
    .split(" ")
    .every((word) => said.includes(word));
}

/** Lanes found by typing. */
export function LaneFilter(props: { wanted: string; change: (wanted: string) => void }) {
  return (
    <InputBase
      value={props.wanted}
      placeholder="find a lane"
      onChange={(e) => props.change(e.target.value)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Escape") props.change("");
      }}
      inputProps={{ "aria-label": "Find a lane" }}
      sx={{
        position: "absolute",
        left: 12,
        top: 4,
        width: 138,
        fontSize: 12.5,
        "& input": { p: 0 },
        borderBottom: "1px solid",
        borderColor: "divider",
      }}
    />
  );
}
