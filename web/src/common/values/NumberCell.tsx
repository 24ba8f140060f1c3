import { isPair, isSignal, type DocValue, type Scalar } from "../../api/document";
import { withKey } from "../../model/keyed";
import { laneValue } from "../../model/lanes";
import { startMoving } from "../../model/signals";
import { beforeStill } from "../../model/stilled";
import { useInterface } from "../store/store";
import { MoveButton } from "./MoveButton";
import { Ruler } from "./Ruler";
import type { ValueProps } from "./valueProps";

/** A number that may move: its ruler, and the wave that makes it move. */
export function NumberCell(props: ValueProps & { scalar: Scalar; compact?: boolean }) {
  const { entry, scalar, frames, rate } = props;
  const quality = useInterface((s) => s.quality);
  const pair = isPair(scalar);
  const inner: Scalar = pair ? scalar[quality] : scalar;
  const moving = isSignal(inner);
  // What stands still is not rendered at every frame of a loop that plays.
  const frame = useInterface((s) => (moving ? s.frame : 0));
  const lane = props.lanes.find((l) => l.path === props.path);
  const now = moving ? (laneValue(lane, frame, frames) ?? Number(entry.default)) : Number(inner);
  const wrap = (v: Scalar): DocValue => (pair ? { ...scalar, [quality]: v } : v);
  const changed = !moving && now !== entry.default;
  const keyed = isSignal(inner) && inner.keys !== undefined;
  const said = entry.label.toLowerCase();
  const move = () => {
    if (moving) return props.openSignal?.();
    const signal = beforeStill(props.address) ?? startMoving(now, entry);
    props.store(wrap(signal), `Move ${said}`);
  };
  const store = (v: number) => {
    if (!keyed) return props.store(wrap(v), `Set ${said}`);
    // At a whole frame, on which keys stand.
    const at = Math.round(frame) % (frames + 1);
    props.store(wrap(withKey(inner, at, v)), `Key ${said}`);
  };
  return (
    <>
      <Ruler
        entry={entry}
        label={entry.label}
        value={now}
        moving={moving}
        keyed={keyed}
        name={props.name}
        range={lane && moving ? [Math.min(...lane.samples), Math.max(...lane.samples)] : undefined}
        changed={changed}
        tone={props.tone}
        rate={rate}
        compact={props.compact}
        onLive={(v) => props.live(wrap(v))}
        onStore={store}
        onOpenSignal={props.openSignal}
      />
      {entry.moves && !props.compact && (
        <MoveButton moving={moving} label={entry.label} onClick={move} />
      )}
    </>
  );
}
