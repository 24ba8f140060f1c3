import { Box } from "@mui/material";
import { Playhead } from "./Playhead";
import { SCRUBBED, useScrub } from "./useScrub";

interface Props {
  frames: number;
  /** Continue the playhead of the lanes above. */
  marked: boolean;
}

/** What is left of the strip below its lanes: pressing and dragging there moves the playhead too. */
export function StripGround({ frames, marked }: Props) {
  const scrub = useScrub(frames);
  return (
    <Box
      {...scrub}
      data-testid="strip-ground"
      sx={{ flex: "1 0 0", ml: "166px", mr: "16px", position: "relative", ...SCRUBBED }}
    >
      {marked && <Playhead frames={frames} />}
    </Box>
  );
}
