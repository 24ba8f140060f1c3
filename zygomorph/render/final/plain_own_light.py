"""Emission for the plain tracer: glow, and the light of strokes and dots.

Mitsuba's integrators hide all emitters from the camera or none. So emission is rendered as a
picture of its own, in which all materials are black, and added to the other.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import mitsuba as mi
import numpy as np

from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.view import View
from zygomorph.render.final.strokes import stroke_light
from zygomorph.render.final.things import COLOUR, GLASS, METAL, OPACITY, OWN, Surface

# Surfaces that are seen through, one behind the other.
MOST_CROSSED = 16
# Copies of more points than these together are left out.
MOST_WRITTEN = 2_000_000


class OwnLight:
    """surfaces : all visible surfaces; those that do not shine occlude others"""

    def __init__(self, surfaces: Sequence[Surface], view: View) -> None:
        own = [_shining(each, view) for each in surfaces]
        self._scene = None
        if not any(_shines(each) for each in own):
            return
        described: dict[str, Any] = {
            "type": "scene",
            "integrator": {"type": "path", "max_depth": MOST_CROSSED, "hide_emitters": False},
        }
        for k, surface in enumerate(own):
            if _is_written(surface):
                described[f"surface{k}"] = _mesh(f"surface{k}", _written(surface))
        self._scene = mi.load_dict(described)

    def trace(self, sensor: Any, samples: int, seed: int) -> np.ndarray | float:
        """(rows, columns, 3) emission seen by a sensor; 0 if nothing shines."""
        if self._scene is None:
            return 0.0
        found = np.array(mi.render(self._scene, sensor=sensor, seed=seed, spp=samples))
        light: np.ndarray = np.nan_to_num(found[..., :3].astype(np.float32))
        return light


def _shines(surface: Surface) -> bool:
    return bool((surface.looks[:, OWN] > 0).any())


def _shining(surface: Surface, view: View) -> Surface:
    """The surface with its stroke shading added to its glow. Glass becomes clear, so that emission
    is seen through it, unrefracted."""
    looks = surface.looks.copy()
    looks[:, OPACITY] *= 1 - looks[:, GLASS] * (1 - looks[:, METAL])
    surface = replace(surface, looks=looks)
    if surface.optics.shaded == "lamps" or not len(surface.points):
        return surface
    light = stroke_light(surface.normals, surface.points, view, surface.optics.shaded)
    looks[:, OWN] += looks[:, COLOUR] * light[:, None]
    return replace(surface, looks=looks)


def _written(surface: Surface) -> Surface:
    """The surface with its copies written out, because emitters cannot be instances."""
    if surface.placements is None:
        return surface
    count, corners = len(surface.placements), len(surface.points)
    points = [transformed(surface.points, placement) for placement in surface.placements]
    looks = np.tile(surface.looks, (count, 1))
    if surface.of_copies is not None:
        looks = np.repeat(surface.of_copies, corners, axis=0)
    first = np.arange(count, dtype=np.uint32)[:, None, None] * np.uint32(corners)
    return replace(
        surface,
        points=np.concatenate(points),
        normals=np.tile(surface.normals, (count, 1)),
        triangles=(surface.triangles + first).reshape(-1, 3),
        looks=looks,
        placements=None,
        of_copies=None,
    )


def _is_written(surface: Surface) -> bool:
    copies = 0 if surface.placements is None else len(surface.placements)
    return copies * len(surface.points) <= MOST_WRITTEN


def _mesh(name: str, surface: Surface) -> Any:
    """A black mesh with an emission at each point."""
    # The integrator does not sample lights for a delta lobe. It could not: emission that varies
    # over a mesh cannot be sampled.
    matter: dict[str, Any] = {
        "type": "twosided",
        "bsdf": {"type": "conductor", "specular_reflectance": {"type": "rgb", "value": 0.0}},
    }
    if (surface.looks[:, OPACITY] < 1).any():
        opacity = {"type": "mesh_attribute", "name": "vertex_opacity"}
        matter = {"type": "mask", "opacity": opacity, "bsdf": matter}
    properties = mi.Properties()
    properties["mesh_bsdf"] = mi.load_dict(matter)
    if _shines(surface):
        radiance = {"type": "mesh_attribute", "name": "vertex_own"}
        properties["mesh_emitter"] = mi.load_dict({"type": "area", "radiance": radiance})
    mesh = mi.Mesh(name, len(surface.points), len(surface.triangles), props=properties)
    parameters = mi.traverse(mesh)
    parameters["vertex_positions"] = surface.points.ravel()
    parameters["faces"] = surface.triangles.ravel()
    parameters.update()
    mesh.add_attribute("vertex_own", 3, surface.looks[:, OWN].ravel())
    mesh.add_attribute("vertex_opacity", 1, np.ascontiguousarray(surface.looks[:, OPACITY]))
    return mesh
