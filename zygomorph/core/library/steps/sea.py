"""Sea: wind waves and swell, in height and to the sides, as the sum of all waves of a spectrum.

A function of time alone: no frame needs the one before. (J. Tessendorf, "Simulating Ocean Water",
SIGGRAPH course notes 2001.)
"""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.normals import point_normals, with_normals
from zygomorph.core.geometry.sea.amplitudes import Waves, waves_of
from zygomorph.core.geometry.sea.surface import Surface, crests, fields_at, lingering, surface_of
from zygomorph.core.kernels.sea import moved_by_waves, turned_by_slopes
from zygomorph.core.memo.memo import called
from zygomorph.core.shared.sea_values import (
    SEA_VALUES,
    cells_of,
    fetch_for,
    moment_of,
    opens,
    period_of,
    weather_of,
)
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.grips import Y, both_ways, turn
from zygomorph.core.values.groups import SYSTEMS
from zygomorph.core.values.specimen import SHEET, Specimen
from zygomorph.core.values.value import choice, number

FOAM = "foam"
# Levels of foam that are told apart where it is kept for later frames.
LEVELS = 255


def _foam(
    fields: np.ndarray, waves: Waves, choppiness: float, values: Resolved, context: Context
) -> np.ndarray | None:
    """(N, N) float32 on the grid, or None where none is wanted."""
    wanted = values.discrete("foam")
    if wanted == "none":
        return None
    more = values.scalar("foam_more") / 100
    now = crests(fields[3:], choppiness, more)
    if wanted == "crests" or values.scalar("lasts") <= 0:
        return now

    def before(frame: int) -> np.ndarray:
        kept: np.ndarray = context.memo.once(
            ("foam", id(waves), choppiness, more, frame), lambda: (waves, came_at(frame))
        )[1]
        return kept.astype(np.float32) / np.float32(LEVELS)

    def came_at(frame: int) -> np.ndarray:
        then = fields_at(waves, moment_of(values, context.loop, frame), True)
        return np.rint(LEVELS * crests(then[3:], choppiness, more)).astype(np.uint8)

    return lingering(now, before, context.frame, values.scalar("lasts") * context.loop.rate)


def _surface(values: Resolved, share: float, context: Context) -> tuple[Surface, float]:
    """The tile at this frame, and the choppiness of its waves at their full height."""
    waves: Waves = called(
        context.memo,
        waves_of,
        weather_of(values),
        cells_of(values),
        values.scalar("tile"),
        values.count("seed"),
        *period_of(values, context.loop),
    )
    foamy = values.discrete("foam") != "none"
    fields = fields_at(waves, moment_of(values, context.loop, context.frame), foamy)
    choppiness = values.scalar("choppiness") / 100
    foam = _foam(fields, waves, choppiness * share, values, context)
    return surface_of(fields, foam, waves.tile), choppiness


def _finer_than(mesh: Mesh, values: Resolved) -> bool:
    """Whether the sea has waves that the faces of a mesh are too large for."""
    if mesh.topology.face_count == 0:
        return False
    low, high, _ = box_of(mesh.points)
    width, _, depth = high - low
    faces = mesh.topology.face_count / (2 if mesh.topology.sides == 3 else 1)
    return bool(values.scalar("tile") / cells_of(values) < 0.8 * np.sqrt(width * depth / faces))


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    share = values.scalar("height") / 100
    surface, choppiness = _surface(values, share, context)
    in_space = values.discrete("sampled") == "space"
    places = mesh.rest if values.discrete("sampled") == "rest" else mesh.points
    to_stage = context.place[:3, :3] if in_space else np.eye(3)
    if in_space:
        places = transformed(places, context.place)
    sloped = len(weights) == 1 and _finer_than(mesh, values)
    if sloped:
        found, slopes = surface.sloped(places)
    else:
        found = surface.at(places)
    foamy = values.discrete("foam") != "none"
    points, foam = np.empty_like(mesh.points), np.empty(len(places) if foamy else 0, np.float32)
    back = np.linalg.inv(to_stage).astype(np.float32)
    heights = np.ascontiguousarray(values.numbers["height"] / 100, np.float32)
    moved_by_waves(mesh.points, found, heights, weights, back, np.float32(choppiness), points, foam)
    made = mesh.moved(points)
    if foamy:
        made = made.with_attribute("point", MASK + FOAM, foam)
    if sloped:
        slopes *= np.float32(share * weights[0])
        made = with_normals(made, _turned(point_normals(mesh), slopes, choppiness, to_stage))
    return made


def _turned(
    normals: np.ndarray, slopes: np.ndarray, choppiness: float, to_stage: np.ndarray
) -> np.ndarray:
    """Normals, (P, 3), as the waves turn them; to_stage : (3, 3) to the axes of the waves"""
    seen = np.ascontiguousarray(normals @ np.linalg.inv(to_stage), np.float32)
    out = np.empty_like(seen)
    turned_by_slopes(seen, slopes, np.full(1, choppiness, np.float32), out)
    back = out @ to_stage
    found: np.ndarray = back / np.maximum(np.linalg.norm(back, axis=1, keepdims=True), 1e-30)
    return found.astype(np.float32)


def suggest(mesh: Mesh) -> dict[str, Any]:
    """One tile over all of it, with some five waves."""
    found = extent_of(mesh)
    if found is None:
        return {}
    tile = found.share(1.0)
    return {"tile": tile, "fetch": fetch_for(tile / 5)}


DEFINITION = DeformDefinition(
    key="sea",
    title="Sea",
    group=SYSTEMS,
    help="Wind waves and swell: up and down and to the sides, with foam where crests break. It "
    "repeats in time and in space.",
    also=("ocean", "water", "waves", "swell", "foam", "wind waves", "spectrum", "lake"),
    values={
        **SEA_VALUES,
        "foam": choice(
            "crests",
            "Foam",
            "Stored as the mask “foam”: where water is squeezed together, or for a while after "
            "that as well.",
            {"none": "none", "crests": "on the crests", "lingers": "lingers"},
            main=False,
        ),
        "foam_more": number(
            0.0,
            "More foam",
            "How much less the water has to be squeezed for it.",
            "%",
            (-50.0, 50.0),
            hard=(-100.0, 100.0),
            main=False,
            idle=0.0,
        ),
        "lasts": number(
            2.0,
            "Foam lasts",
            "How long it takes to fade.",
            "s",
            (0.1, 8.0),
            hard=(0.0, 60.0),
            shown_when=("foam", ("lingers",)),
            main=False,
        ),
        "sampled": choice(
            "piece",
            "Sampled",
            "Whether the waves stay on the stage, move with the piece, or go by the surface at "
            "rest.",
            {"rest": "on the rest shape", "piece": "in the piece", "space": "in space"},
            reads=(("space", "place"),),
            main=False,
        ),
    },
    sentence="Sea under a wind of {wind}, a tile of {tile}[, with swell of {swell_height}]",
    apply=apply,
    by_time=lambda discrete: True,
    opens=opens,
    per_element=frozenset({"height"}),
    pointwise=True,
    tile="tile",
    suggest=suggest,
    grips=(both_ways("tile", (1.0, 0.0, 0.0)), turn("direction", Y)),
    amounts=("height",),
    specimen=Specimen(SHEET, {"grid": 128, "choppiness": 110.0}),
    order=10,
)
