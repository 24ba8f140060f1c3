"""The scene that is path traced, as plain arrays that depend on no study and no renderer."""

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
    """The part of a look that is constant over a piece.

    refraction : index of refraction
    absorption : (3,) coefficient of glass, 1/m: x metres of it transmit exp(-x · absorption)
    thin : whether glass is a sheet without volume
    coat_roughness : of the clear coat; sheen_colour : linear
    sphere : name of the picture of a ball that it is shaded by; None if lamps light it
    held_out : whether it is a holdout
    shaded : see :mod:`zygomorph.render.final.strokes`
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
    """Triangles of one piece, or a base mesh with its copies.

    points : (P, 3) float32 metres, on the stage, or in the base's own space
    normals : (P, 3) float32 unit
    triangles : (T, 3) uint32
    looks : (P, COLUMNS or more) float32; colours are linear, ``OWN`` is radiance
    placements : (K, 3, 4) float32 from the base to the stage; None without copies
    of_copies : (K, COLUMNS or more) float32, the look of each copy; None if all look like the base
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
    sides : approximate number of sides of their outline
    axes : (3, 3) columns to the right, upwards and towards the viewer, of facing polygons; None for
        balls
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
    """The ground.

    middle : (3,) metres; reach : radius, metres
    """

    ground: Ground
    middle: tuple[float, float, float]
    reach: float


@dataclass(frozen=True)
class Things:
    """The scene at one moment.

    floor : None without ground
    images : pictures of domes, balls and backdrops by name
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
