"""What lights, cameras and backdrops come to at one moment, the same for every renderer.

Renderers know these few kinds of lamps and pictures; entries of the library are made of them.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from zygomorph.core.geometry.affine import placed, turned


@dataclass(frozen=True)
class SunLamp:
    """Parallel light from far away.

    towards : (3,) unit direction on the stage in which it stands
    colour : "#rrggbb"
    strength : W/m² on a surface that faces it. A white matt surface then looks as bright as
        strength / π, where 1 is white on the screen
    shadow : whether what stands in it throws a shadow
    """

    towards: np.ndarray
    colour: str
    strength: float
    shadow: bool

    def moved(self, motion: np.ndarray) -> SunLamp:
        return replace(self, towards=turned(self.towards, motion))


@dataclass(frozen=True)
class SkyLamp:
    """Light from all sides, which goes from one colour above to another below.

    up : (3,) unit direction on the stage
    above, below : "#rrggbb"
    strength : W/m² on a surface, as a :class:`SunLamp` has it
    """

    up: np.ndarray
    above: str
    below: str
    strength: float

    def moved(self, motion: np.ndarray) -> SkyLamp:
        return replace(self, up=turned(self.up, motion))


@dataclass(frozen=True)
class DomeLamp:
    """Light from a picture all round.

    picture : its name; see :mod:`zygomorph.core.shared.dome_light`
    strength : W/m² on the mean of surfaces that face all ways
    axes : (3, 3) from the directions of the picture, whose middle is along -z, to the stage
    """

    picture: str
    strength: float
    axes: np.ndarray

    def moved(self, motion: np.ndarray) -> DomeLamp:
        turns = np.stack([turned(axis, motion) for axis in self.axes.T], axis=1)
        return replace(self, axes=turns)


@dataclass(frozen=True)
class PointLamp:
    """A small ball that shines to all sides.

    position : (3,) metres on the stage
    strength : W that it sends out. At a distance d a surface that faces it gets
        strength / (4π d²) W/m²
    radius : of the ball, metres, by which shadows are soft
    """

    position: np.ndarray
    colour: str
    strength: float
    radius: float
    shadow: bool

    def moved(self, motion: np.ndarray) -> PointLamp:
        return replace(self, position=placed(self.position, motion))


@dataclass(frozen=True)
class SpotLamp:
    """A point lamp behind an opening, which shines within a cone.

    target : (3,) metres on the stage, in the middle of the cone
    angle : across the cone, degrees; edge : share of its half over which it falls off
    """

    position: np.ndarray
    target: np.ndarray
    colour: str
    strength: float
    radius: float
    angle: float
    edge: float
    shadow: bool

    def moved(self, motion: np.ndarray) -> SpotLamp:
        position, target = (placed(each, motion) for each in (self.position, self.target))
        return replace(self, position=position, target=target)

    @property
    def cosines(self) -> tuple[float, float]:
        """Of the angles from the axis at which it is dark, and at which it is full."""
        half = np.radians(self.angle) / 2
        return float(np.cos(half)), float(np.cos(half * (1 - self.edge)))


@dataclass(frozen=True)
class AreaLamp:
    """A rectangle or a disc that shines from its front, as bright from every side.

    width, height : metres; of a disc both are its diameter
    strength : W that it sends out
    """

    position: np.ndarray
    target: np.ndarray
    width: float
    height: float
    round: bool
    colour: str
    strength: float
    shadow: bool

    def moved(self, motion: np.ndarray) -> AreaLamp:
        position, target = (placed(each, motion) for each in (self.position, self.target))
        return replace(self, position=position, target=target)

    @property
    def area(self) -> float:
        """m²"""
        share = np.pi / 4 if self.round else 1.0
        return float(max(self.width * self.height * share, 1e-9))

    @property
    def radiance(self) -> float:
        """W/m²/sr: a matt emitter sends π times its radiance from each m²."""
        return self.strength / (np.pi * self.area)


Lamp = SunLamp | SkyLamp | DomeLamp | PointLamp | SpotLamp | AreaLamp


@dataclass(frozen=True)
class Backdrop:
    """What is behind everything.

    kind : a "round" gradient by the distance from its middle, a "linear" one, or "clear": nothing
    stops : (share of the way, "#rrggbb"): of a round one to the farthest corner, of a linear one
        from side to side; colours between two stops are mixed in sRGB
    middle : (x, y) from the left and the top, in shares of the picture
    angle : degrees, counter-clockwise from a gradient that goes from left to right
    picture : of a "picture" its name; fit : how it fills the picture that is taken, the rest of
        which has the colour of the first stop; soft : share of its width over which it is smoothed
    """

    kind: Literal["round", "linear", "clear", "picture"]
    stops: tuple[tuple[float, str], ...]
    middle: tuple[float, float] = (0.5, 0.5)
    angle: float = 0.0
    picture: str = ""
    fit: Literal["cover", "whole", "stretch"] = "cover"
    soft: float = 0.0


@dataclass(frozen=True)
class Ground:
    """What the pieces stand on.

    level : height on the stage, metres; None under what is shown
    shadow, roughness, mirror : shares
    """

    kind: Literal["none", "shadow", "plane", "mirror"]
    level: float | None
    shadow: float
    colour: str
    roughness: float
    mirror: float


@dataclass(frozen=True)
class Finish:
    """What is done to the picture as a whole.

    exposure : factor of all light
    contrast : from -1 to 1; the others : shares; occlusion_radius : metres
    trails : share of each picture that is left one frame later, as ``trails_as`` says
    """

    exposure: float
    contrast: float
    bloom: float
    bloom_from: float
    bloom_size: float
    occlusion: float
    occlusion_radius: float
    vignette: float
    trails: float = 0.0
    trails_as: Literal["lighter", "mixed"] = "lighter"
