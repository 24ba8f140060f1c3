"""What lights, cameras and backdrops come to at one moment, the same for every renderer.

Renderers know these few kinds of lamps and pictures; entries of the library are made of them.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from zygomorph.core.geometry.affine import unit


def _turned(direction: np.ndarray, motion: np.ndarray) -> np.ndarray:
    """A direction after a (4, 4) move and turn, of unit length."""
    return unit(motion[:3, :3] @ direction)


def _placed(point: np.ndarray, motion: np.ndarray) -> np.ndarray:
    found: np.ndarray = motion[:3, :3] @ point + motion[:3, 3]
    return found


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
        return replace(self, towards=_turned(self.towards, motion))


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
        return replace(self, up=_turned(self.up, motion))


Lamp = SunLamp | SkyLamp


@dataclass(frozen=True)
class View:
    """Where a camera is and what it looks at.

    position, target : (3,) metres on the stage
    angle : of view from the lower to the upper edge of the picture, degrees
    """

    position: np.ndarray
    target: np.ndarray
    angle: float

    def moved(self, motion: np.ndarray) -> View:
        position, target = (_placed(each, motion) for each in (self.position, self.target))
        return replace(self, position=position, target=target)


@dataclass(frozen=True)
class RoundGradient:
    """A picture behind everything: colours in circles round a place.

    middle : (x, y) from the left and the top, in shares of the picture
    stops : (share of the way to the farthest corner, "#rrggbb"), from the middle outwards;
        colours between two stops are mixed in sRGB
    """

    middle: tuple[float, float]
    stops: tuple[tuple[float, str], ...]
