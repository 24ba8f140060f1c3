"""Values that several ways of making copies have in common."""

from __future__ import annotations

from zygomorph.core.values.value import SEED, Value, number, vector

UNEVEN_VALUES: dict[str, Value] = {
    "smallest": number(
        100.0,
        "Smallest",
        "Sizes by chance, from this to 100.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 1000.0),
        idle=100.0,
    ),
    "turned": vector(
        (0.0, 0.0, 0.0),
        "Turned by chance",
        "Up to so far either way, about x, then y, then z.",
        "°",
        (0.0, 180.0),
        idle=[0.0] * 3,
        main=False,
    ),
    "seed": SEED,
}
