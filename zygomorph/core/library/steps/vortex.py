"""Vortex: turns a surface about an axis as a whirl does, and draws its middle down to a funnel.

Γ is the circulation, r_c the core radius, u = (r / r_c)². Angular speed, in units of Γ / 2π r_c²:

- Rankine: 1 in the core, 1 / u outside (W. Rankine, "A Manual of Applied Mechanics", 1858)
- Lamb-Oseen: (1 - e^-u) / u (H. Lamb, "Hydrodynamics", 6th ed. 1932, § 334a)

The funnel is the free surface of that flow, from ∂h/∂r = v² / (g r), here in units of the depth at
the axis:

- Rankine: 1 - u / 2 in the core, 1 / 2u outside
- Lamb-Oseen: ((1 - e^-u)² / u + 2 E₁(u) - 2 E₁(2u)) / (2 ln 2) (derived by integration by parts)
"""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
import scipy
from numba import float32, int32, prange, types

from zygomorph.core.catalogue import Definition
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F2, F2W, first_of, kernel, load
from zygomorph.core.context import Context
from zygomorph.core.extent import extent_of
from zygomorph.core.mesh import Mesh
from zygomorph.core.noise.lattice import floor_to_int
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.axis_frame import axis_frame
from zygomorph.core.steps.spine import ROWS, enter_spine, leave_spine
from zygomorph.core.trigonometry import sine_cosine
from zygomorph.core.values import choice, direction, number, vector

TURN = float32(2 * np.pi)
STEPS = 4096
ZERO = np.zeros(1, np.float32)


def angular_speed(u: np.ndarray, profile: str) -> np.ndarray:
    """Angular speed at u = (r / r_c)², in units of Γ / 2π r_c²; float64."""
    u = np.maximum(u, 1e-12)
    return 1 / np.maximum(u, 1) if profile == "rankine" else -np.expm1(-u) / u


def funnel(u: np.ndarray, profile: str) -> np.ndarray:
    """Depth of the free surface at u = (r / r_c)², as a share of the depth at the axis; float64."""
    u = np.maximum(u, 1e-12)
    if profile == "rankine":
        return np.where(u < 1, 1 - u / 2, 0.5 / u)
    wide = np.expm1(-u) ** 2 / u
    return (wide + 2 * scipy.special.exp1(u) - 2 * scipy.special.exp1(2 * u)) / (2 * np.log(2))


@cache
def _table(profile: str) -> np.ndarray:
    """(2, STEPS + 2) float32: angular speed and funnel over s = r / (r + r_c) from 0 to 1."""
    s = np.arange(STEPS + 1) / STEPS
    with np.errstate(divide="ignore"):
        u = (s / (1 - s)) ** 2
    u[-1] = np.inf
    rows = [
        np.where(np.isinf(u), 0, f(np.minimum(u, 1e12), profile)) for f in (angular_speed, funnel)
    ]
    # One more entry, so that the last may be read with its neighbour.
    return np.pad(np.stack(rows), ((0, 0), (0, 1))).astype(np.float32)


@kernel(types.void(F2, F2, F1, F1, F1, F1, F1, F2, F2W))
def _wind(points, rows, centre, core, angle, depth, weight, table, out):  # type: ignore[no-untyped-def]
    """angle : radians that the core is turned; core, angle, depth : (1,) or (P,)"""
    n = points.shape[0]
    flat, flat_out = points.reshape(-1), out.reshape(-1)
    speeds, depths = table[0], table[1]
    blocks = (n + BLOCK - 1) // BLOCK
    zero = np.zeros(1, np.float32)
    for chunk in prange(CHUNKS):
        work = np.empty((ROWS, BLOCK), np.float32)
        down = np.empty(BLOCK, np.float32)
        a, h, b, amount, mask = work[0], work[1], work[2], work[3], work[4]
        per_core = work[6]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            enter_spine(flat, rows, centre, zero, core, angle, weight, lo, m, work)
            load(depth, lo, m, down)
            for i in range(m):
                r = np.sqrt(a[i] * a[i] + b[i] * b[i]) * per_core[i]
                place = r / (r + float32(1.0)) * float32(STEPS)
                k = min(int32(place), int32(STEPS))
                t = place - float32(k)
                cycles = (speeds[k] + t * (speeds[k + 1] - speeds[k])) * amount[i] * mask[i] / TURN
                s, c = sine_cosine(TURN * (cycles - float32(floor_to_int(cycles))))
                sunk = depths[k] + t * (depths[k + 1] - depths[k])
                h[i] = h[i] - sunk * down[i] * mask[i]
                p = c * a[i] + s * b[i]
                b[i] = c * b[i] - s * a[i]
                a[i] = p
            leave_spine(work, rows, centre, lo, m, flat_out)


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values)
    core = values.numbers["core"]
    angle = values.numbers["circulation"] / (2 * np.pi * core**2) * values.numbers["wound"]
    out = np.empty_like(mesh.points)
    _wind(
        mesh.points,
        rows,
        centre,
        values.array("core"),
        np.ascontiguousarray(angle, np.float32),
        values.array("depth"),
        weights,
        _table(values.word("profile")),
        out,
    )
    return mesh.moved(out)


def suggest(mesh: Mesh) -> dict[str, Any]:
    """A core of a sixth of the mesh, turned by about one turn, that sinks a little."""
    found = extent_of(mesh)
    if found is None:
        return {}
    core = found.share(1 / 6)
    return {
        "centre": found.middle,
        "core": core,
        "depth": core,
        "circulation": float(f"{(2 * np.pi * core) ** 2:.2g}"),
        "wound": 1.0,
    }


DEFINITION = Definition(
    sort="step",
    key="vortex",
    title="Vortex",
    group="bend",
    help="Winds the surface round an axis, the middle farther than the rim, and sinks a funnel.",
    also=("swirl", "whirl", "funnel", "whirlpool", "spin", "tornado"),
    values={
        "circulation": number(
            4.0,
            "Circulation",
            "How strongly it turns; below 0 the other way round.",
            "m²/s",
            (-20.0, 20.0),
        ),
        "wound": number(
            1.0,
            "Wound for",
            "How long the whirl has carried the surface along.",
            "s",
            (0.0, 5.0),
        ),
        "core": number(
            0.3,
            "Core radius",
            "Within it everything turns together.",
            "m",
            (0.02, 2.0),
            scale="log",
            hard=(1e-4, 1e6),
        ),
        "depth": number(
            0.3, "Funnel", "How deep the surface sinks at the axis.", "m", (-1.0, 2.0), idle=0.0
        ),
        "profile": choice(
            "lamb",
            "Profile",
            "How the speed falls off: with an edge at the core, or softly.",
            {"rankine": "Rankine", "lamb": "Lamb–Oseen"},
        ),
        "axis": direction((0.0, 1.0, 0.0), "Axis", "The axis of the whirl.", main=False),
        "centre": vector((0.0, 0.0, 0.0), "Centre", "A point on the axis."),
    },
    sentence="{profile} vortex of {circulation}, wound for {wound}[, a funnel {depth} deep]",
    apply=apply,
    each=frozenset({"circulation", "wound", "core", "depth"}),
    alone=True,
    suggest=suggest,
    handle="core",
    order=60,
)
