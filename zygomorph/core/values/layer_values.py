"""Values that every mask layer has besides its own: how it falls off, blends, and remembers."""

from __future__ import annotations

from zygomorph.core.values.value import Value, choice, curve, number, switch, whole

_REMEMBERS = ("stays", "fades", "spreads")

MEMORY_VALUES: dict[str, Value] = {
    "memory": choice(
        "none",
        "Memory",
        "What happens where the weight has been.",
        {
            "none": "remembers nothing",
            "stays": "once reached it stays",
            "fades": "fades when it is gone",
            "spreads": "spreads from where it was",
        },
        main=False,
        idle="none",
    ),
    "fade": whole(
        24,
        "Fades over",
        "How long it takes from 1 to 0.",
        (1, 120),
        "frames",
        hard=(1, 100_000),
        moves=False,
        shown_when=("memory", ("fades",)),
    ),
    "speed": number(
        0.5,
        "Speed",
        "How fast it spreads along the surface at rest.",
        "m/s",
        (0.02, 4.0),
        scale="log",
        hard=(0.0, 1e6),
        moves=False,
        shown_when=("memory", ("spreads",)),
    ),
    "rim": number(
        0.1,
        "Rim",
        "From weight 0 to weight 1 where it spreads.",
        "m",
        (0.01, 1.0),
        hard=(1e-6, 1e6),
        moves=False,
        shown_when=("memory", ("spreads",)),
    ),
    "begins": choice(
        "empty",
        "Begins",
        "What it knows at frame 0; one loop ahead, what fades within a loop closes.",
        {"empty": "with nothing", "ahead": "one loop ahead"},
        shown_when=("memory", _REMEMBERS),
    ),
}

LAYER_VALUES: dict[str, Value] = {
    "profile": choice(
        "smooth",
        "Profile",
        "How the weight falls off.",
        {
            "hard": "hard",
            "linear": "linear",
            "smooth": "smooth",
            "smoother": "smoother",
            "power": "power",
            "curve": "drawn curve",
        },
    ),
    "power": number(
        2.0,
        "Power",
        "Above 1 hugs the far side, below 1 the near side.",
        "",
        (0.2, 5.0),
        hard=(0.01, 100.0),
        scale="log",
        shown_when=("profile", ("power",)),
    ),
    "curve": curve(
        [[0.0, 0.0], [0.3, 0.75], [0.6, 0.35], [1.0, 1.0]],
        "Curve",
        "Drawn from outside, on the left, to inside.",
        shown_when=("profile", ("curve",)),
    ),
    "blend": choice(
        "multiply",
        "Blend",
        "How it joins the layers above it.",
        {
            "multiply": "multiply",
            "add": "add",
            "subtract": "subtract",
            "lighten": "lighten",
            "darken": "darken",
            "replace": "replace",
        },
    ),
    "strength": number(
        100.0,
        "Strength",
        "How much of this layer takes part.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 100.0),
        each=True,
    ),
    "invert": switch(False, "Invert", "Where it was 1 it is 0, and the other way round."),
    "read": choice(
        "points",
        "Read on",
        "Each point has a weight of its own, or all of a face, shard, copy or curve have one.",
        {
            "points": "each point",
            "faces": "each face",
            "shards": "each shard",
            "copies": "each copy",
            "curves": "each curve",
        },
        main=False,
        idle="points",
    ),
    **MEMORY_VALUES,
}

# Looks are worked out for each picture by itself, so that their layers know of none before it; the
# mask of a step can remember, and be stored for a look to read.
LOOK_LAYER_VALUES: dict[str, Value] = {
    name: value for name, value in LAYER_VALUES.items() if name not in MEMORY_VALUES
}
