"""Paths on their way, and what they met: one number of each for every path."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from zygomorph.render.final.surface_light import Matter, Opaque


@dataclass
class Path:
    """Paths on their way, one a lane.

    throughput : by what light from further on is multiplied; clear : how much of what is behind is
    seen; straight : whether it came from the eye without being thrown back, so that the backdrop is
    what it ends at; direct : whether nothing but holes was between it and the eye
    density : with which the present direction was found; 0 where it could be no other
    absorption : of the glass that it is in
    seen : number of the part that is seen first, NONE before
    chance : a number from 0 to 1 for what is seen first, evenly spread over the paths of a pixel
    """

    active: Any
    origin: Any
    way: Any
    reach: Any
    throughput: Any
    light: Any
    clear: Any
    straight: Any
    direct: Any
    density: Any
    absorption: Any
    depth: Any
    floored: Any
    first: Any
    albedo: Any
    normal: Any
    seen: Any
    chance: Any
    random: Any


@dataclass
class Hit:
    """What paths met.

    ng, n : geometric and shading normal on the side of v, the way back along the path
    outside : whether v is outside of the body; is_glass, is_mirror : whether the path goes on as
        by glass, or by a mirroring ground
    """

    si: Any
    ng: Any
    n: Any
    v: Any
    frame: Any
    outside: Any
    matter: Matter
    absorption: Any
    thin: Any
    opaque: Opaque
    is_glass: Any
    is_mirror: Any
