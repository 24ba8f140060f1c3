"""Ripple tank: waves on shallow water, driven by drops, by what moves in it, and by pushes.

The wave equation on a grid over the sheet, by the leapfrog scheme (W. Press et al., "Numerical
Recipes", § 20.1). Walls and the rim throw waves back; an open rim lets them go.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import scipy.ndimage

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.affine import placed, transformed
from zygomorph.core.geometry.between import between
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.ripples.cells import Cells, cells_over, covered, crossed
from zygomorph.core.geometry.ripples.drops import Rain, drops_between, on_points
from zygomorph.core.geometry.ripples.tank import (
    Basin,
    State,
    Water,
    absorbing,
    advanced,
    at_rest,
    step_words,
    steps_for,
)
from zygomorph.core.kernels.along_directions import push
from zygomorph.core.kernels.ripples import add_drops, fields_on
from zygomorph.core.shared.ripple_values import RIPPLE_VALUES
from zygomorph.core.values.definitions import SystemDefinition
from zygomorph.core.values.grips import X, reach, spot
from zygomorph.core.values.groups import SYSTEMS
from zygomorph.core.values.specimen import SHEET, Specimen

ONE = np.ones(1, np.float32)
UP = np.array([[0.0, 1.0, 0.0]], np.float32)
# Of the grid, how much it goes on beyond an open rim, where waves are damped.
BEYOND = 0.25
# How deep water dips at most, in metres, that was pushed down with c / s m/s in the middle of a
# drop of radius s, where waves run at c: the maximum over τ of ½ ∫ u² exp(-u² / 2) sin(u τ) du, by
# the drop's Hankel transform.
DIP = 0.518
# Stored masks.
HEIGHT, SPEED, CRESTS = "height", "speed", "crests"
# Speeds that are shown in full, against heights, per second; a crest is shown in full where the
# surface curves as much as that of a bump of that height and so many cells.
FAST, SHARP = 12.0, 4.0


@dataclass(frozen=True)
class Tank:
    """level : of the sheet at rest, metres; within : (rows, columns) bool, the basin itself"""

    cells: Cells
    basin: Basin
    level: float
    within: np.ndarray


def _tank(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Tank:
    """The grid and where there is water; found once for what decides it."""
    rest = mesh.rest
    outline, rim = values.discrete("outline"), values.discrete("rim")
    count = values.count("grid")
    parts: list[Any] = [id(rest), count, rim, outline]
    if outline == "mask":
        parts.append(weights.tobytes())
    pieces = [values.discrete("basin") if outline == "piece" else "", values.discrete("walls")]
    others = [context.other(each) if each else None for each in pieces]
    parts += [(o.key, o.matrix.tobytes()) for o in others if o is not None]
    key = ("ripple tank", mesh.topology, *parts)

    def make() -> tuple[np.ndarray, Tank]:
        margin = round(BEYOND * count) if rim == "open" else 0
        cells = cells_over(rest, count, margin)
        level = float(rest[:, 1].mean())
        within = _footprint(mesh, weights if outline == "mask" else None, cells)
        basin, walls = others
        if basin is not None:
            points = transformed(basin.mesh.points, basin.matrix)
            within &= covered(points, basin.mesh.topology.drawn_triangles, cells)
        beyond = None
        water = within
        if rim == "open":
            away = scipy.ndimage.distance_transform_edt(~within) * cells.size
            beyond, water = absorbing(away, margin * cells.size), np.ones_like(within)
        if walls is not None:
            points = transformed(walls.mesh.points, walls.matrix)
            stands = crossed(points, walls.mesh.topology.drawn_triangles, level, cells)
            water = water & ~stands
        if not (within & water).any():
            raise ZygomorphError(
                "There is no water in the tank.",
                "Its outline leaves nothing of the sheet, or walls fill it.",
            )
        everywhere = bool(water.all())
        return rest, Tank(
            cells, Basin(cells.size, None if everywhere else water, beyond), level, within
        )

    found: tuple[np.ndarray, Tank] = context.memo.once(key, make)
    return found[1]


def _footprint(mesh: Mesh, weights: np.ndarray | None, cells: Cells) -> np.ndarray:
    """(rows, columns) bool: cells under the sheet's faces, or near its points where it has none;
    of weights, where they are at least a half."""
    rest = mesh.rest
    triangles = mesh.topology.drawn_triangles
    if len(triangles):
        found = covered(rest, triangles, cells)
    else:
        found = np.ones(cells.shape, bool)
    if weights is None or len(weights) == 1:
        return found
    x = np.clip(np.rint((rest[:, 0] - cells.origin[0]) / cells.size), 0, cells.columns - 1)
    z = np.clip(np.rint((rest[:, 2] - cells.origin[1]) / cells.size), 0, cells.rows - 1)
    flat = (z * cells.columns + x).astype(np.int64)
    size = cells.rows * cells.columns
    count = np.bincount(flat, minlength=size).reshape(cells.shape)
    total = np.bincount(flat, weights, size).reshape(cells.shape)
    mean = total / np.maximum(count, 1)
    # Cells without a point take the nearest one's.
    nearest = scipy.ndimage.distance_transform_edt(
        count == 0, return_distances=False, return_indices=True
    )
    masked: np.ndarray = found & (mean[tuple(nearest)] >= 0.5)
    return masked


def _water(values: Resolved) -> Water:
    return Water(
        values.scalar("speed"),
        values.scalar("damping"),
        values.scalar("stiffness"),
        values.scalar("smoothing"),
    )


def _pushes(
    tank: Tank, mesh: Mesh, values: Resolved, context: Context, frame: int
) -> np.ndarray | None:
    """(rows, columns) float32, m/s² upwards from a frame to the next, or None where nothing drives
    the water."""
    found = np.zeros(tank.cells.shape, np.float32)
    driven = _drops(tank, mesh, values, context, frame, found)
    x, z = tank.cells.middles()
    centre = values.vector("centre")
    if context.parent_motion is not None:
        centre = placed(centre, context.parent_motion)
    radius = max(values.scalar("radius"), tank.cells.size)
    away = ((x[None] - centre[0]) ** 2 + (z[:, None] - centre[2]) ** 2) / (2 * radius**2)
    if values.scalar("push"):
        found += (values.scalar("push") * (1 - away) * np.exp(-away)).astype(np.float32)
        driven = True
    weight = np.zeros(tank.cells.shape)
    if values.scalar("sinks"):
        weight += values.scalar("sinks") * np.exp(-away)
    if values.discrete("mover"):
        other = context.other(values.discrete("mover"))
        points = transformed(other.mesh.points, other.matrix)
        inside = crossed(points, other.mesh.topology.drawn_triangles, tank.level, tank.cells)
        blurred = scipy.ndimage.gaussian_filter(inside.astype(np.float64), 1.0)
        weight += values.scalar("draught") * blurred
    if weight.any():
        # What weighs on the water lies in a dip of its own shape when it is at rest.
        around = scipy.ndimage.laplace(weight, mode="nearest") / tank.cells.size**2
        found += (values.scalar("speed") ** 2 * around).astype(np.float32)
        driven = True
    if not driven:
        return None
    # Nothing is poured in: what is pushed up is taken from everywhere.
    water = np.ones(found.shape, bool) if tank.basin.water is None else tank.basin.water
    return found - water * found[water].mean()


def _drops(
    tank: Tank, mesh: Mesh, values: Resolved, context: Context, frame: int, found: np.ndarray
) -> bool:
    """Add what drops do that fall in a frame; whether there are any."""
    frames = context.loop.frames
    rain = Rain(
        round(values.scalar("rate") * context.loop.seconds),
        frames,
        values.count("seed"),
        values.count("keeps"),
        values.count("spots"),
        values.discrete("closing") == "settles",
    )
    drops = drops_between(rain, frame, frame + 1, values.discrete("places") == "even")
    if len(drops.frame) == 0:
        return False
    low, high = np.sort([values.scalar("smallest"), values.scalar("largest")])
    weak, strong = values.scalar("weakest"), values.scalar("strongest")
    sizes = np.maximum(low + drops.size * (high - low), tank.cells.size)
    strengths = weak + drops.strength * (strong - weak)
    # It pushes for as long as the frame lasts.
    pushes = -strengths * values.scalar("speed") / sizes / DIP * context.loop.rate

    add_drops(
        _where(tank, mesh, values, drops.place),
        sizes.astype(np.float32),
        pushes.astype(np.float32),
        np.array(tank.cells.origin, np.float32),
        np.array([tank.cells.size], np.float32),
        found,
    )
    return True


def _where(tank: Tank, mesh: Mesh, values: Resolved, place: np.ndarray) -> np.ndarray:
    """(D, 2) float32 x and z of drops, of places from 0 to 1."""
    if values.discrete("places") == "mask":
        stored = mesh.get("point", MASK + values.discrete("stored"))
        if stored is None:
            raise ZygomorphError(
                f"No mask is stored under the name {values.discrete('stored')!r} above this step.",
                "Give the mask of a step above a name to store it.",
            )
        try:
            return on_points(place, stored, mesh.rest).astype(np.float32)
        except ValueError:
            raise ZygomorphError(
                f"The mask {values.discrete('stored')!r} is 0 everywhere, so that no drop has a "
                "place to fall.",
                "Choose another mask, or let drops fall anywhere.",
            ) from None
    # Within the water, in the order of its rows and columns: each cell is as likely.
    low = np.array(tank.cells.origin) - tank.cells.size / 2
    rows, columns = np.flatnonzero(tank.within.any(1)), np.flatnonzero(tank.within.any(0))
    first = np.array([columns[0], rows[0]])
    span = np.array([columns[-1] + 1, rows[-1] + 1]) - first
    found = low + (first + place * span) * tank.cells.size
    return found.astype(np.float32)


def start(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> State:
    return at_rest(_tank(mesh, values, weights, context).cells.shape)


def advance(
    state: State,
    mesh: Mesh,
    values: Resolved,
    weights: np.ndarray,
    context: Context,
    frames: int,
) -> State:
    tank, water = _tank(mesh, values, weights, context), _water(values)
    if state.heights.shape != tank.cells.shape:
        state = at_rest(tank.cells.shape)
    rate = context.loop.rate
    steps = steps_for(water, tank.cells.size, 1 / rate)
    for frame in range(round(context.frame) - frames, round(context.frame)):
        pushed = _pushes(tank, mesh, values, context, frame)
        state = advanced(state, water, tank.basin, pushed, 1 / rate, steps)
        state = replace(state, heights=_levelled(state.heights, tank))
    return state


def _levelled(heights: np.ndarray, tank: Tank) -> np.ndarray:
    """Heights without what rounding has added to the water, which nothing would take away again."""
    wet = tank.basin.water
    if wet is None:
        return heights - heights.mean(dtype=np.float64).astype(np.float32)
    found: np.ndarray = heights - wet * heights[wet].mean(dtype=np.float64).astype(np.float32)
    return found


def _between(
    state: State, mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context
) -> State:
    """The state at a part of a frame: the cubic curve that has the heights and speeds of the whole
    frames before and after."""
    before = np.floor(context.frame)
    part = np.float32(context.frame - before)
    if part == 0:
        return state
    after = advance(state, mesh, values, weights, replace(context, frame=before + 1), 1)
    if after.heights.shape != state.heights.shape:
        return after
    heights = between(
        part,
        1 / context.loop.rate,
        (state.heights, state.speeds),
        (after.heights, after.speeds),
    )
    speeds = (1 - part) * state.speeds + part * after.speeds
    return State(heights, speeds.astype(np.float32))


def emit(state: State, mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    now = _between(state, mesh, values, weights, context)
    tank = _tank(mesh, values, weights, context)
    around = scipy.ndimage.laplace(now.heights, mode="nearest")
    grids = np.stack([now.heights, now.speeds, -around])
    found = np.empty((len(mesh.points), 3), np.float32)
    origin = np.array(tank.cells.origin, np.float32)
    fields_on(mesh.rest, grids, origin, np.array([tank.cells.size], np.float32), found)
    height = np.ascontiguousarray(found[:, 0])
    amount = np.ascontiguousarray(values.numbers["height"] / 100, np.float32)
    made = mesh.moved(push(mesh.points, UP, height, amount, weights))
    full = max(values.scalar("shown"), 1e-9)
    shown = {
        HEIGHT: 0.5 + 0.5 * height / full,
        SPEED: np.abs(found[:, 1]) / (FAST * full),
        CRESTS: found[:, 2] * SHARP**2 / full,
    }
    for name, value in shown.items():
        stored = np.clip(value, 0, 1).astype(np.float32)
        made = made.with_attribute("point", MASK + name, stored)
    return made


def tells(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> str:
    cells = _tank(mesh, values, weights, context).cells
    return step_words(_water(values), cells.shape, cells.size, 1 / context.loop.rate)


def suggest(mesh: Mesh) -> dict[str, Any]:
    """Waves that cross the sheet in two seconds, and drops that suit it."""
    found = extent_of(mesh)
    if found is None:
        return {}
    return {
        "speed": found.share(0.4),
        "smallest": found.share(0.015),
        "largest": found.share(0.03),
        "weakest": found.share(0.01),
        "strongest": found.share(0.03),
        "radius": found.share(0.04),
        "shown": found.share(0.015),
    }


DEFINITION = SystemDefinition(
    key="ripples",
    title="Ripple tank",
    group=SYSTEMS,
    help="Waves on a pond: drops, wakes and pushes run out, are thrown back by walls and rim or "
    "leave, and fade.",
    also=("water", "pond", "rain", "drops", "wake", "wave equation", "puddle", "pool"),
    values=RIPPLE_VALUES,
    sentence="Ripple tank, waves of {speed}, drops {rate}[, {mover} leaves a wake]",
    start=start,
    advance=advance,
    emit=emit,
    closes=("settles", "blended", "once"),
    suggest=suggest,
    tells=tells,
    grips=(spot("centre"), reach("radius", X, "centre")),
    amounts=("height",),
    specimen=Specimen(SHEET, {"rate": 3.0, "grid": 96, "damping": 1.5}),
    order=20,
)
