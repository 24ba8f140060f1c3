"""Rings: height cos 2π(ρ / λ - φ) at the distance ρ = √(r² + s²) from a centre.

The softness s keeps the surface smooth at the centre, where a cosine of r alone would have a
spike once it travels. A source at the height h over a sheet has the distance √(r² + h²) (3D).
"""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.along_directions import ONE, ZERO, push
from zygomorph.core.kernels.deform.radial_wave import radial_wave
from zygomorph.core.kernels.noise.fractal import Pattern, fractal
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.grips import X, Z, reach
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.specimen import SHEET, Specimen, saw
from zygomorph.core.values.value import SEED, choice, direction, number, vector

# Rows of the kernel's values, each (1,) or (P,).
ROWS = ("amplitude", "wavelength", "phase", "decay", "front", "packet", "softness", "distortion")


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
    radial_wave(points, centre.astype(np.float32), level.astype(np.float32), *given, pattern, out)
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
    level = up if values.discrete("over") == "plane" else np.zeros(3)
    heights = rings(mesh.points, values.vector("centre"), level, rows, pattern)
    along = point_normals(mesh) if values.discrete("along") == "normal" else up[None, :]
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


DEFINITION = DeformDefinition(
    key="rings",
    title="Rings",
    group=PUSH,
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
    per_element=frozenset(
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
    pointwise=True,
    suggest=suggest,
    handle="centre",
    grips=(reach("wavelength", X, "centre"), reach("front", Z, "centre")),
    amounts=("amplitude",),
    specimen=Specimen(
        SHEET, {"amplitude": 0.1, "wavelength": 0.42, "phase": saw(0, 1), "softness": 0.12}
    ),
    order=40,
)
