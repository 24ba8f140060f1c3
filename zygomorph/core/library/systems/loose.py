"""Let go with forces: what the mask releases is moved by the forces above, and gathers again.

Each point or shard has a way from where it should be, 0 as long as the mask holds it. Released, it
moves by forces; held again, it is drawn back and comes to rest exactly where it was.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.between import between
from zygomorph.core.geometry.chance import by_chance
from zygomorph.core.geometry.elements import Elements, elements_of
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import ELEMENT_ID, MASK, REST, Mesh
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.shared.forces import Acting, Moving
from zygomorph.core.shared.swarm_values import STEPS_A_FRAME
from zygomorph.core.values.definitions import SystemDefinition
from zygomorph.core.values.groups import SYSTEMS
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import SEED, choice, number

GONE = "gone"
# Nearer than this, metres, what is held is where it was; farther than that it is lost.
THERE, FARTHEST = 1e-5, 1e6
# What chance decides of a unit.
AXIS, HEIGHT, SPIN = range(3)


@dataclass(frozen=True)
class Loose:
    """ways, speeds : (K, 3) float32, from where units should be, metres, and m/s
    turned : (K,) float32, how long each was loose, seconds
    """

    ways: np.ndarray
    speeds: np.ndarray
    turned: np.ndarray


def _released(elements: Elements, weights: np.ndarray) -> np.ndarray:
    """(K,) float32 from 0 to 1."""
    if len(weights) == 1:
        return np.full(len(elements), weights[0], np.float32)
    own = weights if elements.domain == "point" else elements.read(weights)
    return np.ascontiguousarray(own, np.float32)


def start(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Loose:
    count = len(elements_of(mesh, values.discrete("of")))
    still = np.zeros((count, 3), np.float32)
    return Loose(still, still, np.zeros(count, np.float32))


def advance(
    state: Loose,
    mesh: Mesh,
    values: Resolved,
    weights: np.ndarray,
    context: Context,
    frames: int,
) -> Loose:
    elements = elements_of(mesh, values.discrete("of"))
    if len(state.ways) != len(elements):
        return start(mesh, values, weights, context)
    released = _released(elements, weights)
    steps = values.count("steps") * frames
    for _ in range(steps):
        state = _stepped(state, elements, released, values, context, frames / steps)
    return state


def _stepped(
    state: Loose,
    elements: Elements,
    released: np.ndarray,
    values: Resolved,
    context: Context,
    frames: float,
) -> Loose:
    dt = np.float32(frames / context.loop.rate)
    centres = elements.centres
    at = np.ascontiguousarray(centres + state.ways, np.float32)
    known = {REST: centres, ELEMENT_ID: elements.ids()}
    points = Mesh(at, Topology(len(at)), {"point": known})
    acting = Acting.on(len(at))
    moving = Moving(points, state.speeds, state.turned, float(dt))
    for force in context.forces:
        force.acts(acting, moving, context)
    share = released[:, None]
    back = (1 - released) * np.float32(values.scalar("gather"))
    # Home is a spring that is damped just enough not to go too far, as strong as the mask holds.
    pull = -(back * back)[:, None] * state.ways
    rate = released * acting.rate + 2 * back
    pushed = state.speeds + dt * (share * (acting.push + acting.towards) + pull)
    speeds = pushed / (1 + dt * rate + dt * dt * back * back)[:, None]
    places = at + dt * speeds
    for force in context.forces:
        places, speeds, _ = force.holds(points, places, speeds, context)
    ways = places - centres
    if not np.isfinite(ways).all() or np.abs(ways).max(initial=0.0) > FARTHEST:
        raise ZygomorphError(
            "It flies apart: parts are farther away than a thousand kilometres.",
            "Make forces weaker, or add drag.",
        )
    far = np.linalg.norm(ways, axis=1)
    there = (released <= 0) & (far < THERE)
    ways = np.where(there[:, None], 0, ways)
    speeds = np.where(there[:, None], 0, speeds)
    loose = state.turned + dt * released
    # Held, it turns back as it comes home.
    turned = np.where(there, 0, loose * np.exp(-dt * back))
    return Loose(*(np.asarray(a, np.float32) for a in (ways, speeds, turned)))


def _between(
    state: Loose, mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context
) -> Loose:
    """On the cubic curves that have the ways and speeds of the whole frames before and after."""
    before = np.floor(context.frame)
    part = np.float32(context.frame - before)
    if part == 0:
        return state
    after = advance(state, mesh, values, weights, replace(context, frame=before + 1), 1)
    if len(after.ways) != len(state.ways):
        return after
    ways = between(
        part, 1 / context.loop.rate, (state.ways, state.speeds), (after.ways, after.speeds)
    )
    turned = (1 - part) * state.turned + part * after.turned
    return Loose(ways, after.speeds, turned.astype(np.float32))


def emit(state: Loose, mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    elements = elements_of(mesh, values.discrete("of"))
    now = _between(state, mesh, values, weights, context)
    if len(now.ways) != len(elements):
        return mesh
    far = np.linalg.norm(now.ways, axis=1)
    full = max(values.scalar("shown"), 1e-9)
    gone = np.clip(far / full, 0, 1).astype(np.float32)
    if elements.domain == "point":
        made = mesh.moved(np.ascontiguousarray(mesh.points + now.ways, np.float32))
        return made.with_attribute("point", MASK + GONE, gone)
    seed, ids = values.count("seed"), elements.ids()
    turn, up = 2 * np.pi * by_chance(seed, ids, AXIS), 2 * by_chance(seed, ids, HEIGHT) - 1
    flat = np.sqrt(1 - up**2)
    axes = np.stack([flat * np.cos(turn), up, flat * np.sin(turn)], axis=1)
    fast = np.radians(values.scalar("spin")) * (2 * by_chance(seed, ids, SPIN) - 1)
    sizes = 1 - gone * np.float32(values.scalar("shrink") / 100)
    points = elements.moved(np.maximum(sizes, 0), now.turned * fast, axes, now.ways)
    still = elements.at_points((far > 0).astype(np.float32)) == 0
    points[still] = mesh.points[still]
    return mesh.moved(points).with_attribute("point", MASK + GONE, elements.at_points(gone))


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    of = "points" if mesh.topology.face_count == 0 else "shards"
    return {"of": of} | ({"shown": found.share(0.3)} if found else {})


DEFINITION = SystemDefinition(
    key="loose",
    title="Let go with forces",
    group=SYSTEMS,
    help="Points or shards that the mask releases are moved by the forces above, and gather again "
    "where it holds them.",
    also=("dissolve", "scatter", "debris", "dust", "blow away", "crumble", "fall apart"),
    values={
        "of": choice(
            "points",
            "Of",
            "Loose points, or shards as wholes.",
            {"points": "points", "shards": "shards"},
        ),
        "gather": number(
            6.0,
            "Gathers",
            "How fast what is held comes back.",
            "per s",
            (0.5, 20.0),
            scale="log",
            hard=(0.0, 1e4),
        ),
        "spin": number(
            180.0,
            "Spin",
            "Of shards, at most.",
            "° per s",
            (0.0, 720.0),
            hard=(-1e5, 1e5),
            idle=0.0,
        ),
        "shrink": number(
            0.0,
            "Shrink",
            "Of shards, by the time they are as far as “Stored in full” says.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            idle=0.0,
        ),
        "shown": number(
            0.5,
            "Stored in full",
            "How far away the stored mask “gone” is 1.",
            "m",
            (0.01, 3.0),
            scale="log",
            hard=(1e-6, 1e6),
            main=False,
        ),
        "steps": STEPS_A_FRAME,
        "seed": SEED,
    },
    sentence="Let {of} go with the forces above",
    start=start,
    advance=advance,
    emit=emit,
    closes=("settles", "blended", "once"),
    suggest=suggest,
    needs_motion=True,
    specimen=Specimen(
        ("sheet", {"width": 1.6, "depth": 1.6, "columns": 12, "rows": 12}),
        {"of": "shards", "gather": sine(3.0, 8.0)},
        before=[
            {"step": "split", "values": {}},
            {"step": "force_wind", "values": {"speed": 0.9, "size": 0.6}},
            {"step": "force_pull", "values": {"speed": 0.8, "strength": 2.0, "arrives": 0.8}},
        ],
    ),
    order=45,
)
