import { Box, Tooltip } from "@mui/material";
import { bars, costWords } from "../model/jobWords";

const PLACES = 60;
const HEIGHT = 22;

/** What each frame took, as bars. */
export function CostBars({ costs }: { costs: (number | null)[] }) {
  const said = costWords(costs);
  if (costs.length < 2 || !said) return null;
  return (
    <Tooltip title={said}>
      <Box
        role="img"
        aria-label={`What frames took: ${said}`}
        sx={{ display: "flex", alignItems: "end", gap: "1px", height: HEIGHT, width: 150 }}
      >
        {bars(costs, PLACES).map((bar, k) => (
          <Box
            key={k}
            sx={{
              flex: 1,
              height: bar === null ? "2px" : `${Math.max(8, bar * 100)}%`,
              bgcolor: bar === null ? "divider" : "roles.when",
              borderRadius: "1px",
            }}
          />
        ))}
      </Box>
    </Tooltip>
  );
}
