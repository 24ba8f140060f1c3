"""Jitter: every point goes its own way by chance; steady, in jumps, or from place to place.

Moments are dealt out evenly round the loop, so that the last leads to the first. Between them the
smooth way is a cubic through all of them: E. Catmull & R. Rom, "A Class of Local Interpolating
Splines", 1974.
"""

from __future__ import annotations

import numpy as np
from numba import float32, prange, types, uint32

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import CHUNKS, F2W, first_of, inline, kernel
from zygomorph.core.context import Context
from zygomorph.core.extent import extent_of
from zygomorph.core.mesh import Mesh
from zygomorph.core.noise.lattice import cell_hash, mixed, octave_seed, signed_unit
from zygomorph.core.normals import point_normals
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.pushing import carry, push
from zygomorph.core.values import SEED, choice, number, whole

I8 = types.Array(types.int64, 1, "C", readonly=True)
F4 = types.Array(types.float32, 1, "C", readonly=True)


@inline
def _drawn(element, moment, axis, seed):  # type: ignore[no-untyped-def]
    return signed_unit(mixed(cell_hash(uint32(element), uint32(moment), uint32(axis), seed)))


@kernel(types.void(I8, I8, F4, types.uint32, types.boolean, F2W))
def _chance(ids, moments, shares, seed, ball, out):  # type: ignore[no-untyped-def]
    """Vectors in the unit ball, or else in the cube around it, for each id, mixed from some
    moments; out : (n, 3)"""
    n = out.shape[0]
    for chunk in prange(CHUNKS):
        for p in range(first_of(chunk, n), first_of(chunk + 1, n)):
            sx = sy = sz = float32(0.0)
            for k in range(moments.shape[0]):
                x = _drawn(ids[p], moments[k], 0, seed)
                y = _drawn(ids[p], moments[k], 1, seed)
                z = _drawn(ids[p], moments[k], 2, seed)
                share = shares[k]
                if ball:
                    # The cube drawn in along its rays until it is the ball.
                    length = np.sqrt(x * x + y * y + z * z)
                    largest = max(abs(x), max(abs(y), abs(z)))
                    share = share * largest / max(length, float32(1e-12))
                sx += share * x
                sy += share * y
                sz += share * z
            out[p, 0], out[p, 1], out[p, 2] = sx, sy, sz


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
        context.frame, context.loop.frames, values.count("hold"), values.word("way")
    )
    ways = np.empty((len(mesh.points), 3), np.float32)
    ids = np.ascontiguousarray(mesh.ids("point"), np.int64)
    every = values.word("along") == "every"
    _chance(ids, moments, shares, octave_seed(values.count("seed"), 0), every, ways)
    amount = values.array("amount")
    if every:
        return mesh.moved(carry(mesh.points, ways, amount, weights))
    height = np.ascontiguousarray(ways[:, 0])
    return mesh.moved(push(mesh.points, point_normals(mesh), height, amount, weights))


def suggest(mesh: Mesh) -> dict[str, float]:
    found = extent_of(mesh)
    return {"amount": found.share(0.02)} if found else {}


DEFINITION = Definition(
    sort="step",
    key="jitter",
    title="Jitter",
    group="push",
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
    each=frozenset({"amount"}),
    version=2,
    by_time=lambda words: words["way"] != "steady",
    jumps=lambda words: words["way"] == "held",
    suggest=suggest,
    order=80,
)
