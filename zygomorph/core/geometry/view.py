"""What a camera sees."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from zygomorph.core.geometry.affine import placed, turned, unit
from zygomorph.core.kernels.rotation import rotation


@dataclass(frozen=True)
class View:
    """What a camera sees.

    position, target : (3,) metres on the stage: where it is, and what it looks at
    up : (3,) unit direction on the stage that is upwards in the picture, at right angles to the way
        to the target
    aspect : width of the picture over its height
    angle : of view from the lower to the upper edge of the picture, degrees
    height : from edge to edge, metres, of an orthographic view; None of a perspective one
    near, far : metres, of what is drawn; None where the renderer finds them
    lens_radius : of the opening of the lens, metres; 0 for a pinhole, which has all in focus
    blades : of the opening; 0 where it is round
    focus : distance along the axis at which it is sharp, metres
    focus_on : id of the piece whose surface on the axis is in focus instead, or ""
    shutter : share of a frame for which it is open
    """

    position: np.ndarray
    target: np.ndarray
    up: np.ndarray = field(default_factory=lambda: np.array([0.0, 1.0, 0.0]))
    aspect: float = 16 / 9
    angle: float = 32.0
    height: float | None = None
    near: float | None = None
    far: float | None = None
    lens_radius: float = 0.0
    blades: int = 0
    focus: float = 1.0
    focus_on: str = ""
    shutter: float = 0.5

    @property
    def fingerprint(self) -> bytes:
        """The same bytes where the same is seen from the same place, and only then."""
        lens = np.array([self.angle, self.height or 0.0])
        return b"".join(v.tobytes() for v in (self.position, self.target, self.up, lens))

    @property
    def axes(self) -> np.ndarray:
        """(3, 3) columns: to the right, upwards, and back from what it looks at."""
        back = unit(self.position - self.target)
        right = unit(np.cross(self.up, back))
        return np.stack([right, np.cross(back, right), back], axis=1)

    @property
    def place(self) -> np.ndarray:
        """(4, 4) where it is: from its own axes to the stage."""
        found = np.eye(4)
        found[:3, :3], found[:3, 3] = self.axes, self.position
        return found

    def turned(self, pitch: float, yaw: float, roll: float) -> View:
        """Turned on the spot about its own axes: upwards, to the left, and counter-clockwise as the
        picture is seen; degrees."""
        if pitch == yaw == roll == 0:
            return self
        turn = self.axes @ rotation(np.array([pitch, yaw, roll]))
        away = float(np.linalg.norm(self.target - self.position))
        return replace(self, target=self.position - turn[:, 2] * away, up=turn[:, 1])

    def shifted(self, right: float, up: float, forward: float) -> View:
        """Moved along its own axes, metres; it looks the same way."""
        if right == up == forward == 0:
            return self
        way = self.axes @ np.array([right, up, -forward])
        return replace(self, position=self.position + way, target=self.target + way)

    def moved(self, motion: np.ndarray) -> View:
        position, target = (placed(each, motion) for each in (self.position, self.target))
        return replace(self, position=position, target=target, up=turned(self.up, motion))


def upright(position: np.ndarray, target: np.ndarray) -> np.ndarray:
    """(3,) unit, upwards in a picture that does not lean. Straight up or down, away is upwards."""
    way = target - position
    for up in (np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, -1.0])):
        right = np.cross(way, up)
        size = float(np.linalg.norm(right))
        if size > 1e-6 * max(float(np.linalg.norm(way)), 1e-12):
            found: np.ndarray = np.cross(right / size, way)
            return found / np.linalg.norm(found)
    return np.array([0.0, 1.0, 0.0])
