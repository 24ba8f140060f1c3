"""Let go: what the mask releases drifts away, swirls, falls, spins and shrinks, and comes back.

How far a unit has gone is a function of its weight alone, which behind a soft front rises with the
way that the front has gone on since it passed: 0 is exactly where it was, 1 the end of its way. No
frame needs the one before.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.chance import around_a_key, by_chance
from zygomorph.core.geometry.elements import Elements, elements_of
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.kernels.deform.let_go import drifted, put_back, swirled
from zygomorph.core.kernels.noise.fractal import curl
from zygomorph.core.shared.pattern_values import PATTERN_VALUES, pattern_of
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import BREAK
from zygomorph.core.values.specimen import Specimen, saw
from zygomorph.core.values.unit_values import APART
from zygomorph.core.values.value import SEED, choice, direction, number

# What chance decides of a unit.
AXIS, HEIGHT, FASTER = range(3)
GONE = "gone"
SHAPE = ("size", "octaves", "evolve", "travel", "gain", "lacunarity", "stretch", "pattern_turn")
MORE = ("offset", "travel_axis", "period")


def _places(
    elements: Elements, chosen: np.ndarray, gone: np.ndarray, values: Resolved
) -> np.ndarray:
    """(K, 3) float32 where elements are; those that are not chosen stay exactly where they were.

    chosen : (m,) numbers of elements; gone : (K,) from 0 to 1
    """
    centres = np.ascontiguousarray(elements.centres, np.float32)
    ids = np.ascontiguousarray(elements.ids(), np.int64)
    own = np.empty(len(chosen), np.float32)
    places = np.empty((len(chosen), 3), np.float32)
    # Some go ahead and others come late; all are at rest at 0.
    drifted(
        centres,
        chosen,
        gone,
        ids,
        values.array("drift"),
        values.array("uneven") / np.float32(100),
        values.array("fall"),
        unit(values.vector("direction")).astype(np.float32),
        *around_a_key((values.count("seed"),), (FASTER,)),
        own,
        places,
    )
    if np.any(values.numbers["out"]):
        out = values.array("out")
        far = own * (out if len(out) == 1 else out[chosen])
        places += far[:, None] * elements.normals()[chosen]
    made = centres.copy()
    if np.any(values.numbers["swirl"]):
        # The flow at the place to which it has drifted meanwhile.
        flow = curl(places, pattern_of(values, "curl", "sum"))
        swirled(places, flow, own, values.array("swirl"), chosen, made)
    else:
        put_back(places, chosen, made)
    return made


def _axes(elements: Elements, seed: int) -> np.ndarray:
    """(K, 3) float32: a way by chance for each, about which it spins."""
    ids = elements.ids()
    turn = 2 * np.pi * by_chance(seed, ids, AXIS)
    up = 2 * by_chance(seed, ids, HEIGHT) - 1
    flat = np.sqrt(1 - up**2)
    found = np.stack([flat * np.cos(turn), up, flat * np.sin(turn)], axis=1)
    return found.astype(np.float32)


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    elements = elements_of(mesh, values.discrete("of"))
    gone = np.ascontiguousarray(np.broadcast_to(elements.own(weights), len(elements)), np.float32)
    chosen = np.flatnonzero(gone > 0)
    made = mesh
    if len(chosen):
        places = _places(elements, chosen, gone, values)
        if elements.domain == "point":
            points = places
        else:
            shrink = elements.own(values.array("shrink")) / np.float32(100)
            sizes = np.maximum(1 - gone * shrink, 0)
            angles = gone * np.radians(elements.own(values.array("spin")))
            axes = _axes(elements, values.count("seed"))
            points = elements.moved(sizes, angles, axes, places - elements.centres)
            # What is held is not even rounded.
            still = elements.at_points(gone) == 0
            points[still] = mesh.points[still]
        made = mesh.moved(points)
    stored = 1 - gone if values.discrete("stores") == "left" else gone
    full = stored if elements.domain == "point" else elements.at_points(stored)
    return made.with_attribute("point", MASK + GONE, np.ascontiguousarray(full, np.float32))


def units_let_go(discrete: Any) -> str:
    found: str = discrete["of"]
    return found


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    if found is None:
        return {}
    of = "points" if mesh.topology.face_count == 0 else "faces"
    return {
        "of": of,
        "drift": found.share(0.25),
        "swirl": found.share(0.15),
        "size": found.share(0.4),
    }


DEFINITION = DeformDefinition(
    key="let_go",
    title="Let go",
    group=BREAK,
    help="What the mask releases drifts away with swirls, falls, spins and shrinks; where the mask "
    "goes back it gathers again to exactly where it was.",
    also=("dissolve", "scatter", "disintegrate", "blow away", "dust", "sand", "gather", "release"),
    values={
        "of": choice(
            "faces",
            "Of",
            "What is let go: loose points, or faces, shards or copies as wholes.",
            {"points": "points", "faces": "faces", "shards": "shards", "copies": "copies"},
        ),
        "drift": number(0.5, "Drift", "How far it goes along a direction.", "m", (-2.0, 2.0)),
        "direction": direction((0.6, 0.8, 0.0), "Direction", "The way it drifts."),
        "swirl": number(
            0.3, "Swirl", "How far a flow without sources carries it.", "m", (0.0, 2.0)
        ),
        "size": PATTERN_VALUES["size"],
        "spin": number(180.0, "Spin", "About an axis by chance.", "°", (-720.0, 720.0), idle=0.0),
        "shrink": number(
            60.0, "Shrink", "At 100 % nothing is left at the end.", "%", (0.0, 100.0), idle=0.0
        ),
        "fall": number(0.0, "Fall", "Down, ever faster.", "m", (-2.0, 2.0), main=False, idle=0.0),
        "out": number(0.0, "Outward", "Along its normal.", "m", (-1.0, 1.0), main=False, idle=0.0),
        "uneven": number(
            40.0,
            "Uneven",
            "How much farther some go than others.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            main=False,
        ),
        "stores": choice(
            "gone",
            "Stored as “gone”",
            "A mask that looks may read, to let it fade: 1 where it has gone, or is left.",
            {"gone": "how far it has gone", "left": "how much is left"},
            main=False,
        ),
        "apart": APART,
        **{n: PATTERN_VALUES[n] for n in (*SHAPE, *MORE) if n != "size"},
        "seed": SEED,
    },
    sentence="Let {of} go, {drift} away[, swirling {swirl}][, shrinking by {shrink}]",
    apply=apply,
    per_element=frozenset({"drift", "swirl", "spin", "shrink", "fall", "out", "uneven"}),
    # Chance goes by numbers of elements, which stay.
    pointwise=True,
    acts_per=units_let_go,
    moves_shards=False,
    cuts_apart=lambda discrete: discrete["of"] == "faces" and discrete["apart"],
    resizes=lambda discrete: True,
    suggest=suggest,
    handle="arrows",
    amounts=("drift", "swirl", "fall", "out"),
    specimen=Specimen(
        ("icosphere", {"radius": 0.6, "halvings": 3}),
        {"of": "faces", "drift": 0.5, "swirl": 0.3, "size": 0.6, "shrink": saw(20.0, 80.0)},
    ),
    order=45,
)
