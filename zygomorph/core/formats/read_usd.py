"""Read the meshes and curves of a USD file, text, binary or packed (USDZ), with OpenUSD.

Its library ends the whole process on some damaged files, so that this is run in one of its own;
see apart.py.
"""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.polygons import MAX_POINTS, Soup
from zygomorph.core.formats.read_usd_curves import curve_arrays
from zygomorph.core.formats.read_usd_instances import placed_copies
from zygomorph.core.formats.read_usd_solids import is_solid, solid_arrays
from zygomorph.core.formats.usd_alone import check_alone
from zygomorph.core.geometry.mesh import UV
from zygomorph.core.geometry.topology import turned_over

USD_ENDINGS = ("usd", "usda", "usdc", "usdz")


def read_stage(path: Path) -> Soup:
    """The meshes of a file. Raises MeshFileError; a damaged file may take the process with it."""
    from pxr import Tf

    try:
        check_alone(path)
        return _read(path)
    except MeshFileError:
        raise
    except (Tf.ErrorException, RuntimeError, ValueError, IndexError, MemoryError) as error:
        # The library's own words are about its source code.
        raise MeshFileError(
            "The USD file is damaged, or is no USD file.", "Export it again."
        ) from error


def _read(path: Path) -> Soup:
    """All meshes and curves of the stage in one mesh, in world space at its first moment, in
    metres and with y up as the stage says; its points where it holds neither."""
    from pxr import Usd, UsdGeom

    stage = Usd.Stage.Open(str(path))
    if stage is None:
        raise MeshFileError("The USD file cannot be read.", "Export it again.")
    places = UsdGeom.XformCache(Usd.TimeCode.EarliestTime())
    if stage.HasAuthoredTimeCodeRange():
        places.SetTime(Usd.TimeCode(stage.GetStartTimeCode()))
    axes = _axes(stage)
    seen = _Seen(stage)
    shapes = [
        (shape, matrix @ axes) for shape, matrix in _below(seen, stage.GetPseudoRoot(), places)
    ]
    taken = _Taken()
    for shape, matrix in shapes:
        taken.take(shape, matrix)
    if not taken.corners and not taken.curves:
        return _loose(seen, stage, places)
    return taken.soup()


class _Taken:
    """Meshes and curves of a stage, one after the other."""

    def __init__(self) -> None:
        self.points: list[np.ndarray] = []
        self.corners: list[np.ndarray] = []
        self.sizes: list[np.ndarray] = []
        self.uvs: list[np.ndarray | None] = []
        self.objects: list[np.ndarray] = []
        self.curves: list[np.ndarray] = []
        self.first = 0
        self.cages: list[str] = []
        # A prototype with many instances is read once.
        self.read: dict[Any, Any] = {}

    def take(self, shape: Any, matrix: np.ndarray) -> None:
        """Add a mesh or curves at a place, (4, 4); points are rows before it."""
        from pxr import UsdGeom

        path = shape.GetPath()
        if isinstance(shape, UsdGeom.BasisCurves):
            if path not in self.read:
                self.read[path] = curve_arrays(shape)
            for curve in self.read[path]:
                self.curves.append(self.first + np.arange(len(curve)))
                self._add(curve, matrix)
            return
        if path not in self.read:
            if isinstance(shape, UsdGeom.Mesh):
                self.read[path] = _mesh_arrays(shape)
                self._note_cage(shape)
            else:
                self.read[path] = (*solid_arrays(shape.GetPrim()), False, None)
        local, own, counts, turned, uv = self.read[path]
        if len(local) == 0:
            return
        if turned != (np.linalg.det(matrix[:3, :3]) < 0):
            order = turned_over(np.concatenate([[0], np.cumsum(counts)]))
            own, uv = own[order], None if uv is None else uv[order]
        self.corners.append(own + self.first)
        self.sizes.append(counts)
        self.uvs.append(uv)
        self.objects.append(np.full(len(counts), len(self.objects)))
        self._add(local, matrix)

    def _note_cage(self, mesh: Any) -> None:
        from pxr import UsdGeom

        scheme = mesh.GetSubdivisionSchemeAttr()
        if scheme.IsAuthored() and scheme.Get() != UsdGeom.Tokens.none:
            self.cages.append(str(mesh.GetPath()))

    def _notes(self) -> tuple[str, ...]:
        if not self.cages:
            return ()
        first, more = self.cages[0], len(self.cages) - 1
        which = first if more == 0 else f"{first} and {more:,} more"
        return (f"{which}: a cage for subdivision, brought in as the cage that it is.",)

    def _add(self, local: np.ndarray, matrix: np.ndarray) -> None:
        self.first += len(local)
        if self.first > MAX_POINTS:
            raise MeshFileError(
                f"The file holds more than {MAX_POINTS:,} points, copies counted.",
                "Export fewer copies, or reduce the mesh.",
            )
        self.points.append(local @ matrix[:3, :3] + matrix[3, :3])

    def soup(self) -> Soup:
        at_corners = {}
        if self.uvs and all(uv is not None for uv in self.uvs):
            found = np.concatenate([uv for uv in self.uvs if uv is not None])
            at_corners[UV] = found.astype(np.float32)
        none = np.zeros(0, np.int64)
        return Soup(
            np.concatenate(self.points),
            np.concatenate([none, *self.corners]),
            np.cumsum(np.concatenate([np.zeros(1, np.int64), *self.sizes])),
            at_corners,
            np.concatenate([none, *self.objects]),
            np.concatenate([none, *self.curves]),
            np.cumsum([0, *(len(c) for c in self.curves)]),
            self._notes(),
        )


