"""What a mesh that was brought in is like, and what would put it right."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.repair.holes import Opening, openings
from zygomorph.core.geometry.repair.leave_out import doubled_faces, loose_points
from zygomorph.core.geometry.repair.merge import close_groups
from zygomorph.core.geometry.repair.shells import edge_uses, parts_of, turned_faces

# Points nearer than this share of the size are taken for the same.
CLOSE = 1e-5
# Beyond so many points, looking for close ones takes longer than anybody waits.
MOST_POINTS = 2_000_000
# Openings that are offered one by one.
MOST_LISTED = 4


@dataclass(frozen=True)
class Examined:
    """parts : faces that hang together
    holes, rims : openings, and those of them that are so large that they belong to the shape
    loose_points : points that nothing uses; doubled_faces : faces that an earlier one equals
    close_points : points that would go if close ones were joined, within ``join_distance`` metres
    turned_faces : faces that look inward, or unlike their neighbours
    crowded_edges : edges of more than two faces
    flat_faces : faces without area
    size, low : metres; sides of the box around it, and its lowest corner
    """

    points: int
    faces: int
    parts: int
    holes: int
    rims: int
    open_edges: int
    loose_points: int
    doubled_faces: int
    close_points: int
    join_distance: float
    turned_faces: int
    crowded_edges: int
    flat_faces: int
    size: list[float]
    low: list[float]

    def measured(self, points: np.ndarray) -> Examined:
        """The same mesh with its points elsewhere: its counts, and the sizes of now."""
        low, high = _box(points)
        return replace(self, size=_rounded(high - low), low=_rounded(low))

    def describe(self) -> dict[str, Any]:
        return asdict(self)


def _box(points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    if len(points) == 0:
        return np.zeros(3), np.zeros(3)
    return points.min(axis=0), points.max(axis=0)


def _rounded(values: np.ndarray) -> list[float]:
    return [round(float(v), 6) for v in values]


@dataclass(frozen=True)
class Repair:
    """Something that may be wrong, and the values of the form that put it right.

    problem : what was found; action : what a button that does it says
    minor : whether it is likely meant to be so
    """

    key: str
    problem: str
    action: str
    values: dict[str, Any]
    minor: bool = False


def examine(mesh: Mesh) -> Examined:
    """Look a mesh over."""
    topology = mesh.topology
    low, high = _box(mesh.points)
    distance = float(np.linalg.norm(high - low)) * CLOSE
    close = 0
    if topology.face_count and distance > 0 and len(mesh.points) <= MOST_POINTS:
        close = len(mesh.points) - 1 - int(close_groups(mesh.points, distance).max())
    open_at = openings(mesh)
    rims = sum(each.is_rim for each in open_at)
    uses = edge_uses(topology)[2] if topology.face_count else np.zeros(0, int)
    return Examined(
        points=len(mesh.points),
        faces=topology.face_count,
        parts=int(parts_of(topology).max()) + 1 if topology.face_count else 0,
        holes=len(open_at) - rims,
        rims=rims,
        open_edges=int((uses == 1).sum()),
        # A cloud of points is meant to be one.
        loose_points=len(loose_points(topology)) if topology.face_count else 0,
        doubled_faces=len(doubled_faces(topology)),
        close_points=close,
        join_distance=float(f"{distance:.2g}"),
        turned_faces=int(turned_faces(mesh).sum()),
        crowded_edges=int((uses > 2).sum()),
        flat_faces=_flat_faces(mesh),
        size=_rounded(high - low),
        low=_rounded(low),
    )


def _flat_faces(mesh: Mesh) -> int:
    """Faces whose area is nothing beside the square of their longest side."""
    topology = mesh.topology
    if topology.face_count == 0:
        return 0
    places = mesh.points.astype(np.float64)[topology.corners]
    starts, face = topology.face_starts, topology.corner_face
    first = places[starts[:-1]][face]
    begin, end = mesh.points.astype(np.float64)[topology.sides_of_faces.T]
    normal = np.cross(begin - first, end - first)
    total = np.stack([np.bincount(face, n, topology.face_count) for n in normal.T], axis=1)
    longest = np.zeros(topology.face_count)
    np.maximum.at(longest, face, ((end - begin) ** 2).sum(axis=1))
    return int((np.linalg.norm(total, axis=1) <= 1e-9 * longest).sum())


def _count(number: int, one: str, many: str) -> str:
    return f"{number:,} {one if number == 1 else many}"


def _verb(number: int, one: str, many: str) -> str:
    return one if number == 1 else many


def repairs(
    raw: Examined,
    formed: Examined,
    fitted: bool,
    open_at: Sequence[Opening] = (),
    filled_at: str = "",
) -> list[Repair]:
    """What may be wrong, in the order in which it is best put right.

    raw : the mesh in the file's unit; formed : as the form gives it
    fitted : whether the form makes it one metre large
    open_at : openings of the raw mesh; filled_at : places of holes that are filled already
    """
    found = []
    if raw.close_points:
        points = _count(raw.close_points, "point", "points")
        lies = _verb(raw.close_points, "lies", "lie")
        found.append(
            Repair(
                "join",
                f"{points} {lies} almost where another does.",
                f"Join {points}",
                {"join": raw.join_distance},
            )
        )
    found += _in_vain(raw)
    if raw.turned_faces:
        faces = _count(raw.turned_faces, "face", "faces")
        found.append(
            Repair(
                "turn",
                f"{faces} {_verb(raw.turned_faces, 'looks', 'look')} the wrong way.",
                f"Turn {faces} outward",
                {"turn": True},
            )
        )
    found += _open(open_at, _scale(raw, formed), filled_at)
    size = max(formed.size)
    away = max(abs(low + side / 2) for low, side in zip(formed.low, formed.size, strict=True))
    if size > 0 and away > 0.01 * size and abs(formed.low[1]) > 0.001 * size:
        found.append(
            Repair(
                "centre",
                f"Its middle is {away:.3g} m away from the origin.",
                "Centre it",
                {"centre": True},
            )
        )
    if size > 0 and abs(formed.low[1]) > 0.001 * size:
        side = "below" if formed.low[1] < 0 else "above"
        found.append(
            Repair(
                "ground",
                f"Its lowest point is {abs(formed.low[1]):.3g} m {side} the ground.",
                "Set it on the ground",
                {"ground": True},
            )
        )
    if not fitted and not 0.05 <= size <= 50:
        found.append(
            Repair(
                "scale",
                f"Its largest side is {size:.3g} m, which hardly any step's sizes suit.",
                "Make it 1 m large",
                {"fit": True, "scale": 1.0},
            )
        )
    return found


def _in_vain(raw: Examined) -> list[Repair]:
    """What is there twice or for nothing, and where it keeps a surface from having an inside."""
    found = []
    if raw.doubled_faces:
        faces = _count(raw.doubled_faces, "face", "faces")
        lies = _verb(raw.doubled_faces, "lies", "lie")
        problem = f"{faces} {lies} on the same points as another."
        found.append(Repair("doubled", problem, f"Leave out {faces}", {"doubled": True}))
    if raw.loose_points:
        points = _count(raw.loose_points, "point", "points")
        problem = f"{points} {_verb(raw.loose_points, 'is', 'are')} used by no face."
        found.append(Repair("unused", problem, f"Leave out {points}", {"unused": True}))
    if raw.crowded_edges:
        edges = _count(raw.crowded_edges, "edge", "edges")
        more = f"{edges} {_verb(raw.crowded_edges, 'has', 'have')} more than two faces"
        problem = f"{more}: what needs an inside will refuse it."
        found.append(Repair("crowded", problem, "Part the sheets there", {"crowded": True}))
    return found


def _scale(raw: Examined, formed: Examined) -> float:
    """Metres for each unit of the file."""
    size = max(raw.size)
    return max(formed.size) / size if size > 0 else 1.0


def _open(open_at: Sequence[Opening], metres: float, filled_at: str) -> list[Repair]:
    """Holes all together as far as their length tells them from rims, the largest one by one, and
    rims, which are likely meant."""
    holes = [each for each in open_at if not each.is_rim]
    rims = [each for each in open_at if each.is_rim]
    least_rim = min((each.around for each in rims), default=np.inf)
    by_length = [each for each in holes if each.around < least_rim]
    found = []
    if len(by_length) > 1:
        count = _count(len(by_length), "hole", "holes")
        most = by_length[0].around
        problem = f"{count} of up to {most * metres:.3g} m around."
        values: dict[str, Any] = {"fill_up_to": _just_above(most, least_rim)}
        found.append(Repair("fill", problem, f"Fill {count}", values))
    for which, listed, action in (
        ("hole", holes, "Fill it"),
        ("rim", rims, "Fill it all the same"),
    ):
        for number, each in enumerate(listed[:MOST_LISTED]):
            sides = _count(len(each.sides), "side", "sides")
            what = f"A {which} of {sides}, {each.around * metres:.3g} m around"
            problem = f"{what}, large enough to be meant." if which == "rim" else f"{what}."
            place = " ".join(f"{v:.6g}" for v in each.middle)
            values = {"fill_at": "; ".join(filter(None, [filled_at.strip(" ;"), place]))}
            found.append(Repair(f"{which}-{number}", problem, action, values, which == "rim"))
    return found


def _just_above(length: float, below: float) -> float:
    """A length that the given one is within, rounded, and less than another."""
    rounded = float(f"{length * 1.01:.3g}")
    return rounded if length <= rounded < below else float(np.nextafter(length, below))
