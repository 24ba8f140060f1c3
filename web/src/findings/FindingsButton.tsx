import FlagOutlined from "@mui/icons-material/FlagOutlined";
import { Button } from "@mui/material";
import type { StudyState } from "../api/client";
import { useParts } from "../common/store/store";
import { ICON_WHERE_NARROW, WideOnly } from "../common/WideOnly";
import { useFindings } from "./useFindings";

/** How many findings there are that are not meant so; opens their sheet. */
export function FindingsButton({ state }: { state: StudyState }) {
  const { sheet, set } = useParts("sheet", "set");
  const found = useFindings(state.id, state.revision).data ?? [];
  const count = found.filter((f) => !f.intended).length;
  return (
    <Button
      variant="outlined"
      startIcon={<FlagOutlined />}
      aria-pressed={sheet === "findings"}
      onClick={() => set({ sheet: sheet === "findings" ? null : "findings" })}
      sx={{ color: count ? "roles.amber" : "text.secondary", ...ICON_WHERE_NARROW }}
    >
      <WideOnly>
        {count === 0 ? "No findings" : count === 1 ? "1 finding" : `${count} findings`}
      </WideOnly>
    </Button>
  );
}