# Instancers that copy instancers, at most so deep.
DEEPEST = 8


class _Seen:
    """Which prims of a stage are seen."""

    def __init__(self, stage: Any) -> None:
        from pxr import Usd, UsdGeom

        # Of what is there once for work and once for the final picture, the final one is taken.
        self._finished = any(
            UsdGeom.Imageable(prim).ComputePurpose() == UsdGeom.Tokens.render
            for prim in Usd.PrimRange(stage.GetPseudoRoot(), Usd.TraverseInstanceProxies())
            if prim.IsA(UsdGeom.Gprim)
        )

    def below(self, root: Any) -> Iterator[Any]:
        """The prims that are seen below one, itself included; of an instancer it alone, because
        what it copies is not seen by itself."""
        from pxr import Usd, UsdGeom

        walk = iter(Usd.PrimRange(root, Usd.TraverseInstanceProxies()))
        for prim in walk:
            if prim.IsA(UsdGeom.PointInstancer):
                walk.PruneChildren()
            image = UsdGeom.Imageable(prim)
            if not image:
                continue
            purpose = image.ComputePurpose()
            left = {UsdGeom.Tokens.guide}
            if self._finished:
                left.add(UsdGeom.Tokens.proxy)
            if image.ComputeVisibility() != UsdGeom.Tokens.invisible and purpose not in left:
                yield prim


def _below(seen: _Seen, root: Any, places: Any, deep: int = 0) -> Iterator[tuple[Any, np.ndarray]]:
    """Meshes, curves and solids below a prim, those that instancers copy included, and where each
    stands on the stage, (4, 4); points are rows before it."""
    from pxr import UsdGeom

    for prim in seen.below(root):
        world = np.array(places.GetLocalToWorldTransform(prim))
        if prim.IsA(UsdGeom.Mesh):
            yield UsdGeom.Mesh(prim), world
        elif prim.IsA(UsdGeom.BasisCurves):
            yield UsdGeom.BasisCurves(prim), world
        elif is_solid(prim):
            yield UsdGeom.Gprim(prim), world
        elif prim.IsA(UsdGeom.PointInstancer):
            if deep >= DEEPEST:
                raise MeshFileError(
                    f"{prim.GetPath()} copies what copies, more than {DEEPEST} deep.",
                    "Export the copies as meshes.",
                )
            yield from _copied(seen, UsdGeom.PointInstancer(prim), places, world, deep)


def _copied(
    seen: _Seen, instancer: Any, places: Any, world: np.ndarray, deep: int
) -> Iterator[tuple[Any, np.ndarray]]:
    known: dict[Any, list[tuple[Any, np.ndarray]]] = {}
    for source, place in placed_copies(instancer):
        path = source.GetPath()
        if path not in known:
            back = np.linalg.inv(np.array(places.GetLocalToWorldTransform(source)))
            below = _below(seen, source, places, deep + 1)
            known[path] = [(shape, matrix @ back) for shape, matrix in below]
        for shape, own in known[path]:
            yield shape, own @ place @ world


