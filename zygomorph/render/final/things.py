"""What a final picture is drawn of: plain arrays, without a study and without a renderer."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from zygomorph.core.geometry.images import Images
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.drawn_scene import Backdrop, Finish, Ground, Lamp
from zygomorph.render.final.strokes import Shaded

# Columns of a table of looks: what differs from element to element.
COLOUR, OWN = slice(0, 3), slice(3, 6)
ROUGHNESS, METAL, OPACITY, GLASS, COAT, SHEEN = range(6, 12)
COLUMNS = 12
# Behind them lie the weights of masks that are wanted, a column each.


@dataclass(frozen=True)
class Optics:
    """What of a look is the same all over a piece.

    absorption : (3,) 1/m, of glass: light that goes x metres through it is left with exp(-x · it)
    sphere : name of the picture of a ball by which it is shaded; None where lights light it
    shaded : by the lamps, or as strokes and dots are; see :mod:`zygomorph.render.final.strokes`
    held_out : it hides what is behind it from the eye, and is nothing itself
    """

    refraction: float = 1.5
    absorption: tuple[float, float, float] = (0.0, 0.0, 0.0)
    thin: bool = False
    coat_roughness: float = 0.1
    sheen_colour: tuple[float, float, float] = (1.0, 1.0, 1.0)
    sphere: str | None = None
    held_out: bool = False
    shaded: Shaded = "lamps"


@dataclass(frozen=True)
class Surface:
    """Triangles of one piece, or a base with copies of it.

    points : (P, 3) float32 metres, on the stage, or of a base in its own space
    normals : (P, 3) float32 unit
    triangles : (T, 3) uint32
    looks : (P, COLUMNS or more) float32; colours are linear, ``OWN`` is radiance
    placements : (K, 3, 4) float32 from the base to the stage; None where it is drawn once
    of_copies : (K, COLUMNS or more) float32, the look of each copy where they differ; None where
        they do not
    """

    piece: str
    points: np.ndarray
    normals: np.ndarray
    triangles: np.ndarray
    looks: np.ndarray
    optics: Optics
    placements: np.ndarray | None = None
    of_copies: np.ndarray | None = None


@dataclass(frozen=True)
class Dots:
    """Loose points of one piece as balls or facing polygons.

    centres : (N, 3) float32 metres on the stage; radii : (N,) float32 metres
    looks : (N, COLUMNS or more) float32
    sides : of their outline, about; the fewer the quicker
    axes : (3, 3) columns, to the right, upwards and towards the viewer, across which they lie; None
        for balls
    """

    piece: str
    centres: np.ndarray
    radii: np.ndarray
    looks: np.ndarray
    optics: Optics
    sides: int = 32
    axes: np.ndarray | None = None


@dataclass(frozen=True)
class Floor:
    """What the pieces stand on, at its height.

    reach : metres from its middle to its rim
    """

    ground: Ground
    middle: tuple[float, float, float]
    reach: float


@dataclass(frozen=True)
class Things:
    """A study at one moment.

    floor : None where there is none
    images : where pictures of domes, balls and backdrops are
    """

    surfaces: tuple[Surface, ...]
    dots: tuple[Dots, ...]
    lamps: tuple[Lamp, ...]
    view: View
    backdrop: Backdrop
    floor: Floor | None
    finish: Finish
    images: Images


Quality = Literal["draft", "final"]
