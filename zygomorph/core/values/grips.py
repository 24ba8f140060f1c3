"""How lengths, places and angles of an entry are shown on the stage, where they are dragged.

A grip is described by values of its entry, so that it follows them: its foot is a sum of places,
each a vector value, or a number times a vector.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any, Literal

Triple = tuple[float, float, float]
X: Triple = (1.0, 0.0, 0.0)
Y: Triple = (0.0, 1.0, 0.0)
Z: Triple = (0.0, 0.0, 1.0)


@dataclass(frozen=True)
class Foot:
    """A value whose vector, or whose number times ``times``, is one part of a foot."""

    value: str
    times: Triple | None = None


@dataclass(frozen=True)
class Grip:
    """One value, or one component as ``name/0``, shown on the stage.

    kind : "reach", a length along a line from the foot; "spot", a place seen from the foot;
        "turn", an angle about an axis through the foot; "gimbal", three angles about x, then y,
        then z; "plane", a place with the plane through it and the arrow that turns it
    along : the line of a reach, the axis of a turn or what is across a plane: a direction, or the
        name of one
    per : metres of the line for one unit of the value; -1 for a turn that is left-handed
    round : the value that is the radius of a turn's circle; without it the circle suits the piece
    beside : the line goes out at the side of the axis that ``along`` names, where deformers begin
        to count their angles
    turned : the value whose turns about x, then y, then z turn the line as well
    foot : from the piece's origin
    """

    kind: Literal["reach", "spot", "turn", "gimbal", "plane"]
    value: str
    along: Triple | str = X
    per: float = 1.0
    round: str | None = None
    foot: tuple[Foot, ...] = ()
    beside: bool = False
    turned: str | None = None

    def describe(self) -> dict[str, Any]:
        return asdict(self)


def _feet(given: tuple[str | tuple[str, Triple], ...]) -> tuple[Foot, ...]:
    return tuple(Foot(each) if isinstance(each, str) else Foot(*each) for each in given)


def reach(
    value: str, along: Triple | str, *foot: str | tuple[str, Triple], per: float = 1.0
) -> Grip:
    """A length: its tip is dragged along the line."""
    return Grip("reach", value, along, per, None, _feet(foot))


def both_ways(
    value: str,
    along: Triple | str,
    *foot: str | tuple[str, Triple],
    turned: str | None = None,
    beside: bool = False,
) -> Grip:
    """A size whose half lies on each side of the foot."""
    return Grip("reach", value, along, 0.5, None, _feet(foot), beside, turned)


def beside(value: str, axis: str, *foot: str | tuple[str, Triple]) -> Grip:
    """A length across an axis."""
    return Grip("reach", value, axis, 1.0, None, _feet(foot), True)


def spot(value: str, *foot: str | tuple[str, Triple]) -> Grip:
    """A place that is dragged across the view."""
    return Grip("spot", value, foot=_feet(foot))


def turn(
    value: str,
    about: Triple | str,
    *foot: str | tuple[str, Triple],
    round: str | None = None,
    per: float = 1.0,
) -> Grip:
    """An angle: its grip is dragged round a circle, from the side of the axis that deformers
    have (:func:`zygomorph.core.transforms.axis_frame.axis_frame`)."""
    return Grip("turn", value, about, per, round, _feet(foot))


def gimbal(value: str, *foot: str | tuple[str, Triple]) -> Grip:
    """Turns about x, then y, then z, as three circles."""
    return Grip("gimbal", value, foot=_feet(foot))


def plane(value: str, across: str, *foot: str | tuple[str, Triple]) -> Grip:
    """A place in a plane, and the direction across it."""
    return Grip("plane", value, across, foot=_feet(foot))