def _axes(stage: Any) -> np.ndarray:
    """(4, 4) from the stage's own axes and unit to metres with y up; points are rows before it."""
    from pxr import UsdGeom

    matrix = np.eye(4)
    if UsdGeom.GetStageUpAxis(stage) == UsdGeom.Tokens.z:
        matrix = np.array([[1, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, 0], [0, 0, 0, 1]], np.float64)
    matrix[:, :3] *= UsdGeom.GetStageMetersPerUnit(stage)
    return matrix


def _points(shape: Any) -> np.ndarray:
    from pxr import Usd

    given = shape.GetPointsAttr().Get(Usd.TimeCode.EarliestTime())
    return np.array(given if given is not None else [], np.float64).reshape(-1, 3)


def _mesh_arrays(mesh: Any) -> tuple[Any, ...]:
    """Points (V, 3), corners (C,), corners of each face (F,), whether faces go clockwise, and UVs
    (C, 2) or None."""
    from pxr import Usd, UsdGeom

    first = Usd.TimeCode.EarliestTime()
    points = _points(mesh)
    counts = np.array(mesh.GetFaceVertexCountsAttr().Get(first) or [], np.int64)
    corners = np.array(mesh.GetFaceVertexIndicesAttr().Get(first) or [], np.int64)
    name = mesh.GetPrim().GetPath()
    if counts.sum() != len(corners) or (counts < 0).any():
        raise MeshFileError(
            f"{name} announces {int(counts.sum()):,} corners but has {len(corners):,}.",
            "The file is damaged; export it again.",
        )
    if len(corners) and not (corners.min() >= 0 and corners.max() < len(points)):
        raise MeshFileError(
            f"A face of {name} names a point that is not there.",
            "The file is damaged; export it again.",
        )
    corners, counts, kept = _without_holes(mesh, corners, counts)
    turned = mesh.GetOrientationAttr().Get() == UsdGeom.Tokens.leftHanded
    return points, corners, counts, turned, _uvs(mesh, corners, first, kept)


def _without_holes(
    mesh: Any, corners: np.ndarray, counts: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Corners and sizes of the faces that are no holes, and which corners of the file they are."""
    holes = np.array(mesh.GetHoleIndicesAttr().Get() or [], np.int64)
    holes = holes[(holes >= 0) & (holes < len(counts))]
    faces = np.ones(len(counts), bool)
    faces[holes] = False
    kept = np.repeat(faces, counts)
    return corners[kept], counts[faces], kept


def _uvs(mesh: Any, corners: np.ndarray, time: Any, kept: np.ndarray) -> np.ndarray | None:
    """kept : (C,) which of the file's corners are left"""
    from pxr import UsdGeom

    found = UsdGeom.PrimvarsAPI(mesh.GetPrim())
    for name in ("st", "UVMap", "map1"):
        primvar = found.GetPrimvar(name)
        if not primvar or not primvar.HasValue():
            continue
        values = np.array(primvar.ComputeFlattened(time), np.float64)
        if values.ndim != 2 or values.shape[1] != 2:
            continue
        if len(values) == len(kept):
            return values[kept]
        if len(corners) and len(values) > corners.max():
            return values[corners]
    return None


def _loose(seen: _Seen, stage: Any, places: Any) -> Soup:
    from pxr import UsdGeom

    found = []
    for prim in seen.below(stage.GetPseudoRoot()):
        if prim.IsA(UsdGeom.Points):
            matrix = np.array(places.GetLocalToWorldTransform(prim)) @ _axes(stage)
            found.append(_points(UsdGeom.Points(prim)) @ matrix[:3, :3] + matrix[3, :3])
    if not any(len(points) for points in found):
        raise MeshFileError(
            "The USD file holds no mesh, no curves and no points.",
            "Export the mesh itself, not its cage.",
        )
    return Soup(np.concatenate(found), np.zeros(0, np.int64), np.zeros(1, np.int64))
