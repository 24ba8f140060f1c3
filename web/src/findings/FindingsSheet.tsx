import FlagOutlined from "@mui/icons-material/FlagOutlined";
import { Box, Button, Typography } from "@mui/material";
import type { Operation, StudyState } from "../api/client";
import { markerAt, documentOf } from "../api/document";
import { useEdit } from "../common/edits";
import { SideSheet } from "../common/SideSheet";
import { useParts } from "../common/store/store";
import { useFindings, type Finding } from "./useFindings";

/** Findings, each with its place, its reason, and what would mend it. */
export function FindingsSheet({ state }: { state: StudyState }) {
  const { sheet } = useParts("sheet");
  const found = useFindings(state.id, state.revision);
  if (sheet !== "findings") return null;
  const all = found.data ?? [];
  const open = all.filter((f) => !f.intended);
  const meant = all.filter((f) => f.intended);
  return (
    <SideSheet title="Findings">
      {open.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
          {found.isError
            ? "The findings could not be read. They are asked for again after the next edit."
            : "Nothing was noticed. What looks like a mistake is told here, after every edit."}
        </Typography>
      )}
      {open.map((finding) => (
        <FindingCard key={finding.id} state={state} finding={finding} />
      ))}
      {meant.length > 0 && (
        <Typography variant="caption" color="textSecondary" sx={{ display: "block", mb: 0.5 }}>
          Meant so
        </Typography>
      )}
      {meant.map((finding) => (
        <FindingCard key={finding.id} state={state} finding={finding} />
      ))}
    </SideSheet>
  );
}

function FindingCard({ state, finding }: { state: StudyState; finding: Finding }) {
  const { set } = useParts("set");
  const edit = useEdit(state.id);
  const document = documentOf(state);
  const motion = state.motion.find((m) => m.id === finding.piece);
  const index = motion?.steps.findIndex((s) => s.id === finding.step) ?? -1;
  const marker = markerAt(document, finding.address);
  const place = [
    marker?.name,
    document.pieces.length > 1 && document.pieces.find((p) => p.id === finding.piece)?.name,
    index >= 0 && `${index + 1} ${motion!.steps[index].title}`,
  ]
    .filter(Boolean)
    .join(", ");
  const show = () =>
    set({
      ...(marker ? { marker: marker.id } : { piece: finding.piece }),
      ...(finding.step ? { step: finding.step } : {}),
      ...(finding.layer ? { ribbon: "where", layer: finding.layer } : {}),
      ...(finding.address && !finding.layer && finding.frame !== null
        ? { ribbon: "when" as const }
        : {}),
      ...(finding.frame === null ? {} : { frame: Math.round(finding.frame), playing: false }),
    });
  const intend = () => {
    const ids = document.intended ?? [];
    const next = finding.intended ? ids.filter((id) => id !== finding.id) : [...ids, finding.id];
    edit.mutate({
      label: finding.intended ? "Not meant so" : "Meant so",
      operations: [{ do: "set", path: "/intended", value: next as never }],
    });
  };
  const { fix } = finding;
  return (
    <Box
      data-finding={finding.kind}
      sx={{
        py: 1,
        borderTop: "1px solid",
        borderColor: "divider",
        opacity: finding.intended ? 0.7 : 1,
      }}
    >
      <Typography
        variant="body2"
        sx={{ fontWeight: 600, display: "flex", gap: 0.75, alignItems: "flex-start" }}
      >
        <FlagOutlined
          sx={{ fontSize: 17, mt: 0.2, color: finding.intended ? "text.secondary" : "roles.amber" }}
        />
        {finding.title}
      </Typography>
      {place && (
        <Button
          onClick={show}
          sx={{ p: 0, minWidth: 0, color: "text.secondary", textDecoration: "underline dotted" }}
        >
          {place}
          {finding.frame === null ? "" : `, frame ${Math.round(finding.frame)}`}
        </Button>
      )}
      <Typography variant="body2" color="textSecondary" sx={{ my: 0.5 }}>
        {finding.reason}
      </Typography>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        {fix && !finding.intended && (
          <Button
            variant="outlined"
            onClick={() =>
              edit.mutate({
                label: fix.label,
                operations: fix.operations as unknown as Operation[],
              })
            }
            sx={{ py: 0 }}
          >
            {fix.label}
          </Button>
        )}
        <Button onClick={intend} sx={{ py: 0, color: "text.secondary" }}>
          {finding.intended ? "Not meant so" : "Meant so"}
        </Button>
      </Box>
    </Box>
  );
}
