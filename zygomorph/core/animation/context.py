"""What a form, step or layer may know besides its values and its mesh."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import Sounds, made_sounds
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.images import Images
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.view import View
from zygomorph.core.memo.memo import Memo

# Each count of a form that is dragged through many makes a structure of its own.
STRUCTURE_BYTES = 224_000_000


def no_assets(digest: str) -> Mesh:
    raise ZygomorphError(
        f"The mesh {digest[:12] or '(none)'} is not stored here.",
        "Bring the mesh file in again and choose it for this form.",
    )


@dataclass(frozen=True)
class Other:
    """Another piece at the same frame.

    name : what the artist calls it
    matrix : (4, 4) from that piece's space to this one's, by their world transforms
    key : the same for the same mesh, and only then
    """

    name: str
    geometry: Geometry
    matrix: np.ndarray
    key: str

    @property
    def mesh(self) -> Mesh:
        """Its mesh, with all copies written out. Raises ZygomorphError where they are too many."""
        return self.geometry.real


def no_others(piece_id: str) -> Other:
    raise ZygomorphError(
        f"There is no piece {piece_id!r} here." if piece_id else "No other piece is chosen.",
        "Choose a piece of this study.",
    )


def _at_rest(mesh: Mesh) -> np.ndarray:
    return np.zeros((len(mesh.points), 3), np.float32)


@dataclass(frozen=True)
class Context:
    """frame : in frames from the loop's beginning
    place : (4, 4) from the piece to the stage at this frame
    undo_parent : (4, 4) that takes points to where they would be had the parent of the mask layer
        at hand not moved, or None
    parent_motion : (4, 4) how the parent of a system has moved since it was attached, or None
    forces : of a system, the steps before it that move its points, see
        :mod:`zygomorph.core.shared.forces`
    view : what the study's camera sees
    memo : keeps what entries make of counts alone, and searches over other pieces
    velocity : how fast points of a mesh that came out of all steps move on the stage at this frame,
        (P, 3) m/s; zero where other points are there before or after
    other : another piece by its id; raises ZygomorphError where there is none, or it cannot be made
    """

    loop: Loop = field(default_factory=Loop)
    frame: float = 0.0
    place: np.ndarray = field(default_factory=lambda: np.eye(4))
    asset: Callable[[str], Mesh] = no_assets
    other: Callable[[str], Other] = no_others
    image: Images = field(default_factory=Images)
    sound: Sounds = made_sounds
    undo_parent: np.ndarray | None = None
    parent_motion: np.ndarray | None = None
    forces: Sequence[Any] = ()
    velocity: Callable[[Mesh], np.ndarray] = _at_rest
    view: View = field(default_factory=lambda: View(np.zeros(3), np.array([0.0, 0.0, -1.0])))
    memo: Memo[Any] = field(default_factory=lambda: Memo(STRUCTURE_BYTES))

    @property
    def viewer(self) -> np.ndarray:
        """(3,) where the study's camera is on the stage, metres."""
        return self.view.position
