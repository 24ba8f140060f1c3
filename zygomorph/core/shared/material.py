"""What a look says of a surface, the same for every renderer and every file.

The model is that of glTF 2.0: metal and roughness, with its extensions for transmission, index of
refraction, volume, clear coat, sheen and emissive strength (Khronos Group, glTF 2.0 Specification,
and KHR_materials_*, from memory).
"""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Literal

Drawn = Literal["surface", "edges", "lines", "points"]
# Colours, and amounts from 0 to 1 (of the glow, as many as wanted; of the size, metres or pixels),
# that a look may have by value, in the order in which viewers have them.
COLOURS = ("colour", "glow_colour")
AMOUNTS = ("roughness", "metal", "opacity", "glow", "glass", "coat", "sheen", "size")


@dataclass(frozen=True)
class Material:
    """How a surface is drawn where nothing goes by value.

    colour : "#rrggbb"
    roughness : from 0, mirror-like, to 1, chalky; metal : from 0 to 1
    opacity : from 0 to 1
    glow : light of its own, in shares of the colour, or of ``glow_colour`` where ``glows_in_own``
    glass : share of the light that is not thrown back and goes through
    refraction : index of refraction
    tint, tint_depth : the colour that white light has after so many metres of glass
    thin : whether the surface is a thin sheet of glass, which does not bend light
    coat, coat_roughness : a clear layer over it; sheen, sheen_colour : a soft shine at its rims
    size : width of curves and lines and size of loose points, metres, or pixels where ``on_screen``
    dots : how loose points are drawn
    sphere : name of the picture of a ball by which it is shaded, or None where lights light it
    edge_colour : of edges that are drawn over a surface
    flat : whether faces are shown instead of a surface rounded over them
    """

    colour: str = "#c98f6b"
    glow_colour: str = "#ffffff"
    roughness: float = 0.55
    metal: float = 0.0
    opacity: float = 1.0
    glow: float = 0.0
    glass: float = 0.0
    coat: float = 0.0
    sheen: float = 0.0
    size: float = 0.008
    refraction: float = 1.5
    tint: str = "#ffffff"
    tint_depth: float = 1.0
    thin: bool = False
    coat_roughness: float = 0.1
    sheen_colour: str = "#ffffff"
    on_screen: bool = False
    dots: Literal["balls", "discs", "squares"] = "balls"
    drawn: Drawn = "surface"
    flat: bool = False
    glows_in_own: bool = False
    edge_colour: str = "#f4eefb"
    sphere: str | None = None


assert {*COLOURS, *AMOUNTS} <= {field.name for field in fields(Material)}
