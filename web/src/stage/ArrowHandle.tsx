import { DirectionGrip, unitOf } from "./DirectionGrip";
import type { HandleProps } from "./handleProps";

/** Directions as arrows from the middle of the piece: drag a tip to turn one. */
export function ArrowHandle({ directions, triple, change, finish, size, middle }: HandleProps) {
  return directions.map((name) => (
    <DirectionGrip
      key={name}
      from={middle}
      direction={unitOf(triple(name))}
      length={size * 0.6}
      turn={(way) => change({ [name]: way })}
      onEnd={finish}
    />
  ));
}
