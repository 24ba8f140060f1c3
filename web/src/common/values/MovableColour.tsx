import { Box, Tooltip } from "@mui/material";
import { isMovingColour, isSignal, type DocValue } from "../../api/document";
import { startMovingColour } from "../../model/movingColour";
import { PlainButton } from "../PlainButton";
import { ColourCell } from "./ColourCell";
import { GradientCell } from "./gradient/GradientCell";
import { MoveButton } from "./MoveButton";

interface Props {
  value: DocValue;
  label: string;
  live: (value: DocValue) => void;
  store: (value: DocValue, label?: string) => void;
  openSignal?: () => void;
}

/** One colour, or, where it moves, the colours that it goes through; the signal says where it is. */
export function MovableColour({ value, label, live, store, openSignal }: Props) {
  const moves = isMovingColour(value);
  return (
    <>
      <Box sx={{ flex: 1, minWidth: 0, display: "flex", alignItems: "center", gap: 0.75 }}>
        {moves ? (
          <>
            <GradientCell
              value={value.gradient}
              label={label}
              live={(gradient) => live({ ...value, gradient } as DocValue)}
              store={(gradient, words) => store({ ...value, gradient } as DocValue, words)}
            />
            <Tooltip title="Make it one colour">
              <PlainButton
                aria-label={`Make it one colour: ${label}`}
                onClick={() => store(firstOf(value.gradient), `One ${label.toLowerCase()}`)}
                sx={{ cursor: "pointer", color: "text.secondary", px: 0.5 }}
              >
                ×
              </PlainButton>
            </Tooltip>
          </>
        ) : (
          <ColourCell
            value={String(value)}
            label={label}
            live={(v) => live(v)}
            store={(v) => store(v)}
          />
        )}
      </Box>
      {openSignal && (
        <MoveButton
          label={label}
          moving={moves && isSignal(value.at)}
          onClick={() => {
            if (!moves || !isSignal(value.at))
              store(startMovingColour(value) as DocValue, `Move ${label.toLowerCase()}`);
            openSignal();
          }}
        />
      )}
    </>
  );
}

function firstOf(gradient: DocValue): string {
  if (typeof gradient === "object" && "stops" in gradient) {
    const stops = [...(gradient.stops as { at: number; colour: string }[])];
    return stops.sort((a, b) => a.at - b.at)[0].colour;
  }
  return "#888888";
}
