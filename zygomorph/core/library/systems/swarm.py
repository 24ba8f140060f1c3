"""Swarm: points that are born on or in a mesh and moved by the forces above them.

Where forces want other speeds these follow by the implicit Euler method, for which no force is too
stiff; places follow the speeds (semi-implicit Euler).
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import LOOSE_BYTES, within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.between import between
from zygomorph.core.geometry.chance import by_chance
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.geometry import Copies, Geometry
from zygomorph.core.geometry.mesh import (
    BALL_RADIUS,
    ELEMENT_ID,
    MASK,
    REST,
    SIZE,
    Mesh,
    make_curves,
)
from zygomorph.core.geometry.swarm.births import born
from zygomorph.core.geometry.swarm.state import SwarmState
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.shared.copy_places import upright
from zygomorph.core.shared.forces import Acting, Moving
from zygomorph.core.shared.swarm_values import SWARM_VALUES
from zygomorph.core.values.definitions import SystemDefinition
from zygomorph.core.values.groups import SYSTEMS
from zygomorph.core.values.specimen import AS_BALLS, Specimen

# Points beyond so many metres are lost.
FARTHEST = 1e6
# What chance decides of a point.
SIZES, BIRTHS, START = 11, 12, 13
VELOCITY = "velocity"
AGE, SPEED = "age", "speed"


def _count(values: Resolved) -> int:
    count = values.count("count")
    trail = values.count("trail") if values.discrete("becomes") == "trails" else 0
    within_budget(count * (1 + trail), LOOSE_BYTES, hint="Take fewer points")
    return count


def _life(values: Resolved, context: Context) -> float:
    """Seconds that a point lives; where the loop settles, whole lives fill it."""
    life = max(values.scalar("lifetime"), 1 / context.loop.rate)
    if values.discrete("closing") != "settles":
        return life
    return context.loop.seconds / max(round(context.loop.seconds / life), 1)


def _born(
    mesh: Mesh, values: Resolved, context: Context, index: np.ndarray, generation: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Places and speeds at birth, (n, 3) float32 each."""
    seed = values.count("seed")
    if values.discrete("closing") == "settles" and values.discrete("births") == "steadily":
        # Each loop has the same births.
        lives = max(round(context.loop.seconds / _life(values, context)), 1)
        generation = generation % lives
    places, ways = born(mesh, values.discrete("born"), index, generation, seed)
    speeds = ways * np.float32(values.scalar("leaves"))
    random = values.scalar("scatter")
    if random:
        turn = 2 * np.pi * by_chance(seed, index, generation, START, 0)
        up = 2 * by_chance(seed, index, generation, START, 1) - 1
        flat = np.sqrt(1 - up**2)
        way = np.stack([flat * np.cos(turn), up, flat * np.sin(turn)], axis=1)
        speeds = speeds + way * random * by_chance(seed, index, generation, START, 2)[:, None]
    return places, speeds.astype(np.float32)


