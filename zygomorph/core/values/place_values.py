"""The values of the place of a piece or a marker on the stage."""

from __future__ import annotations

from zygomorph.core.values.value import Value, vector

PLACE_VALUES: dict[str, Value] = {
    "move": vector((0.0, 0.0, 0.0), "Move", "Where the piece stands on the stage.", idle=[0.0] * 3),
    "turn": vector(
        (0.0, 0.0, 0.0),
        "Turn",
        "Turned about x, then y, then z.",
        "°",
        (-180.0, 180.0),
        idle=[0.0] * 3,
        period=360.0,
    ),
    "scale": vector(
        (1.0, 1.0, 1.0), "Scale", "Larger or smaller by axis.", "×", (0.1, 3.0), idle=[1.0] * 3
    ),
}
# A marker is a place without a size; what it carries keeps its own.
MARKER_VALUES = {name: PLACE_VALUES[name] for name in ("move", "turn")}
