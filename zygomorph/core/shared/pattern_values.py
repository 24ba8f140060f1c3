"""The values of a noise pattern, shared by every step and layer that samples one."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.noise.fractal import Pattern, curl, fractal, vector_fractal_of
from zygomorph.core.values.value import SEED, Value, choice, number, vector, whole

PATTERN_VALUES: dict[str, Value] = {
    "noise": choice(
        "gradient",
        "Pattern",
        "Soft swells (gradient, simplex), blurred blocks (value), or cells around random points.",
        {
            "gradient": "gradient noise",
            "simplex": "simplex noise",
            "value": "value noise",
            "cellular": "cellular noise F1",
            "cellular_second": "cellular noise F2",
            "cellular_between": "cellular noise F2 − F1",
        },
    ),
    "fold": choice(
        "sum",
        "Folded",
        "Each octave as it is, with sharp crests, with sharp valleys, or outwards only.",
        {
            "sum": "plain",
            "ridged": "ridged",
            "billowed": "billowed",
            "turbulence": "turbulent",
        },
        idle="sum",
    ),
    "sampled": choice(
        "piece",
        "Sampled",
        "Whether the pattern stays on the stage, moves with the piece, or sticks to the surface "
        "as it was at rest.",
        {"rest": "on the rest shape", "piece": "in the piece", "space": "in space"},
        reads=(("space", "place"),),
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
    "pattern_turn": vector(
        (0.0, 0.0, 0.0),
        "Turn of pattern",
        "Turns the pattern about x, then y, then z.",
        "°",
        (-180.0, 180.0),
        main=False,
        period=360.0,
    ),
    "offset": vector(
        (0.0, 0.0, 0.0), "Offset", "Shifts the pattern.", "m", (-2.0, 2.0), main=False
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


CURL = {"curl": "curl noise"}


def with_curl(noise: Value) -> Value:
    """The choice of noise, for what can be pushed by a flow as well."""
    return replace(noise, options=(*noise.options, *CURL.items()))


def pattern_of(values: Resolved, noise: str = "", fold: str = "") -> Pattern:
    """The pattern that the values describe; noise, fold : where they leave no choice."""
    numbers = values.numbers
    return Pattern(
        noise=noise or values.discrete("noise"),
        fold=fold or values.discrete("fold"),
        size=numbers["size"],
        phase=numbers["travel"],
        period=numbers["period"],
        evolve=numbers["evolve"],
        octaves=numbers["octaves"],
        gain=numbers["gain"],
        lacunarity=numbers["lacunarity"],
        stretch=values.vector("stretch"),
        turn=values.vector("pattern_turn"),
        shift=values.vector("offset"),
        axis=values.discrete("travel_axis"),
        seed=values.count("seed"),
    )


def sampled_at(
    mesh: Mesh, values: Resolved, context: Context
) -> tuple[np.ndarray, np.ndarray | None]:
    """Where the pattern is read: (P, 3) float32 points, and the place to carry them by, if any."""
    sampled = values.discrete("sampled")
    return mesh.rest if sampled == "rest" else mesh.points, (
        context.place if sampled == "space" else None
    )


def sample_pattern(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    """The pattern at the points of a mesh, (P,) float32, without brightness and contrast."""
    points, place = sampled_at(mesh, values, context)
    return fractal(points, pattern_of(values), place)


def sample_vectors(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    """Curl noise, in the piece's axes, or three independent patterns; (P, 3) float32, without
    brightness and contrast."""
    points, place = sampled_at(mesh, values, context)
    pattern = pattern_of(values)
    if values.discrete("noise") != "curl":
        return vector_fractal_of(points, pattern, place)
    return curl(points, pattern, place)
