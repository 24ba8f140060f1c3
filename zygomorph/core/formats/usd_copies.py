"""Copies as a point instancer of a USD stage: bases once, and where each copy is over time."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.formats.placed_copies import taken_apart
from zygomorph.core.formats.usd_shape import Track, rows_of
from zygomorph.core.geometry.geometry import Copies


class UsdCopies:
    """One point instancer, filled moment by moment; path : where it is on the stage"""

    def __init__(self, stage: Any, path: str, name: str) -> None:
        from pxr import UsdGeom

        self._name = name
        self._instancer = UsdGeom.PointInstancer.Define(stage, path)
        # What is copied is seen where the copies are, and nowhere else.
        UsdGeom.Scope.Define(stage, f"{path}/bases")
        self._tracks = {key: Track() for key in ("base", "move", "turn", "size", "colour")}
        self._turns: np.ndarray | None = None

    def use(self, bases: list[str]) -> None:
        """The prims that are copied, by their paths."""
        self._instancer.CreatePrototypesRel().SetTargets(bases)

    def add(self, frame: float, moves: bool, copies: Copies, colours: np.ndarray | None) -> None:
        """Add a moment; colours : (K, 3) linear, or None

        Raises ZygomorphError where a copy is sheared.
        """
        from pxr import UsdGeom, Vt

        own = self._instancer
        move, turn, size = taken_apart(copies.placements, self._name)
        turn = self._near(turn)
        time = frame if moves else None

        def whole(rows: np.ndarray, at: Any) -> None:
            own.GetProtoIndicesAttr().Set(Vt.IntArray.FromNumpy(rows), at)

        def turned(rows: np.ndarray, at: Any) -> None:
            # w first, as it is written; the array holds x y z w.
            quaternions = Vt.QuatfArray.FromNumpy(np.ascontiguousarray(rows, np.float32))
            own.GetOrientationsfAttr().Set(quaternions, at)

        self._tracks["base"].put(np.ascontiguousarray(copies.base), time, whole)
        self._tracks["move"].put(
            move, time, lambda rows, at: own.GetPositionsAttr().Set(rows_of(rows), at)
        )
        self._tracks["turn"].put(turn, time, turned)
        self._tracks["size"].put(
            size, time, lambda rows, at: own.GetScalesAttr().Set(rows_of(rows), at)
        )
        if colours is not None:
            from pxr import Sdf

            primvar = UsdGeom.PrimvarsAPI(own).CreatePrimvar(
                "displayColor", Sdf.ValueTypeNames.Color3fArray, UsdGeom.Tokens.varying
            )
            self._tracks["colour"].put(
                colours, time, lambda rows, at: primvar.Set(rows_of(rows), at)
            )

    def _near(self, turn: np.ndarray) -> np.ndarray:
        """Each quaternion on the same side as the one before, so that mixing goes the short way."""
        if self._turns is not None and len(self._turns) == len(turn):
            flipped = np.einsum("kj,kj->k", turn, self._turns) < 0
            turn[flipped] *= -1
        self._turns = turn
        return turn
