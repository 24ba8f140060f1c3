"""Rings: height cos 2π(ρ / λ - φ) at the distance ρ = √(r² + s²) from a centre.

The softness s keeps the surface smooth at the centre, where a cosine of r alone would have a
spike once it travels. A source at the height h over a sheet has the distance √(r² + h²) (3D).
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F1W, F2, first_of, kernel, load
from zygomorph.core.context import Context
from zygomorph.core.exponential import exponential
from zygomorph.core.extent import extent_of
from zygomorph.core.grips import X, Z, reach
from zygomorph.core.mesh import Mesh
from zygomorph.core.noise.fractal import Pattern, fractal
from zygomorph.core.noise.lattice import floor_to_int
from zygomorph.core.normals import point_normals
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import unit
from zygomorph.core.steps.pushing import ONE, ZERO, push
from zygomorph.core.trigonometry import sine_cosine
from zygomorph.core.triples import apart
from zygomorph.core.values import SEED, choice, direction, number, vector

TURN = float32(2 * np.pi)
# Rows of the kernel's values, each (1,) or (P,).
ROWS = ("amplitude", "wavelength", "phase", "decay", "front", "packet", "softness", "distortion")


@kernel(types.void(F2, F1, F1, F1, F1, F1, F1, F1, F1, F1, F1, F1, F1W))
def _rings(  # type: ignore[no-untyped-def]
    points,
    centre,
    level,
    amplitude,
    wavelength,
    phase,
    decay,
    front,
    packet,
    softness,
    distortion,
    pattern,
    out,
):
    """level : the axis that takes no part in the distance, or zero; pattern : (1,) or (P,)"""
    n = points.shape[0]
    flat = points.reshape(-1)
    blocks = (n + BLOCK - 1) // BLOCK
    cx, cy, cz = centre[0], centre[1], centre[2]
    ax, ay, az = level[0], level[1], level[2]
    one = float32(1.0)
    fades = np.any(decay != 0.0)
    packed = np.any(packet != 0.0)
    for chunk in prange(CHUNKS):
        work = np.empty((8, BLOCK), np.float32)
        x, y, z, far, soft, first, second, away = (
            work[0],
            work[1],
            work[2],
            work[3],
            work[4],
            work[5],
            work[6],
            work[7],
        )
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            apart(flat, lo, m, x, y, z)
            load(softness, lo, m, soft)
            for i in range(m):
                u, v, w = x[i] - cx, y[i] - cy, z[i] - cz
                along = u * ax + v * ay + w * az
                u, v, w = u - along * ax, v - along * ay, w - along * az
                square = u * u + v * v + w * w
                away[i] = np.sqrt(square)
                far[i] = np.sqrt(square + soft[i] * soft[i])
            load(distortion, lo, m, first)
            load(pattern, lo, m, second)
            for i in range(m):
                bent = first[i] * second[i]
                far[i] = far[i] + bent
                away[i] = max(away[i] + bent, float32(0.0))
            load(wavelength, lo, m, first)
            load(phase, lo, m, second)
            for i in range(m):
                cycles = far[i] / first[i] - second[i]
                # Whole cycles away first: a cosine of a large angle has lost its digits.
                _, c = sine_cosine(TURN * (cycles - float32(floor_to_int(cycles))))
                x[i] = c
            load(amplitude, lo, m, first)
            for i in range(m):
                result[i] = x[i] * first[i]
            if fades:
                load(decay, lo, m, first)
                for i in range(m):
                    result[i] = result[i] * exponential(-first[i] * away[i])
            if packed:
                load(front, lo, m, first)
                load(packet, lo, m, second)
                for i in range(m):
                    t = min(abs(away[i] - first[i]) / max(second[i], float32(1e-6)), one)
                    # A Hann window: exactly nothing outside, and no corner where it ends.
                    _, c = sine_cosine(TURN * float32(0.5) * t)
                    share = float32(0.5) + float32(0.5) * c if t < one else float32(0.0)
                    result[i] = result[i] * (share if second[i] > float32(0.0) else one)


def rings(
    points: np.ndarray,
    centre: np.ndarray,
    level: np.ndarray,
    rows: dict[str, np.ndarray],
    pattern: np.ndarray = ZERO,
) -> np.ndarray:
    """Heights of rings, (P,) float32 m.

    points : (P, 3) float32; centre : (3,); level : (3,) unit axis that takes no part in the
    distance, or zero for the distance in space; rows : (1,) or (P,) float32 by name of ROWS
    """
    out = np.empty(len(points), np.float32)
    given = [np.asarray(rows[name], np.float32) for name in ROWS]
    _rings(points, centre.astype(np.float32), level.astype(np.float32), *given, pattern, out)
    return out


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    up = unit(values.vector("axis"))
    rows = {name: values.array(name) for name in ROWS if name != "phase"}
    rows["phase"] = values.cycles("phase")
    pattern = ZERO
    if np.any(rows["distortion"]):
        size = values.numbers["distortion_size"]
        pattern = fractal(
            mesh.points,
            Pattern(
                size=size,
                octaves=np.full(1, 2.0),
                evolve=values.numbers["distortion_evolve"],
                seed=values.count("seed"),
            ),
        )
    level = up if values.word("over") == "plane" else np.zeros(3)
    heights = rings(mesh.points, values.vector("centre"), level, rows, pattern)
    along = point_normals(mesh) if values.word("along") == "normal" else up[None, :]
    return mesh.moved(push(mesh.points, along.astype(np.float32), heights, ONE, weights))


def suggest(mesh: Mesh) -> dict[str, Any]:
    """Four rings from the middle of the mesh."""
    found = extent_of(mesh)
    if found is None:
        return {}
    return {
        "centre": found.middle,
        "amplitude": found.share(0.03),
        "wavelength": found.share(1 / 8),
        "softness": found.share(1 / 30),
    }


DEFINITION = Definition(
    sort="step",
    key="rings",
    title="Rings",
    group="push",
    help="Round crests that run outwards from a centre, as from a drop in water.",
    also=("ripple", "ripples", "pond", "drop", "circles", "shock"),
    values={
        "amplitude": number(
            0.06, "Amplitude", "Height of the crests over the middle.", "m", (-0.5, 0.5)
        ),
        "wavelength": number(
            0.25,
            "Wavelength",
            "From crest to crest.",
            "m",
            (0.02, 5.0),
            scale="log",
            hard=(1e-4, 1e6),
        ),
        "phase": number(
            0.0,
            "Phase",
            "How far the rings have run outwards; each whole cycle looks the same.",
            "cycle",
            (0.0, 1.0),
        ),
        "centre": vector((0.0, 0.0, 0.0), "Centre", "Where the rings come from."),
        "decay": number(
            0.0,
            "Decay",
            "How fast the rings fade outwards: at one over this distance 37 % are left.",
            "1/m",
            (0.0, 10.0),
            hard=(0.0, 1e6),
            idle=0.0,
        ),
        "packet": number(
            0.0,
            "Packet",
            "How far the rings reach to both sides of the packet's place; 0 is everywhere.",
            "m",
            (0.0, 2.0),
            hard=(0.0, 1e6),
            idle=0.0,
        ),
        "front": number(
            0.5, "Packet at", "Distance of the packet's middle from the centre.", "m", (0.0, 3.0)
        ),
        "softness": number(
            0.06,
            "Softness",
            "Rounds the centre, so that it has no spike.",
            "m",
            (0.0, 0.5),
            hard=(0.0, 1e6),
        ),
        "distortion": number(
            0.0,
            "Distortion",
            "How far noise bends the rings out of round.",
            "m",
            (0.0, 0.5),
            idle=0.0,
        ),
        "over": choice(
            "plane",
            "Distance",
            "Measured across the axis, or in space, so that a centre above the surface begins "
            "with wide rings.",
            {"plane": "over the plane", "space": "in 3D"},
        ),
        "along": choice(
            "axis",
            "Along",
            "The way each point is pushed.",
            {"axis": "the axis", "normal": "the normals"},
        ),
        "axis": direction((0.0, 1.0, 0.0), "Axis", "The way up.", main=False),
        "distortion_size": number(
            0.5,
            "Size of distortion",
            "Size of the noise's swells.",
            "m",
            (0.05, 5.0),
            scale="log",
            hard=(1e-4, 1e6),
            main=False,
        ),
        "distortion_evolve": number(
            0.0,
            "Distortion evolves",
            "The distortion changes; each whole cycle looks the same.",
            "cycle",
            (0.0, 1.0),
            main=False,
        ),
        "seed": SEED,
    },
    version=2,
    sentence="Rings of {amplitude} every {wavelength}[, in a packet of {packet}]"
    "[, bent by {distortion}]",
    apply=apply,
    each=frozenset(
        {
            "amplitude",
            "wavelength",
            "phase",
            "decay",
            "packet",
            "softness",
            "distortion",
            "front",
            "distortion_size",
            "distortion_evolve",
        }
    ),
    alone=True,
    suggest=suggest,
    handle="centre",
    grips=(reach("wavelength", X, "centre"), reach("front", Z, "centre")),
    order=40,
)
