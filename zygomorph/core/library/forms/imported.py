"""A mesh that was brought in from a file."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import PART, REST, SHARD, Mesh
from zygomorph.core.geometry.repair.crowded import parted
from zygomorph.core.geometry.repair.holes import chosen_openings, filled, openings
from zygomorph.core.geometry.repair.leave_out import without_doubled_faces, without_loose_points
from zygomorph.core.geometry.repair.merge import joined, split_by
from zygomorph.core.geometry.repair.shells import parts_of, turned_faces, with_faces_turned
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.value import asset, choice, number, switch, text

METRES = {"m": 1.0, "cm": 0.01, "mm": 0.001, "in": 0.0254, "ft": 0.3048}


@dataclass(frozen=True)
class Repairs:
    """Which repairs are taken, in the file's unit; see the form's values."""

    join: float
    unused: bool
    doubled: bool
    crowded: bool
    turn: bool
    fill: bool
    fill_up_to: float
    fill_at: tuple[tuple[float, ...], ...]
    parts: str


def _repaired(mesh: Mesh, wanted: Repairs) -> Mesh:
    """Each before what it would mislead: double points leave holes open and hide doubled faces,
    those crowd edges, at crowded edges nothing says what is outward, and what fills a hole looks as
    its neighbours do."""
    mesh = joined(mesh, wanted.join)
    if wanted.doubled:
        mesh = without_doubled_faces(mesh)
    if wanted.unused:
        mesh = without_loose_points(mesh)
    if wanted.crowded:
        mesh = parted(mesh)
    if wanted.turn:
        mesh = with_faces_turned(mesh, turned_faces(mesh))
    if wanted.fill:
        mesh = filled(mesh)
    elif wanted.fill_up_to > 0 or wanted.fill_at:
        chosen = chosen_openings(openings(mesh), wanted.fill_up_to, wanted.fill_at)
        mesh = filled(mesh, [each.sides for each in chosen])
    if wanted.parts == "one" or mesh.topology.face_count == 0:
        return mesh
    label = mesh.get("face", PART) if wanted.parts == "objects" else parts_of(mesh.topology)
    if label is None:
        label = np.zeros(mesh.topology.face_count, np.int32)
    return split_by(mesh, label).with_attribute("face", SHARD, label.astype(np.int32))


def _places(text: str) -> tuple[tuple[float, ...], ...]:
    """Places from a text of three numbers each, with semicolons between them."""
    places = []
    for part in filter(str.strip, text.split(";")):
        try:
            place = tuple(float(word) for word in part.split())
        except ValueError:
            place = ()
        if len(place) != 3 or not np.isfinite(place).all():
            raise ZygomorphError(
                f"“{part.strip()[:40]}” is no place of a hole.",
                "Write three numbers for each, as in 0.1 0.2 0; and semicolons between places.",
            )
        places.append(place)
    return tuple(places)


def placed(points: np.ndarray, values: Resolved) -> np.ndarray:
    """(P, 3) float32: points of a file, turned, scaled and set where the values say."""
    points = points.astype(np.float64)
    if values.discrete("up") == "z":
        points = np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1)
    if len(points):
        low, high = points.min(axis=0), points.max(axis=0)
        size = float((high - low).max())
        fit = bool(values.discrete("fit"))
        if fit or values.discrete("centre"):
            points = points - (low + high) / 2
        unit = (1 / size if size > 0 else 1.0) if fit else METRES[str(values.discrete("unit"))]
        points = points * (unit * values.scalar("scale"))
        if values.discrete("ground"):
            points[:, 1] -= points[:, 1].min()
    return np.ascontiguousarray(points, np.float32)


def repaired(values: Resolved, context: Context) -> Mesh:
    """The file's mesh with the repairs that were taken, in the file's own unit and place."""
    raw = context.asset(values.discrete("mesh"))
    wanted = Repairs(
        join=values.scalar("join"),
        unused=bool(values.discrete("unused")),
        doubled=bool(values.discrete("doubled")),
        crowded=bool(values.discrete("crowded")),
        turn=bool(values.discrete("turn")),
        fill=bool(values.discrete("fill")),
        fill_up_to=values.scalar("fill_up_to"),
        fill_at=_places(str(values.discrete("fill_at"))),
        parts=str(values.discrete("parts")),
    )
    # Kept with the file's own mesh: scaling it does not repair it anew.
    return raw.topology.derived(("repaired", wanted), lambda: _repaired(raw, wanted))


def apply(values: Resolved, context: Context) -> Mesh:
    mesh = repaired(values, context)
    moved = placed(mesh.points, values)
    return replace(mesh, points=moved).with_attribute("point", REST, moved)


DEFINITION = FormDefinition(
    key="imported",
    title="Brought-in mesh",
    group=SURFACES,
    help="A mesh from an OBJ, PLY, STL, GLB or USD file.",
    also=("import", "mesh file", "OBJ", "PLY", "STL", "GLB", "USD"),
    values={
        "mesh": asset("Mesh", "The file that was brought in.", main=False),
        "scale": number(
            1.0,
            "Scale",
            "Larger or smaller; with fit, the largest side in metres.",
            "×",
            (0.01, 100.0),
            hard=(1e-6, 1e6),
            scale="log",
        ),
        "fit": switch(True, "Fit", "Centre it and make its largest side one metre before scaling."),
        "unit": choice(
            "m",
            "Unit",
            "The unit of the file's numbers, where it is not fitted.",
            {"m": "metres", "cm": "centimetres", "mm": "millimetres", "in": "inches", "ft": "feet"},
            shown_when=("fit", ("false",)),
        ),
        "up": choice("y", "Up axis", "The axis that points up in the file.", {"y": "y", "z": "z"}),
        "centre": switch(False, "Centre", "Its middle at the origin.", main=False),
        "ground": switch(False, "On the ground", "Its lowest point at height 0.", main=False),
        "join": number(
            0.0,
            "Join within",
            "Points nearer than this, in the file's unit, become one.",
            "",
            (0.0, 0.1),
            hard=(0.0, 1e6),
            moves=False,
            main=False,
        ),
        "unused": switch(
            False, "Leave out loose points", "Points that nothing uses are left out.", main=False
        ),
        "doubled": switch(
            False,
            "Leave out doubled faces",
            "Of faces that have the same points only the first stays.",
            main=False,
        ),
        "crowded": switch(
            False,
            "Part crowded edges",
            "Where more than two faces meet at an edge, sheets get points of their own there.",
            main=False,
        ),
        "turn": switch(
            False, "Turn outward", "Faces that look the wrong way are turned over.", main=False
        ),
        "fill": switch(
            False, "Fill all openings", "A surface in each hole, and in each rim.", main=False
        ),
        "fill_up_to": number(
            0.0,
            "Fill holes up to",
            "Openings of at most this length around, in the file's unit, get a surface.",
            "",
            (0.0, 1.0),
            hard=(0.0, 1e6),
            moves=False,
            main=False,
            shown_when=("fill", ("false",)),
        ),
        "fill_at": text(
            "",
            "Fill holes at",
            "Openings nearest to these places, in the file's unit, get a surface, as in "
            "0.1 0.2 0; 0 1 0.",
            main=False,
            shown_when=("fill", ("false",)),
        ),
        "parts": choice(
            "one",
            "Parts",
            "Whether steps can move parts as wholes, each a shard.",
            {"one": "all in one", "objects": "by the file's objects", "connected": "by connection"},
            main=False,
        ),
    },
    sentence="Brought-in mesh, scaled {scale}",
    apply=apply,
    brought_in=repaired,
    turns_faces="turn",
    order=90,
)
