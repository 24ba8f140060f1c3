import { Box } from "@mui/material";
import { useEffect, type ReactNode } from "react";
import { Group, Panel, Separator, usePanelRef } from "react-resizable-panels";
import { useInterface } from "../common/store/store";
import { useStripHeight } from "./strip";

/** Least and most pixels. */
const RECIPE = [320, 620] as const;
const STRIP = [140, 420] as const;

// What is in a panel fills it.
const FILLED = { display: "grid", gridTemplate: "minmax(0, 1fr) / minmax(0, 1fr)", minHeight: 0 };

/** The recipe on the left, the stage on the right, the time strip under both; each edge is dragged,
 * or moved by the arrow keys. */
export function Regions(props: { recipe: ReactNode; stage: ReactNode; strip: ReactNode }) {
  const sizes = useInterface.getState().sizes;
  const height = useStripHeight();
  const strip = usePanelRef();
  // Curves take room while they are open, and give it back.
  useEffect(() => strip.current?.resize(height), [strip, height]);
  const note = (name: keyof typeof sizes) => (size: { inPixels: number }) => {
    const { sizes: now, curve, set } = useInterface.getState();
    const pixels = Math.round(size.inPixels);
    if (pixels === now[name] || (name === "strip" && curve !== null)) return;
    set({ sizes: { ...now, [name]: pixels } });
  };
  return (
    <Group orientation="vertical" resizeTargetMinimumSize={TAKEN}>
      <Panel minSize={160} style={FILLED}>
        <Group orientation="horizontal" resizeTargetMinimumSize={TAKEN}>
          <Panel
            defaultSize={sizes.recipe}
            minSize={RECIPE[0]}
            maxSize={RECIPE[1]}
            groupResizeBehavior="preserve-pixel-size"
            onResize={note("recipe")}
            style={FILLED}
          >
            {props.recipe}
          </Panel>
          <Edge label="Width of the recipe" />
          <Panel minSize={200} style={FILLED}>
            {props.stage}
          </Panel>
        </Group>
      </Panel>
      <Edge label="Height of the time strip" />
      <Panel
        panelRef={strip}
        defaultSize={height}
        minSize={STRIP[0]}
        maxSize={STRIP[1]}
        groupResizeBehavior="preserve-pixel-size"
        onResize={note("strip")}
        style={FILLED}
      >
        {props.strip}
      </Panel>
    </Group>
  );
}

const WIDTH = 6;
// A finger needs more; what stands beside an edge keeps the rest for itself.
const TAKEN = { fine: WIDTH, coarse: 20 };

/** Between two regions; it is seen where the pointer or the keyboard is on it. */
function Edge({ label }: { label: string }) {
  return (
    <Box
      component={Separator}
      aria-label={label}
      sx={{
        position: "relative",
        zIndex: 3,
        // As wide as what the pointer finds, without taking room.
        "&[aria-orientation=vertical]": { width: WIDTH, mx: `${-WIDTH / 2}px` },
        "&[aria-orientation=horizontal]": { height: WIDTH, my: `${-WIDTH / 2}px` },
        "&:hover, &:focus-visible, &[data-separator=active]": {
          bgcolor: "roles.what",
          opacity: 0.35,
        },
      }}
    />
  );
}
