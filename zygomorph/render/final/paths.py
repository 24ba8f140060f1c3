"""State of the paths and of their current hits, as arrays with one lane a path."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from zygomorph.render.final.bsdf import Matter, Opaque


@dataclass
class Path:
    """State of all paths.

    origin, way, reach : of the current ray: its origin, unit direction and length limit
    throughput : product of the scattering weights so far; light : radiance gathered so far
    clear : transmittance to the backdrop, 1 - alpha
    straight : whether it has not been scattered, only refracted, so that it ends at the backdrop
    direct : whether it has passed through nothing but clear surfaces
    density : with which the current direction was sampled, per steradian; 0 of a delta lobe
    absorption : coefficient of the glass that it is in, 1/m; depth : number of scatterings
    floored : whether shadow-only ground was accounted for
    first : whether nothing was hit yet; albedo, normal, seen : of the primary hit; NONE before
    chance : low-discrepancy number for the choice at the primary hit; random : generator of others
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
    """Hits of all paths.

    si : Mitsuba's surface interaction; v : unit direction back along the path
    ng, n : geometric and shading normal on the side of v; frame : about n
    outside : whether v is outside of the body
    matter, absorption, thin, opaque : material at the hit
    is_glass, is_mirror : whether it is scattered by glass, or specularly by mirroring ground
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
