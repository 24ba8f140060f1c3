"""The values of a noise pattern, shared by every step and layer that samples one."""

from __future__ import annotations

import numpy as np

from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.noise.fractal import Pattern, fractal
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import SEED, Value, choice, number, vector, whole

PATTERN_VALUES: dict[str, Value] = {
    "noise": choice(
        "gradient",
        "Pattern",
        "Soft swells, or sharp crests between round valleys.",
        {"gradient": "gradient noise", "ridged": "ridged noise"},
    ),
    "sampled": choice(
        "piece",
        "Sampled",
        "Whether the pattern stays on the stage, moves with the piece, or sticks to the surface "
        "as it was at rest.",
        {"rest": "on the rest shape", "piece": "in the piece", "space": "in space"},
    ),
    "size": number(
        0.5, "Size", "Size of the largest swells.", "m", (0.05, 5.0), scale="log", hard=(1e-4, 1e6)
    ),
    "octaves": number(
        4.0,
        "Octaves",
        "Layers of finer and finer detail; a fraction fades the last one in.",
        "",
        (1.0, 8.0),
        hard=(1.0, 12.0),
    ),
    "travel": number(
        0.0,
        "Travel",
        "How far the pattern has moved along its axis; each whole cycle looks the same.",
        "cycle",
        (0.0, 1.0),
    ),
    "evolve": number(
        0.0,
        "Evolve",
        "The pattern changes in place; each whole cycle looks the same.",
        "cycle",
        (0.0, 1.0),
    ),
    "gain": number(
        0.5,
        "Gain",
        "Strength of each octave against the one before.",
        "×",
        (0.1, 0.9),
        hard=(0.0, 2.0),
        main=False,
    ),
    "lacunarity": number(
        2.0,
        "Lacunarity",
        "Fineness of each octave against the one before.",
        "×",
        (1.5, 3.0),
        hard=(1.0, 8.0),
        main=False,
    ),
    "stretch": vector(
        (1.0, 1.0, 1.0),
        "Stretch",
        "Longer swells along an axis.",
        "×",
        (0.2, 5.0),
        hard=(1e-3, 1e3),
        main=False,
    ),
    "travel_axis": choice(
        "y",
        "Travels along",
        "The axis along which the pattern moves.",
        {"x": "x", "y": "y", "z": "z"},
        main=False,
    ),
    "period": whole(
        8,
        "Repeats after",
        "Sizes after which the pattern repeats along its axis; one cycle of travel goes this far.",
        (2, 32),
        "sizes",
        hard=(1, 4096),
        main=False,
    ),
    "brightness": number(
        0.0,
        "Brightness",
        "Adds to the pattern, which goes from -1 to 1; 1 makes it push out only.",
        "",
        (-1.0, 1.0),
        main=False,
    ),
    "contrast": number(1.0, "Contrast", "Multiplies the pattern.", "×", (0.0, 3.0), main=False),
    "seed": SEED,
}


def sample_pattern(
    mesh: Mesh, values: Resolved, context: Context, component: int = 0
) -> np.ndarray:
    """The pattern at the points of a mesh, (P,) float32, without brightness and contrast.

    component : another whole number gives an independent pattern (for vectors)
    """
    sampled = values.word("sampled")
    points = mesh.rest if sampled == "rest" else mesh.points
    pattern = Pattern(
        size=values.numbers["size"],
        phase=values.numbers["travel"],
        period=values.numbers["period"],
        evolve=values.numbers["evolve"],
        octaves=values.numbers["octaves"],
        gain=values.numbers["gain"],
        lacunarity=values.numbers["lacunarity"],
        stretch=values.vector("stretch"),
        axis=values.word("travel_axis"),
        seed=values.count("seed") * 4 + component,
        ridged=values.word("noise") == "ridged",
    )
    return fractal(points, pattern, context.place if sampled == "space" else None)
