"""Repeating bands: straight, round a point, round an axis, or as spokes about it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.noise.fractal import Pattern, fractal
from zygomorph.core.masking.local_axes import axis_rows, measure
from zygomorph.core.masking.measured import MEASURED, measured_points
from zygomorph.core.masking.solid_values import axis, box_of_mesh, centre, rounded
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.grips import reach, spot
from zygomorph.core.values.groups import REPEATING
from zygomorph.core.values.value import SEED, choice, number, whole

LIES = {
    "along": "straight across the axis",
    "from_centre": "round the centre",
    "from_axis": "round the axis",
    "turn": "as spokes about the axis",
}


def _bent(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    """How far each point's place among the bands is shifted by noise, in bands, (P,) or (1,)."""
    amount = values.array("distortion") / np.float32(100)
    if not amount.any():
        return np.zeros(1, np.float32)
    one = np.ones(1)
    pattern = Pattern(
        noise="gradient",
        fold="sum",
        size=values.numbers["distortion_size"],
        phase=np.zeros(1),
        period=8 * one,
        evolve=values.numbers["evolve"],
        octaves=2 * one,
        gain=0.5 * one,
        lacunarity=2 * one,
        stretch=np.ones(3),
        turn=np.zeros(3),
        shift=np.zeros(3),
        axis="y",
        seed=values.count("seed"),
    )
    return amount * fractal(measured_points(mesh, values, context), pattern)


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    lies = values.discrete("lies")
    way = measure(lies, mesh, values, context, axis_rows(values))
    if lies == "turn":
        place = way * np.float32(values.count("spokes"))
    else:
        place = way / np.maximum(values.array("spacing"), np.float32(1e-6))
    # One cycle moves each band to where the next one was.
    place = place + _bent(mesh, values, context) - values.cycles("travel")
    place -= np.floor(place)
    share = values.array("share") / np.float32(100)
    soft = np.maximum(np.float32(1) - values.array("hardness") / np.float32(100), np.float32(1e-3))
    height = np.float32(1) - np.abs(np.float32(2) * place - np.float32(1))
    return np.float32(0.5) + (height - (np.float32(1) - share)) / soft


def suggest(mesh: Mesh) -> dict[str, object]:
    found = box_of_mesh(mesh)
    if found is None:
        return {}
    middle, size = found
    along = int(size.argmax())
    return {
        "centre": rounded(middle),
        "axis": np.eye(3)[along].tolist(),
        "spacing": round(float(size.max()) / 5, 3) or 0.2,
    }


_LENGTHS = ("lies", ("along", "from_centre", "from_axis"))

DEFINITION = MaskDefinition(
    key="bands",
    title="Bands",
    group=REPEATING,
    help="Bands that repeat: straight, round a point, round an axis, or as spokes.",
    also=("stripes", "rings", "repeat", "lines"),
    values={
        "lies": choice("along", "Lie", "How the bands lie.", LIES),
        "spacing": number(
            0.25,
            "Spacing",
            "From one band to the next.",
            "m",
            (0.02, 2.0),
            hard=(1e-4, 1e6),
            scale="log",
            shown_when=_LENGTHS,
        ),
        "spokes": whole(
            6,
            "Spokes",
            "Bands once round.",
            (1, 24),
            hard=(1, 10_000),
            shown_when=("lies", ("turn",)),
        ),
        "share": number(
            50.0,
            "Share",
            "How much of the way from band to band a band takes.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
        ),
        "hardness": number(
            0.0,
            "Hardness",
            "0 swells softly, 100 has hard edges.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
        ),
        "travel": number(
            0.0,
            "Travel",
            "How far the bands have moved; one cycle is one band, and closes a loop.",
            "cycle",
            (0.0, 1.0),
        ),
        "distortion": number(
            0.0, "Distortion", "How far noise bends them, in bands.", "%", (0.0, 100.0)
        ),
        "centre": centre("the bands"),
        "axis": axis("Across straight bands, or what the others lie round."),
        "distortion_size": number(
            0.5,
            "Size of distortion",
            "Size of its swells.",
            "m",
            (0.05, 5.0),
            scale="log",
            hard=(1e-4, 1e6),
            main=False,
        ),
        "evolve": number(
            0.0,
            "Evolve",
            "The distortion changes in place; each whole cycle looks the same.",
            "cycle",
            (0.0, 1.0),
            main=False,
        ),
        "measured": MEASURED,
        "seed": SEED,
    },
    version=2,
    sentence="bands {lies}",
    apply=apply,
    per_element=frozenset(
        {"spacing", "share", "hardness", "travel", "distortion", "distortion_size", "evolve"}
    ),
    reach="pointwise",
    suggest=suggest,
    handle="bands",
    grips=(spot("centre"), reach("spacing", "axis", "centre")),
    order=32,
)
