"""Press: lay a sheet over soft balls, which stand out of it; it stays flat where there are none."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.kernels.along_directions import push
from zygomorph.core.shared.ball_values import MELTING, RADIUS, balls_of_other
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import JOIN
from zygomorph.core.values.specimen import SHEET, Specimen, sine
from zygomorph.core.values.value import direction, number, piece

# What is thinner than this share of the smallest ball may be missed.
FINE = 0.25


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    other = context.other(values.discrete("piece"))
    balls = balls_of_other(other, values.array("radius"), values)
    way = unit(values.vector("direction"))
    shown = (balls.radius > 0) & (balls.strength > 0)
    if shown.any():
        low, high = balls.box
        least = max(float(balls.radius[shown].min()), float((high - low).max()) / 500)
        height = balls.met(mesh.points, way, FINE * least)
    else:
        height = np.full(len(mesh.points), np.nan, np.float32)
    # What lies behind the sheet does not show.
    hit = height > 0
    height = np.where(hit, height, 0).astype(np.float32)
    amount = np.ascontiguousarray(values.numbers["amount"] / 100, np.float32)
    along = way[None].astype(np.float32)
    made = mesh.moved(push(mesh.points, along, height, amount, weights))
    highest = max(float(height.max(initial=0.0)), 1e-9)
    for name, value in (("hit", hit), ("height", height / highest)):
        made = made.with_attribute("point", MASK + name, value.astype(np.float32))
    return made


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    return {"radius": found.share(0.15)} if found else {}


DEFINITION = DeformDefinition(
    key="press",
    title="Press over balls",
    group=JOIN,
    help="Lays the sheet over the points of another piece as over soft balls; it stays flat where "
    "there are none.",
    also=("metaballs", "blobs", "soft balls", "relief", "shrink wrap", "bumps", "cloth over"),
    values={
        "piece": piece("Over", "The piece whose points or copies are the balls."),
        "radius": RADIUS,
        "amount": number(100.0, "Amount", "How much of the way it goes.", "%", (0.0, 100.0)),
        "direction": direction((0.0, 1.0, 0.0), "Direction", "The way balls stand out."),
        **MELTING,
    },
    sentence="Press over balls of {piece}",
    apply=apply,
    per_element=frozenset({"amount"}),
    suggest=suggest,
    handle="arrows",
    amounts=("amount",),
    specimen=Specimen(
        SHEET,
        {"piece": "o", "radius": sine(0.15, 0.3)},
        other=("torus", {"ring_radius": 0.5, "tube_radius": 0.1, "around": 6, "section": 3}),
    ),
    order=45,
)
