"""The elements of a mesh with all their values: sorted, filtered, counted, and as text."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial.transform import Rotation

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import ELEMENT_ID, REST, SHARD, Mesh
from zygomorph.core.geometry.normals import face_vector_areas, point_normals

DOMAINS = {"point": "points", "face": "faces", "shard": "shards", "copy": "copies"}
AXES = "xyz"


@dataclass(frozen=True)
class Column:
    """values : (n,) numbers, one for each element"""

    label: str
    unit: str
    values: np.ndarray


@dataclass(frozen=True)
class Table:
    """places : (n, 3) float32, where each element is, in the piece; metres"""

    domain: str
    columns: dict[str, Column]
    places: np.ndarray

    def __len__(self) -> int:
        return len(self.places)

    @property
    def size_in_bytes(self) -> int:
        return int(self.places.nbytes + sum(c.values.nbytes for c in self.columns.values()))


@dataclass(frozen=True)
class Filter:
    """Keeps elements whose value lies from low to high, both included; None is no limit."""

    column: str
    low: float | None = None
    high: float | None = None


def table_of(made: Mesh | Geometry, domain: str, mask: np.ndarray | None = None) -> Table:
    """All values of the points, faces, shards or copies of a geometry; of copies that are written
    out, all but the copies.

    mask : (P,) weights of a step at the points, or (K,) at the copies, shown as a column of them
    """
    geometry = Geometry.of(made)
    if domain == "copy":
        return _of_copies(geometry, mask)
    mesh = geometry.real
    if domain == "point":
        return _of_points(mesh, mask)
    if domain == "face":
        return _of_faces(mesh)
    if domain == "shard":
        return _of_shards(mesh)
    raise ZygomorphError(f"There is no table of {domain!r}.", f"Use {', '.join(DOMAINS)}.")


def _vector(key: str, label: str, unit: str, values: np.ndarray) -> dict[str, Column]:
    return {
        f"{key}{axis}": Column(f"{label}{axis}", unit, values[:, k]) for k, axis in enumerate(AXES)
    }


def _stored(mesh: Mesh, domain: str, leave: Sequence[str]) -> dict[str, Column]:
    """What steps have stored on the elements, component by component."""
    found: dict[str, Column] = {}
    for name, values in mesh.attributes.get(domain, {}).items():
        if name in leave:
            continue
        if values.ndim == 1:
            found[f"@{name}"] = Column(name, "", values)
        elif values.ndim == 2 and values.shape[1] <= 4:
            for k in range(values.shape[1]):
                part = AXES[k] if values.shape[1] == 3 else str(k + 1)
                found[f"@{name}.{part}"] = Column(f"{name} {part}", "", values[:, k])
    return found


def _of_points(mesh: Mesh, mask: np.ndarray | None) -> Table:
    columns = _vector("", "", "m", mesh.points)
    if mesh.topology.face_count:
        columns |= _vector("n", "normal ", "", point_normals(mesh))
    rest = mesh.get("point", REST)
    if rest is not None:
        moved = np.linalg.norm(mesh.points - rest, axis=1)
        columns["moved"] = Column("from rest", "m", moved)
    if mask is not None:
        columns["mask"] = Column("mask", "", np.broadcast_to(mask, len(mesh.points)))
    return Table("point", columns | _stored(mesh, "point", [REST]), mesh.points)


def _centres(mesh: Mesh) -> np.ndarray:
    topology = mesh.topology
    if topology.face_count == 0:
        return np.zeros((0, 3), np.float32)
    total = np.add.reduceat(
        mesh.points[topology.corners].astype(np.float64), topology.face_starts[:-1], axis=0
    )
    return (total / np.diff(topology.face_starts)[:, None]).astype(np.float32)


def _of_faces(mesh: Mesh) -> Table:
    centres, areas = _centres(mesh), face_vector_areas(mesh)
    area = np.linalg.norm(areas, axis=1)
    normals = areas / np.where(area > 0, area, 1)[:, None]
    columns = _vector("", "", "m", centres)
    columns["area"] = Column("area", "m²", area)
    columns["sides"] = Column("sides", "", np.diff(mesh.topology.face_starts))
    columns |= _vector("n", "normal ", "", normals)
    shard = mesh.get("face", SHARD)
    if shard is not None:
        columns["shard"] = Column("shard", "", shard)
    return Table("face", columns | _stored(mesh, "face", [SHARD]), centres)


def _of_copies(geometry: Geometry, mask: np.ndarray | None) -> Table:
    copies = geometry.copies
    if copies is None:
        return Table("copy", {}, np.zeros((0, 3), np.float32))
    centres = copies.centres
    linear = copies.placements[:, :, :3].astype(np.float64)
    sizes = np.linalg.norm(linear, axis=1)
    columns = _vector("", "", "m", centres)
    columns |= _vector("size ", "size ", "×", sizes)
    columns |= _vector("turn ", "turn ", "°", _turns(linear))
    columns["moved"] = Column(
        "from rest", "m", np.linalg.norm(centres - copies.rest[:, :, 3], axis=1)
    )
    columns["id"] = Column("id", "", copies.ids)
    if len(geometry.bases) > 1:
        columns["base"] = Column("base", "", copies.base)
    if mask is not None:
        columns["mask"] = Column("mask", "", np.broadcast_to(mask, len(copies)))
    for name, values in copies.attributes.items():
        if values.ndim == 1 and name != ELEMENT_ID:
            columns[f"@{name}"] = Column(name, "", values)
    return Table("copy", columns, centres)


def _turns(linear: np.ndarray) -> np.ndarray:
    """(K, 3) degrees about x, then y, then z; 0 of what has no size. Of a mirrored copy, those of
    the same without its mirror."""
    whole = np.abs(np.linalg.det(linear)) > 1e-18
    found = np.zeros((len(linear), 3))
    if whole.any():
        found[whole] = Rotation.from_matrix(linear[whole]).as_euler("xyz", degrees=True)
    return found


def _of_shards(mesh: Mesh) -> Table:
    shard = mesh.get("face", SHARD)
    count = mesh.count("shard")
    if shard is None or count == 0:
        return Table("shard", {}, np.zeros((0, 3), np.float32))
    faces = _of_faces(mesh)
    area = faces.columns["area"].values
    total = np.bincount(shard, area, count)
    weighed = [np.bincount(shard, area * axis, count) for axis in faces.places.T]
    centres = np.stack(weighed, axis=1) / np.where(total > 0, total, 1)[:, None]
    columns = _vector("", "", "m", centres.astype(np.float32))
    columns["area"] = Column("area", "m²", total)
    columns["faces"] = Column("faces", "", np.bincount(shard, minlength=count))
    return Table("shard", columns | _stored(mesh, "shard", []), centres.astype(np.float32))


def _column(table: Table, name: str) -> np.ndarray:
    if name not in table.columns:
        raise ZygomorphError(
            f"There is no column {name!r}.", f"Columns: {', '.join(table.columns) or 'none'}."
        )
    return table.columns[name].values


def select(
    table: Table, filters: Sequence[Filter] = (), sort: str = "", descending: bool = False
) -> np.ndarray:
    """Numbers of the elements that pass all filters, in order; equal ones by number.

    sort : a column, or "" for the elements' own order

    Raises ZygomorphError where a column is not there.
    """
    passes = np.ones(len(table), bool)
    for each in filters:
        values = _column(table, each.column)
        if each.low is not None:
            passes &= values >= each.low
        if each.high is not None:
            passes &= values <= each.high
    rows = np.flatnonzero(passes)
    if not sort:
        return rows[::-1] if descending else rows
    values = _column(table, sort)[rows]
    # From the largest, and yet equal ones by number.
    order = np.argsort(-values.astype(np.float64) if descending else values, kind="stable")
    return rows[order]


def statistics(values: np.ndarray) -> dict[str, float | int | None]:
    """Count, least, most, mean, median and standard deviation (of the whole, not of a sample)."""
    if len(values) == 0:
        nothing = dict.fromkeys(("least", "most", "mean", "median", "deviation"))
        return {"count": 0, **nothing}
    exact = values.astype(np.float64)
    return {
        "count": len(values),
        "least": float(exact.min()),
        "most": float(exact.max()),
        "mean": float(exact.mean()),
        "median": float(np.median(exact)),
        "deviation": float(exact.std()),
    }
