"""Write moving pieces as a USD stage with time samples."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from types import TracebackType
from typing import Any

import numpy as np

from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.transforms.tracks import JUMP, SampledTransform


@dataclass(frozen=True)
class UsdLook:
    """How a piece is drawn; linear colours.

    normals : whether they are written; without them faces are drawn flat, or as the reader finds
    thickness : of curves and points, metres
    """

    colour: np.ndarray
    roughness: float
    glow: float
    normals: bool
    thickness: float


def prim_name(name: str, taken: set[str]) -> str:
    """A name that USD takes (a letter, then letters, figures, underlines), and none twice."""
    plain = re.sub(r"[^A-Za-z0-9_]+", "_", name).strip("_") or "piece"
    if plain[0].isdigit():
        plain = f"_{plain}"
    found, number = plain, 1
    while found in taken:
        number += 1
        found = f"{plain}_{number}"
    taken.add(found)
    return found


class UsdWriter:
    """A stage that is filled frame by frame. Use it as a context, and take ``data`` at the end.

    Metres, y up; a time code is a frame.
    """

    def __init__(self, last: int, rate: float) -> None:
        from pxr import Usd, UsdGeom

        self._folder = tempfile.TemporaryDirectory(prefix="zygomorph-usd-")
        self._path = Path(self._folder.name) / "stage.usdc"
        self.stage = Usd.Stage.CreateNew(str(self._path))
        UsdGeom.SetStageUpAxis(self.stage, UsdGeom.Tokens.y)
        UsdGeom.SetStageMetersPerUnit(self.stage, 1.0)
        self.stage.SetStartTimeCode(0)
        self.stage.SetEndTimeCode(last)
        self.stage.SetTimeCodesPerSecond(rate)
        self.stage.SetFramesPerSecond(rate)
        root = UsdGeom.Xform.Define(self.stage, "/study")
        self.stage.SetDefaultPrim(root.GetPrim())
        self._taken: set[str] = {"materials"}

    def __enter__(self) -> UsdWriter:
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.stage = None
        self._folder.cleanup()

    def piece(self, name: str, look: UsdLook, place: SampledTransform) -> UsdPiece:
        """Begin a piece."""
        return UsdPiece(self.stage, prim_name(name, self._taken), name, look, place)

    def data(self) -> bytes:
        """The whole file."""
        self.stage.GetRootLayer().Save()
        return self._path.read_bytes()


class UsdPiece:
    """One piece: a place, and below it a mesh, curves or points."""

    def __init__(
        self, stage: Any, prim: str, name: str, look: UsdLook, place: SampledTransform
    ) -> None:
        from pxr import UsdGeom

        self._stage = stage
        self._look = look
        self._holder = UsdGeom.Xform.Define(stage, f"/study/{prim}")
        self._holder.GetPrim().SetDisplayName(name)
        self._shape: Any = None
        self._first: Mesh | None = None
        self._last: Mesh | None = None
        self._begin = 0.0
        self._points = _Track()
        self._normals = _Track()
        self._colours = _Track()
        _set_place(self._holder, place)
        self._material = _material(stage, prim, look)

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
            self._normals.put(
                point_normals(mesh)[expanded], time, lambda rows, at: normals.Set(_rows(rows), at)
            )
        if colours is not None:
            from pxr import UsdGeom

            primvar = self._shape.CreateDisplayColorPrimvar(UsdGeom.Tokens.vertex)
            self._colours.put(
                colours[expanded], time, lambda rows, at: primvar.Set(_rows(rows), at)
            )

    def _set_points(self, points: np.ndarray, time: Any) -> None:
        from pxr import UsdGeom

        self._shape.GetPointsAttr().Set(_rows(points), time)
        extent = UsdGeom.Boundable.ComputeExtentFromPlugins(self._shape, time)
        if extent is not None:
            self._shape.GetExtentAttr().Set(extent, time)

    def _define(self, mesh: Mesh, coloured: bool) -> Any:
        from pxr import UsdGeom, UsdShade

        path = f"{self._holder.GetPath()}/shape"
        if mesh.topology.face_count:
            shape = UsdGeom.Mesh.Define(self._stage, path)
            shape.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.none)
            shape.CreateOrientationAttr(UsdGeom.Tokens.rightHanded)
            shape.CreateDoubleSidedAttr(True)
            if self._look.normals:
                shape.SetNormalsInterpolation(UsdGeom.Tokens.vertex)
        elif mesh.topology.curve_count:
            shape = UsdGeom.BasisCurves.Define(self._stage, path)
            shape.CreateTypeAttr(UsdGeom.Tokens.linear)
            shape.CreateWrapAttr(UsdGeom.Tokens.nonperiodic)
            shape.CreateWidthsAttr([self._look.thickness])
            shape.SetWidthsInterpolation(UsdGeom.Tokens.constant)
        else:
            shape = UsdGeom.Points.Define(self._stage, path)
            shape.CreateWidthsAttr([self._look.thickness])
            shape.SetWidthsInterpolation(UsdGeom.Tokens.constant)
        if not coloured:
            primvar = shape.CreateDisplayColorPrimvar(UsdGeom.Tokens.constant)
            primvar.Set([tuple(float(c) for c in self._look.colour)])
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


def _rows(values: np.ndarray) -> Any:
    from pxr import Vt

    return Vt.Vec3fArray.FromNumpy(np.ascontiguousarray(values, np.float32))


class _Track:
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


def _set_place(holder: Any, place: SampledTransform) -> None:
    """Its operations in the order in which a place is made: scale, turn about x, y, z, move."""
    from pxr import Gf, Usd

    operations = (
        ("move", holder.AddTranslateOp(), Gf.Vec3d),
        ("turn", holder.AddRotateXYZOp(), Gf.Vec3f),
        ("scale", holder.AddScaleOp(), Gf.Vec3f),
    )
    for name, operation, kind in operations:
        values = place.tracks[name]
        if len(values) == 1 or not np.ptp(values, axis=0).any():
            operation.Set(kind(*(float(v) for v in values[0])), Usd.TimeCode.Default())
            continue
        for k, time in enumerate(place.times):
            own = kind(*(float(v) for v in values[k]))
            operation.Set(own, Usd.TimeCode(float(time)))
            if place.held and k + 1 < len(values):
                operation.Set(own, Usd.TimeCode(float(place.times[k + 1]) - JUMP))


def _material(stage: Any, prim: str, look: UsdLook) -> Any:
    """UsdPreviewSurface that takes the colours at the points."""
    from pxr import Sdf, UsdGeom, UsdShade

    UsdGeom.Scope.Define(stage, "/study/materials")
    path = f"/study/materials/{prim}"
    material = UsdShade.Material.Define(stage, path)
    reader = UsdShade.Shader.Define(stage, f"{path}/colour")
    reader.CreateIdAttr("UsdPrimvarReader_float3")
    reader.CreateInput("varname", Sdf.ValueTypeNames.String).Set("displayColor")
    reader.CreateInput("fallback", Sdf.ValueTypeNames.Float3).Set(
        tuple(float(c) for c in look.colour)
    )
    colour = reader.CreateOutput("result", Sdf.ValueTypeNames.Float3)
    shader = UsdShade.Shader.Define(stage, f"{path}/surface")
    shader.CreateIdAttr("UsdPreviewSurface")
    shader.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f).ConnectToSource(colour)
    shader.CreateInput("roughness", Sdf.ValueTypeNames.Float).Set(float(look.roughness))
    if look.glow > 0:
        glow = tuple(float(c * look.glow) for c in look.colour)
        shader.CreateInput("emissiveColor", Sdf.ValueTypeNames.Color3f).Set(glow)
    material.CreateSurfaceOutput().ConnectToSource(
        shader.CreateOutput("surface", Sdf.ValueTypeNames.Token)
    )
    return material