def start(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> SwarmState:
    count = _count(values)
    index = np.arange(count)
    generation = np.zeros(count, np.int64)
    places, speeds = _born(mesh, values, context, index, generation)
    age = np.zeros(count, np.float32)
    if values.discrete("births") == "steadily":
        share = (index + by_chance(values.count("seed"), index, BIRTHS)) / count
        age = (-share * _life(values, context)).astype(np.float32)
    trail = values.count("trail") if values.discrete("becomes") == "trails" else 0
    return SwarmState(
        places,
        speeds,
        places,
        age,
        generation,
        np.zeros(count, bool),
        np.broadcast_to(places, (trail, count, 3)).copy(),
    )


def advance(
    state: SwarmState,
    mesh: Mesh,
    values: Resolved,
    weights: np.ndarray,
    context: Context,
    frames: int,
) -> SwarmState:
    if len(state.places) != _count(values):
        return start(mesh, values, weights, context)
    steps = values.count("steps")
    for _ in range(frames):
        before = state
        for _ in range(steps):
            state = _stepped(state, mesh, values, context, 1 / (context.loop.rate * steps))
        if len(before.trail):
            new = state.generation != before.generation
            trail = np.concatenate([before.places[None], before.trail[:-1]])
            trail[:, new] = state.places[new]
            state = replace(state, trail=trail)
    return state


def _as_points(state: SwarmState, places: np.ndarray) -> Mesh:
    ids = np.arange(len(places))
    own = {REST: state.born, ELEMENT_ID: ids}
    return Mesh(np.ascontiguousarray(places, np.float32), Topology(len(places)), {"point": own})


def _stepped(
    state: SwarmState, mesh: Mesh, values: Resolved, context: Context, seconds: float
) -> SwarmState:
    dt = np.float32(seconds)
    points = _as_points(state, state.places)
    acting = Acting.on(len(state.places))
    moving = Moving(points, state.speeds, np.maximum(state.age, 0), seconds)
    for force in context.forces:
        force.acts(acting, moving, context)
    speeds = (state.speeds + dt * (acting.push + acting.towards)) / (1 + dt * acting.rate)[:, None]
    speeds = _limited(speeds, values)
    still = state.held | (state.age < 0)
    speeds[still] = 0
    places = state.places + dt * speeds
    held = state.held
    for force in context.forces:
        places, speeds, stuck = force.holds(points, places, speeds, context)
        held = held if stuck is None else held | stuck
    if not np.isfinite(places).all() or np.abs(places).max(initial=0.0) > FARTHEST:
        raise ZygomorphError(
            "The swarm flies apart: points are farther away than a thousand kilometres.",
            "Make forces weaker, set a highest speed, or add drag.",
        )
    age = state.age + dt
    made = replace(
        state,
        places=places.astype(np.float32),
        speeds=speeds.astype(np.float32),
        age=age,
        held=held,
    )
    return _born_again(made, mesh, values, context)


def _limited(speeds: np.ndarray, values: Resolved) -> np.ndarray:
    slowest, fastest = values.scalar("slowest"), values.scalar("fastest")
    now = np.linalg.norm(speeds, axis=1)
    wanted = now
    if fastest > 0:
        wanted = np.minimum(wanted, fastest)
    if slowest > 0:
        wanted = np.maximum(wanted, slowest)
    factor = np.where(now > 1e-12, wanted / np.maximum(now, 1e-12), 1)
    limited: np.ndarray = speeds * factor[:, None].astype(np.float32)
    return limited


def _born_again(state: SwarmState, mesh: Mesh, values: Resolved, context: Context) -> SwarmState:
    """Points whose life is over begin another one; those that come to be are where the mesh is."""
    if values.discrete("births") != "steadily":
        return state
    life = np.float32(_life(values, context))
    dt = np.float32(1 / (context.loop.rate * values.count("steps")))
    over = state.age >= life
    fresh = over | ((state.age >= 0) & (state.age < dt) & (state.generation == 0))
    if not fresh.any():
        return state
    generation = state.generation + over
    index = np.flatnonzero(fresh)
    places, speeds = state.places.copy(), state.speeds.copy()
    places[index], speeds[index] = _born(mesh, values, context, index, generation[index])
    first = state.born.copy()
    first[index] = places[index]
    age = np.where(over, state.age - life, state.age).astype(np.float32)
    held = state.held & ~fresh
    return replace(
        state, places=places, speeds=speeds, born=first, age=age, generation=generation, held=held
    )


def _between(
    state: SwarmState, mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context
) -> SwarmState:
    """The state at a part of a frame: on the cubic curves that have the places and speeds of the
    whole frames before and after."""
    before = np.floor(context.frame)
    part = np.float32(context.frame - before)
    if part == 0:
        return state
    after = advance(state, mesh, values, weights, replace(context, frame=before + 1), 1)
    if len(after.places) != len(state.places):
        return after
    frame = 1 / context.loop.rate
    places = between(part, frame, (state.places, state.speeds), (after.places, after.speeds))
    goes_on = after.generation == state.generation
    return replace(
        state,
        places=np.where(goes_on[:, None], places, state.places).astype(np.float32),
        speeds=((1 - part) * state.speeds + part * after.speeds).astype(np.float32),
        age=state.age + part * np.float32(frame),
    )


def emit(
    state: SwarmState, mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context
) -> Mesh:
    now = _between(state, mesh, values, weights, context)
    alive = now.alive
    life = _life(values, context) if values.discrete("births") == "steadily" else 0.0
    seed, index = values.count("seed"), np.arange(len(alive))
    low, high = values.scalar("smallest") / 100, values.scalar("largest") / 100
    size = low + (high - low) * by_chance(seed, index, SIZES)
    if life and values.discrete("grows"):
        # In and out at the ends of a life.
        share = np.clip(now.age / life, 0, 1)
        size = size * np.clip(np.minimum(share, 1 - share) * 5, 0, 1)
    fast = np.linalg.norm(now.speeds, axis=1)
    full = max(float(fast.max(initial=0.0)), 1e-9)
    aged = now.age / life if life else np.zeros(len(alive))
    attributes: dict[str, Any] = {
        REST: now.born,
        ELEMENT_ID: index,
        SIZE: size,
        BALL_RADIUS: size * values.scalar("radius"),
        VELOCITY: now.speeds,
        MASK + AGE: np.clip(aged, 0, 1),
        MASK + SPEED: fast / full,
    }
    if values.discrete("becomes") == "trails":
        return _trails(now, alive, attributes)
    return Mesh(
        np.ascontiguousarray(now.places[alive]),
        Topology(int(alive.sum())),
        {"point": {n: np.ascontiguousarray(_as32(a)[alive]) for n, a in attributes.items()}},
    )


def _as32(array: np.ndarray) -> np.ndarray:
    return array.astype(np.float32) if array.dtype.kind == "f" else array


def _trails(state: SwarmState, alive: np.ndarray, attributes: dict[str, Any]) -> Mesh:
    """A curve along the last frames of every point, itself first."""
    ways = np.concatenate([state.places[None], state.trail])[:, alive]
    length, count = ways.shape[:2]
    curves = make_curves(list(np.swapaxes(ways, 0, 1)), [False] * count) if count else None
    if curves is None:
        return Mesh(np.zeros((0, 3), np.float32), Topology(0))
    own = dict(curves.attributes["point"])
    for name, array in attributes.items():
        if name.startswith(MASK):
            own[name] = np.repeat(_as32(array)[alive], length)
    along = np.tile(np.linspace(1, 0, length, dtype=np.float32), count)
    own[MASK + "along"] = along
    return replace(curves, attributes={**curves.attributes, "point": own})


def shown(mesh: Mesh, values: Resolved, context: Context) -> Mesh | Geometry:
    """The points as copies of another piece that look where they go, where that is wanted."""
    if values.discrete("becomes") != "copies":
        return mesh
    other = context.other(values.discrete("copies"))
    count = len(mesh.points)
    speeds, size = mesh.get("point", VELOCITY), mesh.get("point", SIZE)
    assert speeds is not None and size is not None  # emit has written them
    placements = np.zeros((count, 3, 4))
    turns = np.broadcast_to(np.eye(3), (count, 3, 3))
    if values.discrete("aligned") and count:
        ahead = np.where(np.linalg.norm(speeds, axis=1, keepdims=True) > 1e-9, speeds, [0, 0, 1.0])
        # The copy's own z axis looks ahead, its y axis as far up as it can.
        side = np.cross([0.0, 1.0, 0.0], ahead)
        level = np.linalg.norm(side, axis=1, keepdims=True) > 1e-9
        side = np.where(level, side, [1.0, 0.0, 0.0])
        over = np.cross(ahead, side)
        turns = upright(over / np.linalg.norm(over, axis=1, keepdims=True), side)
    placements[:, :, :3] = turns * size[:, None, None]
    placements[:, :, 3] = mesh.points
    named = {n: v for n, v in mesh.attributes["point"].items() if n.startswith(MASK)}
    table = Copies(
        np.zeros(count, np.int32),
        np.ascontiguousarray(placements, np.float32),
        {**named, ELEMENT_ID: mesh.ids("point")},
    )
    return Geometry((other.geometry.real,), table)


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    own = {} if mesh.topology.face_count else {"born": "points"}
    return own | ({"radius": found.share(0.04)} if found else {})


DEFINITION = SystemDefinition(
    key="swarm",
    title="Swarm",
    group=SYSTEMS,
    help="Points that are born on or in what there is, and moved by the forces above: wind, pull, "
    "neighbours, drag, and what they bounce off.",
    also=("particles", "flock", "boids", "sparks", "insects", "fireflies", "points", "emitter"),
    values=SWARM_VALUES,
    sentence="Swarm of {count} points, born {born} {births}",
    start=start,
    advance=advance,
    emit=emit,
    makes_points=True,
    # Who begins another life is somewhere else at once.
    jumps=lambda discrete: discrete["births"] == "steadily",
    shown=shown,
    closes=("settles", "blended", "once"),
    suggest=suggest,
    specimen=Specimen(
        ("icosphere", {"radius": 0.3, "halvings": 2}),
        {"count": 160, "births": "steadily", "lifetime": 1.0, "leaves": 0.6, "radius": 0.05},
        before=[{"step": "force_wind", "values": {"speed": 0.8, "size": 0.5}}],
        after=[AS_BALLS],
    ),
    order=40,
)
