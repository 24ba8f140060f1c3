"""Read the meshes of a USD file, text, binary or packed (USDZ), with OpenUSD.

Its library ends the whole process on some damaged files, so that this is run in one of its own;
see usd_apart.py.
"""

from __future__ import annotations

import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.polygons import Soup
from zygomorph.core.mesh import UV
from zygomorph.core.topology import turned_over

USD_ENDINGS = ("usd", "usda", "usdc", "usdz")


def read_stage(path: Path) -> Soup:
    """The meshes of a file. Raises MeshFileError; a damaged file may take the process with it."""
    from pxr import Tf

    try:
        _check_alone(path, path.suffix.lstrip("."))
        return _read(path)
    except MeshFileError:
        raise
    except (Tf.ErrorException, RuntimeError, ValueError, IndexError, MemoryError) as error:
        words = str(error).strip().splitlines()
        raise MeshFileError(
            f"The USD file cannot be read: {_plain(words, str(path.parent))}.", "Export it again."
        ) from error


def _plain(words: list[str], folder: str) -> str:
    """The reason that the library gives, without the place of a file that is already gone."""
    said = [w.split("--", 1)[-1].strip() for w in words if "--" in w] or words or ["it is damaged"]
    return said[0].replace(f"{folder}/", "").rstrip(".")[:200]


def _check_alone(path: Path, ending: str) -> None:
    """Raise MeshFileError where other files are named: they are not at hand, and a file from
    elsewhere must not choose what is read on this machine."""
    from pxr import UsdUtils

    inside: set[str] = set()
    if ending == "usdz":
        if not zipfile.is_zipfile(path):
            raise MeshFileError("This is not a USDZ package.", "Export it again.")
        with zipfile.ZipFile(path) as package:
            inside = {Path(name).name for name in package.namelist()}
    sublayers, references, payloads = UsdUtils.ExtractExternalReferences(str(path))
    layers = [
        name
        for name in [*sublayers, *references, *payloads]
        if Path(name).suffix.lower().lstrip(".") in (*USD_ENDINGS, "abc", "obj", "")
    ]
    other = sorted(name for name in layers if Path(name).name not in inside)
    if other:
        raise MeshFileError(
            f"The USD file needs {len(other)} other "
            f"{'file' if len(other) == 1 else 'files'} ({', '.join(other)[:120]}).",
            "Flatten the stage where it was made, or pack it as USDZ.",
        )


def _read(path: Path) -> Soup:
    """All meshes of the stage in one, where they stand in it at its first moment, in metres and
    with y up as the stage says; its points where it holds no mesh."""
    from pxr import Usd, UsdGeom

    stage = Usd.Stage.Open(str(path))
    if stage is None:
        raise MeshFileError("The USD file cannot be read.", "Export it again.")
    places = UsdGeom.XformCache(Usd.TimeCode.EarliestTime())
    if stage.HasAuthoredTimeCodeRange():
        places.SetTime(Usd.TimeCode(stage.GetStartTimeCode()))
    parts = [
        (_to_stage(stage, places, mesh), *_mesh_arrays(mesh)) for mesh in _shown(stage, "Mesh")
    ]
    parts = [part for part in parts if len(part[1])]
    if not parts:
        return _loose(stage, places)
    points, corners, sizes, uvs, objects, first = [], [], [], [], [], 0
    for number, (matrix, local, own, counts, turned, uv) in enumerate(parts):
        points.append(local @ matrix[:3, :3] + matrix[3, :3])
        if turned != (np.linalg.det(matrix[:3, :3]) < 0):
            order = turned_over(np.concatenate([[0], np.cumsum(counts)]))
            own, uv = own[order], None if uv is None else uv[order]
        corners.append(own + first)
        sizes.append(counts)
        uvs.append(uv)
        objects.append(np.full(len(counts), number))
        first += len(local)
    at_corners = {}
    if all(uv is not None for uv in uvs):
        at_corners[UV] = np.concatenate([uv for uv in uvs if uv is not None]).astype(np.float32)
    starts = np.concatenate([[0], np.cumsum(np.concatenate(sizes))])
    return Soup(
        np.concatenate(points),
        np.concatenate(corners),
        starts,
        at_corners,
        np.concatenate(objects),
    )


def _shown(stage: Any, kind: str) -> Iterator[Any]:
    """The prims of a kind that are seen, as their schema."""
    from pxr import Usd, UsdGeom

    schema = getattr(UsdGeom, kind)
    for prim in Usd.PrimRange.Stage(stage, Usd.TraverseInstanceProxies()):
        if not prim.IsA(schema):
            continue
        image = UsdGeom.Imageable(prim)
        hidden = image.ComputeVisibility() == UsdGeom.Tokens.invisible
        if not hidden and image.ComputePurpose() != UsdGeom.Tokens.guide:
            yield schema(prim)


def _to_stage(stage: Any, places: Any, shape: Any) -> np.ndarray:
    """(4, 4) from a prim to metres with y up; points are rows before it."""
    from pxr import UsdGeom

    matrix = np.array(places.GetLocalToWorldTransform(shape.GetPrim()), np.float64)
    if UsdGeom.GetStageUpAxis(stage) == UsdGeom.Tokens.z:
        matrix = matrix @ np.array(
            [[1, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, 0], [0, 0, 0, 1]], np.float64
        )
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
    turned = mesh.GetOrientationAttr().Get() == UsdGeom.Tokens.leftHanded
    return points, corners, counts, turned, _uvs(mesh, corners, first)


def _uvs(mesh: Any, corners: np.ndarray, time: Any) -> np.ndarray | None:
    from pxr import UsdGeom

    found = UsdGeom.PrimvarsAPI(mesh.GetPrim())
    for name in ("st", "UVMap", "map1"):
        primvar = found.GetPrimvar(name)
        if not primvar or not primvar.HasValue():
            continue
        values = np.array(primvar.ComputeFlattened(time), np.float64)
        if values.ndim != 2 or values.shape[1] != 2:
            continue
        if len(values) == len(corners):
            return values
        if len(corners) and len(values) > corners.max():
            return values[corners]
    return None


def _loose(stage: Any, places: Any) -> Soup:
    found = [
        _points(shape) @ matrix[:3, :3] + matrix[3, :3]
        for shape in _shown(stage, "Points")
        for matrix in [_to_stage(stage, places, shape)]
    ]
    if not any(len(points) for points in found):
        raise MeshFileError(
            "The USD file holds no mesh and no points.", "Export the mesh itself, not its cage."
        )
    return Soup(np.concatenate(found), np.zeros(0, np.int64), np.zeros(1, np.int64))
