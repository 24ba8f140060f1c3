"""Write moving pieces as a USD stage with time samples."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path
from types import TracebackType
from typing import Any

import numpy as np

from zygomorph.core.formats.usd_copies import UsdCopies
from zygomorph.core.formats.usd_shape import UsdLook, UsdShape, linear
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.transforms.tracks import JUMP, SampledTransform

__all__ = ["UsdLook", "UsdWriter"]


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
    """One piece: a place, and below it what is seen, or copies of it."""

    def __init__(
        self, stage: Any, prim: str, name: str, look: UsdLook, place: SampledTransform
    ) -> None:
        from pxr import UsdGeom

        self._stage = stage
        self._look = look
        self._name = name
        self._holder = UsdGeom.Xform.Define(stage, f"/study/{prim}")
        self._holder.GetPrim().SetDisplayName(name)
        _set_place(self._holder, place)
        self._material = _material(stage, prim, look)
        self._shapes: list[UsdShape] = []
        self._copies: UsdCopies | None = None

    def add(
        self, frame: float, moves: bool, geometry: Geometry, colours: list[np.ndarray | None]
    ) -> None:
        """Add a moment; the only one where nothing moves.

        colours : of each base (P, 3) linear at its points, and last of the copies (K, 3); or None
        """
        table = geometry.copies
        under = str(self._holder.GetPath())
        if not self._shapes:
            if table is not None:
                self._copies = UsdCopies(self._stage, f"{under}/copies", self._name)
                under = f"{under}/copies/bases"
            names = ["shape"] if table is None else [f"base{k}" for k in range(len(geometry.bases))]
            self._shapes = [
                UsdShape(self._stage, f"{under}/{name}", self._look, self._material)
                for name in names
            ]
            if self._copies is not None:
                self._copies.use([f"{under}/{name}" for name in names])
        for shape, mesh, own in zip(self._shapes, geometry.bases, colours, strict=False):
            shape.add(frame, moves, mesh, own)
        if self._copies is not None and table is not None:
            self._copies.add(frame, moves, table, colours[-1])


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


# Of what glass lets through, what is taken from its opacity: its rims stay visible.
GLASS_HIDES_LESS = 0.8


def _material(stage: Any, prim: str, look: UsdLook) -> Any:
    """UsdPreviewSurface that takes the colours at the points."""
    from pxr import Sdf, UsdGeom, UsdShade

    UsdGeom.Scope.Define(stage, "/study/materials")
    path = f"/study/materials/{prim}"
    material = UsdShade.Material.Define(stage, path)
    reader = UsdShade.Shader.Define(stage, f"{path}/colour")
    reader.CreateIdAttr("UsdPrimvarReader_float3")
    reader.CreateInput("varname", Sdf.ValueTypeNames.String).Set("displayColor")
    reader.CreateInput("fallback", Sdf.ValueTypeNames.Float3).Set(linear(look.material.colour))
    colour = reader.CreateOutput("result", Sdf.ValueTypeNames.Float3)
    shader = UsdShade.Shader.Define(stage, f"{path}/surface")
    shader.CreateIdAttr("UsdPreviewSurface")
    shader.CreateInput("diffuseColor", Sdf.ValueTypeNames.Color3f).ConnectToSource(colour)
    own = look.material
    # What the format has of a look; glass and sheen it has not, so that glass is see-through.
    amounts = {
        "roughness": own.roughness,
        "metallic": own.metal,
        "opacity": own.opacity * (1 - GLASS_HIDES_LESS * own.glass),
        "ior": own.refraction,
        "clearcoat": own.coat,
        "clearcoatRoughness": own.coat_roughness,
    }
    for name, amount in amounts.items():
        shader.CreateInput(name, Sdf.ValueTypeNames.Float).Set(float(amount))
    if own.glow > 0:
        colour = linear(own.glow_colour if own.glows_in_own else own.colour)
        glow = tuple(c * own.glow for c in colour)
        shader.CreateInput("emissiveColor", Sdf.ValueTypeNames.Color3f).Set(glow)
    material.CreateSurfaceOutput().ConnectToSource(
        shader.CreateOutput("surface", Sdf.ValueTypeNames.Token)
    )
    return material
