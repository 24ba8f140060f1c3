"""Where places of the surfaces of pieces are over time, for what sticks to them."""

from __future__ import annotations

from contextvars import ContextVar
from typing import NamedTuple

import numpy as np

from zygomorph.core.document.study import Meshes, Study, SurfacePlace
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.surface_frame import surface_frame
from zygomorph.core.memo.memo import Memo

KEPT_BYTES = 24_000_000
# Pieces whose surfaces are being asked for.
_asked: ContextVar[frozenset[str]] = ContextVar("surfaces asked for", default=frozenset())


class _Kept(NamedTuple):
    """matrix : (4, 4), or None where there is no surface"""

    matrix: np.ndarray | None


class KeptSurfaceFrames:
    """Frames of reference on surfaces. They are kept, because all that sticks to one place asks
    for it, and again where the same frame is drawn."""

    def __init__(self, placed_mesh: Meshes) -> None:
        self._placed_mesh = placed_mesh
        self._kept: Memo[_Kept] = Memo(KEPT_BYTES)

    def __call__(
        self, study: Study, place: SurfacePlace, frame: float, final: bool
    ) -> np.ndarray | None:
        """See :data:`zygomorph.core.document.study.SurfaceFrames`."""
        asked = _asked.get()
        # A checked document has no circle of what moves what, but may have one of values that are
        # spread by the distance to a piece: what is asked for there is not made yet.
        if place.piece in asked or all(piece["id"] != place.piece for piece in study.pieces):
            return None
        token = _asked.set(asked | {place.piece})
        try:
            key = (piece_key(study, place.piece, final), place, frame)
            found = self._kept.get(key)
            if found is None:
                made = self._placed_mesh(study, place.piece, frame, final)
                found = _Kept(_frame(made, place))
                self._kept.put(key, found)
            return found.matrix
        finally:
            _asked.reset(token)


def _frame(made: tuple[Mesh, np.ndarray] | None, place: SurfacePlace) -> np.ndarray | None:
    if made is None:
        return None
    mesh, to_stage = made
    on_stage = mesh.moved(transformed(mesh.points, to_stage))
    return surface_frame(on_stage, np.array(place.at_rest, np.float64), place.smooth)
