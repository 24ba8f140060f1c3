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

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.deform.vortex import STEPS, wind
from zygomorph.core.transforms.axis_frame import axis_frame
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import BEND
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, direction, number, vector

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


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    rows, centre = axis_frame(values)
    core = values.numbers["core"]
    angle = values.numbers["circulation"] / (2 * np.pi * core**2) * values.numbers["wound"]
    out = np.empty_like(mesh.points)
    wind(
        mesh.points,
        rows,
        centre,
        values.array("core"),
        np.ascontiguousarray(angle, np.float32),
        values.array("depth"),
        weights,
        _table(values.discrete("profile")),
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


DEFINITION = DeformDefinition(
    key="vortex",
    title="Vortex",
    group=BEND,
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
    per_element=frozenset({"circulation", "wound", "core", "depth"}),
    pointwise=True,
    suggest=suggest,
    handle="core",
    amounts=("circulation", "depth"),
    specimen=Specimen(
        ("disc", {"radius": 1.05}),
        {"core": 0.3, "depth": sine(0.1, 0.9), "circulation": 1.2, "wound": sine(0.0, 2.0)},
        before=[
            {"step": "formula", "values": {"offset": "0.12 * hypot(x, z) * cos(6 * atan2(z, x))"}}
        ],
    ),
    order=60,
)
