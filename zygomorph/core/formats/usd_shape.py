"""A moving mesh, curves or points as one prim of a USD stage, of which only changes are written."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.geometry.mesh import SMOOTHING, UV, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.smoothing import drawn_apart
from zygomorph.core.shared.material import Material
from zygomorph.core.values.gradients import parse_hex, to_linear


@dataclass(frozen=True)
class UsdLook:
    """How a piece is drawn.

    normals : whether they are written; without them faces are drawn flat, or as the reader finds
    """

    material: Material
    normals: bool

    @property
    def width(self) -> float:
        """Of curves and points, metres; what is measured on a screen has a usual one."""
        return Material().size if self.material.on_screen else float(self.material.size)


def linear(colour: str) -> tuple[float, ...]:
    """Three numbers of a colour that is written as ``#rrggbb``."""
    return tuple(float(c) for c in to_linear(parse_hex(colour)))


class UsdShape:
    """One prim, filled moment by moment.

    path : where it is on the stage; material : what it is bound to
    """

    def __init__(self, stage: Any, path: str, look: UsdLook, material: Any) -> None:
        self._stage = stage
        self._path = path
        self._look = look
        self._material = material
        self._shape: Any = None
        self._first: Mesh | None = None
        self._last: Mesh | None = None
        self._begin = 0.0
        self._by_corner = False
        self._points = Track()
        self._normals = Track()
        self._colours = Track()

    def add(self, frame: float, moves: bool, mesh: Mesh, colours: np.ndarray | None) -> None:
        """Add a moment; the only one where nothing moves.

        colours : (P, 3) linear, at points, or None
        """
        from pxr import Usd

        if self._shape is None:
            self._shape = self._define(mesh, colours is not None)
        expanded = _expand(mesh)
        if self._first is None:
            # Where the faces stay as they are, they are told once.
            self._first = self._last = mesh
            self._begin = frame
            self._set_topology(mesh, Usd.TimeCode.Default())
        elif self._last is not None and mesh.topology.digest != self._last.topology.digest:
            if self._last is self._first:
                self._set_topology(self._first, Usd.TimeCode(self._begin))
            self._last = mesh
            self._set_topology(mesh, Usd.TimeCode(frame))
        time = frame if moves else None
        self._points.put(mesh.points[expanded], time, self._set_points)
        if mesh.topology.face_count and self._look.normals:
            normals = self._shape.GetNormalsAttr()
            own = _corner_normals(mesh) if self._by_corner else point_normals(mesh)
            self._normals.put(own, time, lambda rows, at: normals.Set(rows_of(rows), at))
        if colours is not None:
            from pxr import UsdGeom

            primvar = self._shape.CreateDisplayColorPrimvar(UsdGeom.Tokens.vertex)
            self._colours.put(
                colours[expanded], time, lambda rows, at: primvar.Set(rows_of(rows), at)
            )

    def _set_points(self, points: np.ndarray, time: Any) -> None:
        from pxr import UsdGeom

        self._shape.GetPointsAttr().Set(rows_of(points), time)
        extent = UsdGeom.Boundable.ComputeExtentFromPlugins(self._shape, time)
        if extent is not None:
            self._shape.GetExtentAttr().Set(extent, time)

    def _define(self, mesh: Mesh, coloured: bool) -> Any:
        from pxr import UsdGeom, UsdShade

        path = self._path
        if mesh.topology.face_count:
            shape = UsdGeom.Mesh.Define(self._stage, path)
            shape.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.none)
            shape.CreateOrientationAttr(UsdGeom.Tokens.rightHanded)
            shape.CreateDoubleSidedAttr(True)
            if self._look.normals:
                self._by_corner = mesh.get("face", SMOOTHING) is not None
                by = UsdGeom.Tokens.faceVarying if self._by_corner else UsdGeom.Tokens.vertex
                shape.SetNormalsInterpolation(by)
        elif mesh.topology.curve_count:
            shape = UsdGeom.BasisCurves.Define(self._stage, path)
            shape.CreateTypeAttr(UsdGeom.Tokens.linear)
            shape.CreateWrapAttr(UsdGeom.Tokens.nonperiodic)
            shape.CreateWidthsAttr([self._look.width])
            shape.SetWidthsInterpolation(UsdGeom.Tokens.constant)
        else:
            shape = UsdGeom.Points.Define(self._stage, path)
            shape.CreateWidthsAttr([self._look.width])
            shape.SetWidthsInterpolation(UsdGeom.Tokens.constant)
        if not coloured:
            primvar = shape.CreateDisplayColorPrimvar(UsdGeom.Tokens.constant)
            primvar.Set([linear(self._look.material.colour)])
        UsdShade.MaterialBindingAPI.Apply(shape.GetPrim()).Bind(self._material)
        return shape

    def _set_topology(self, mesh: Mesh, time: Any) -> None:
        from pxr import Sdf, UsdGeom, Vt

        topology = mesh.topology
        if topology.face_count:
            counts = np.diff(topology.face_starts).astype(np.int32)
            self._shape.GetFaceVertexCountsAttr().Set(Vt.IntArray.FromNumpy(counts), time)
            corners = np.ascontiguousarray(topology.corners, np.int32)
            self._shape.GetFaceVertexIndicesAttr().Set(Vt.IntArray.FromNumpy(corners), time)
            uv = mesh.get("corner", UV)
            if uv is not None:
                primvar = UsdGeom.PrimvarsAPI(self._shape).CreatePrimvar(
                    "st", Sdf.ValueTypeNames.TexCoord2fArray, UsdGeom.Tokens.faceVarying
                )
                primvar.Set(Vt.Vec2fArray.FromNumpy(np.ascontiguousarray(uv, np.float32)), time)
        elif topology.curve_count:
            counts = np.diff(topology.curve_starts) + topology.curve_closed
            own = Vt.IntArray.FromNumpy(np.ascontiguousarray(counts, np.int32))
            self._shape.GetCurveVertexCountsAttr().Set(own, time)


def _corner_normals(mesh: Mesh) -> np.ndarray:
    """(C, 3) float32: at sharp edges each face has its own."""
    drawn = drawn_apart(mesh)
    return point_normals(drawn)[drawn.topology.corners]


def rows_of(values: np.ndarray) -> Any:
    from pxr import Vt

    return Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(values, np.float32))


class Track:
    """Values over time of which only changes are written."""

    def __init__(self) -> None:
        self._values: np.ndarray | None = None
        self._written: float | None = None
        self._seen = 0.0

    def put(
        self, values: np.ndarray, time: float | None, write: Callable[[np.ndarray, Any], None]
    ) -> None:
        """time : in frames, or None for what does not change; write : takes values and a time"""
        from pxr import Usd

        before = self._values
        if time is None:
            write(values, Usd.TimeCode.Default())
        elif before is None or not np.array_equal(values, before):
            # What lies between two samples is mixed, so that a rest ends with a sample too.
            if before is not None and self._written != self._seen:
                write(before, Usd.TimeCode(self._seen))
            write(values, Usd.TimeCode(time))
            self._written = time
        if time is not None:
            self._seen = time
        self._values = values


def _expand(mesh: Mesh) -> np.ndarray:
    """Numbers of the points in the order of the stage: as they are, or along curves, of which a
    closed one comes back to its first point."""
    topology = mesh.topology
    if topology.face_count or not topology.curve_count:
        return np.arange(len(mesh.points))
    runs = np.split(topology.curve_points, topology.curve_starts[1:-1])
    closed = topology.curve_closed
    return np.concatenate(
        [np.append(run, run[:1]) if c else run for run, c in zip(runs, closed, strict=True)]
    )
