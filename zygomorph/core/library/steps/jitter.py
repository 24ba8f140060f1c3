"""Jitter: every point goes its own way by chance; steady, in jumps, or from place to place.

Moments are dealt out evenly round the loop, so that the last leads to the first. Between them the
smooth way is a cubic through all of them: E. Catmull & R. Rom, "A Class of Local Interpolating
Splines", 1974.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.along_directions import carry, push
from zygomorph.core.kernels.deform.jitter import chance
from zygomorph.core.kernels.noise.lattice import octave_seed
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import SEED, choice, number, whole


def moments_at(frame: float, frames: int, hold: int, way: str) -> tuple[np.ndarray, np.ndarray]:
    """Which moments take part at a frame, int64, and their shares, float32.

    hold : frames a moment lasts, about; their number round the loop is whole
    """
    if way == "steady":
        return np.zeros(1, np.int64), np.ones(1, np.float32)
    count = max(1, round(frames / hold))
    place = frame % frames * count / frames
    first = int(place)
    if way == "held":
        return np.array([first % count]), np.ones(1, np.float32)
    t = place - first
    # Between two moments the shares add up to as much as 1.25 without their signs, at the middle.
    shares = [
        -0.5 * t**3 + t**2 - 0.5 * t,
        1.5 * t**3 - 2.5 * t**2 + 1,
        -1.5 * t**3 + 2 * t**2 + 0.5 * t,
        0.5 * t**3 - 0.5 * t**2,
    ]
    return np.arange(first - 1, first + 3) % count, np.array(shares, np.float32) / np.float32(1.25)


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    moments, shares = moments_at(
        context.frame, context.loop.frames, values.count("hold"), values.discrete("way")
    )
    ways = np.empty((len(mesh.points), 3), np.float32)
    ids = np.ascontiguousarray(mesh.ids("point"), np.int64)
    every = values.discrete("along") == "every"
    chance(ids, moments, shares, octave_seed(values.count("seed"), 0), every, ways)
    amount = values.array("amount")
    if every:
        return mesh.moved(carry(mesh.points, ways, amount, weights))
    height = np.ascontiguousarray(ways[:, 0])
    return mesh.moved(push(mesh.points, point_normals(mesh), height, amount, weights))


def suggest(mesh: Mesh) -> dict[str, float]:
    found = extent_of(mesh)
    return {"amount": found.share(0.02)} if found else {}


DEFINITION = DeformDefinition(
    key="jitter",
    title="Jitter",
    group=PUSH,
    help="Moves every point by chance: once, in jumps, or softly from place to place.",
    also=("shake", "scatter", "random", "noise", "tremble", "crumple"),
    values={
        "amount": number(0.03, "Amount", "How far a point goes at most.", "m", (0.0, 0.3)),
        "along": choice(
            "every",
            "Along",
            "The way each point goes.",
            {"every": "every way", "normal": "the normals"},
        ),
        "way": choice(
            "smooth",
            "In time",
            "One place for the whole loop, jumps, or soft ways between the places.",
            {"steady": "steady", "held": "held in jumps", "smooth": "smooth"},
        ),
        "hold": whole(
            12,
            "Every",
            "How long until the next place; a whole number of times in the loop.",
            (1, 60),
            "frames",
            hard=(1, 100_000),
            shown_when=("way", ("held", "smooth")),
        ),
        "seed": SEED,
    },
    sentence="Jitter by {amount}, {way}",
    apply=apply,
    per_element=frozenset({"amount"}),
    version=2,
    by_time=lambda words: words["way"] != "steady",
    jumps=lambda words: words["way"] == "held",
    suggest=suggest,
    amounts=("amount",),
    # Chance goes by numbers of points, which stay.
    pointwise=True,
    specimen=Specimen(values={"amount": 0.06, "hold": 12}),
    order=80,
)
