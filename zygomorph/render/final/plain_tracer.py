"""Path tracing by Mitsuba's own integrator and materials, for machines without LLVM 19.

It is slower and leaves out what :data:`LEFT_OUT` lists. Its pictures are close to those of
:mod:`zygomorph.render.final.path_tracer` but not the same, so workers with and without LLVM do not
share a job.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import mitsuba as mi
import numpy as np

from zygomorph.core.errors import Cancelled
from zygomorph.core.geometry.affine import unit
from zygomorph.core.shared.drawn_scene import AreaLamp, Lamp, PointLamp, SpotLamp, SunLamp
from zygomorph.core.values.gradients import parse_hex, to_linear
from zygomorph.render.final.dot_meshes import dot_mesh
from zygomorph.render.final.environment import radiance_around
from zygomorph.render.final.eye import share_of_height
from zygomorph.render.final.floor import floor_surface
from zygomorph.render.final.plain_own_light import OwnLight
from zygomorph.render.final.settings import FinalSettings
from zygomorph.render.final.things import (
    COAT,
    COLOUR,
    GLASS,
    METAL,
    OPACITY,
    ROUGHNESS,
    SHEEN,
    Optics,
    Surface,
    Things,
)
from zygomorph.render.final.traced import Traced

LEFT_OUT = (
    "Lamps whose shadow is off throw one",
    "ground for shadows is not drawn",
    "glass shows the surroundings instead of the backdrop",
    "the shape of the aperture's blades is round",
    "pictures of balls do not shade",
    "glow lights nothing around it, and glass does not bend it",
)
# Channels that the integrator gives, after colour and opacity.
AOVS = "albedo:albedo,normal:sh_normal"
CHANNELS = 10
# Of a lamp that has no size, as small a ball as is seen to have one.
LEAST_RADIUS = 1e-4
_AMOUNTS = {
    "roughness": ROUGHNESS,
    "metal": METAL,
    "glass": GLASS,
    "coat": COAT,
    "sheen": SHEEN,
    "opacity": OPACITY,
}


class PlainTracer:
    """Traces one moment, like :class:`zygomorph.render.final.path_tracer.PathTracer`."""

    def __init__(self, things: Things, settings: FinalSettings) -> None:
        self._settings = settings
        self._things = things
        surfaces = self._surfaces()
        self._scene = mi.load_dict(self._described(surfaces))
        self._own_light = OwnLight(surfaces, things.view)

    def trace(
        self,
        first_sample: int,
        samples: int,
        rows: range | None = None,
        seed: int = 0,
        cancelled: Callable[[], bool] = lambda: False,
    ) -> Traced:
        """The mean of a range of the samples of each pixel; see PathTracer.trace."""
        if cancelled():
            raise Cancelled
        columns, all_rows = self._settings.size
        wanted = range(all_rows) if rows is None else rows
        sensor = mi.load_dict(self._sensor(wanted, samples))
        own = (seed + 7919 * first_sample + 104_729 * wanted.start) & 0x7FFFFFFF
        found = np.array(mi.render(self._scene, sensor=sensor, seed=own, spp=samples))
        picture = np.nan_to_num(found.reshape(len(wanted), columns, -1).astype(np.float32))
        return Traced(
            picture[..., :3] + self._own_light.trace(sensor, samples, own),
            np.clip(picture[..., 3], 0, 1),
            picture[..., 4:7],
            picture[..., 7:10],
            np.zeros((*picture.shape[:2], 0, 4), np.float32),
        )

    def _surfaces(self) -> list[Surface]:
        """All visible parts as surfaces, dots and ground included."""
        things = self._things
        found = list(things.surfaces)
        floor = things.floor
        if floor is not None and floor.ground.kind != "shadow":
            found.append(floor_surface(floor))
        for dots in things.dots:
            points, normals, triangles, source = dot_mesh(dots)
            # A corner belongs to one dot.
            looks = np.empty((len(points), dots.looks.shape[1]), np.float32)
            looks[triangles] = dots.looks[source][:, None]
            found.append(Surface(dots.piece, points, normals, triangles, looks, dots.optics))
        return [each for each in found if len(each.triangles) and not each.optics.held_out]

    def _described(self, surfaces: Sequence[Surface]) -> dict[str, Any]:
        things = self._things
        found: dict[str, Any] = {
            "type": "scene",
            "integrator": {
                "type": "aov",
                "aovs": AOVS,
                "light": {
                    "type": "volpath",
                    "max_depth": self._settings.bounces + 1,
                    "hide_emitters": True,
                },
            },
        }
        for k, surface in enumerate(surfaces):
            found |= _shown(f"surface{k}", surface)
        for k, lamp in enumerate(things.lamps):
            emitter = _emitter(lamp)
            if emitter is not None:
                found[f"lamp{k}"] = emitter
        around = radiance_around(things.lamps, things.images)
        if around is not None:
            turned = np.roll(around, -(around.shape[1] // 2), axis=1)
            bitmap = mi.Bitmap(np.ascontiguousarray(turned))
            found["around"] = {"type": "envmap", "bitmap": bitmap}
        return found

    def _sensor(self, rows: range, samples: int) -> dict[str, Any]:
        view, (columns, all_rows) = self._things.view, self._settings.size
        share = share_of_height((columns, all_rows), view.aspect)
        # Mitsuba's pictures begin on the right of what is looked at.
        place = mi.ScalarTransform4f().look_at(
            view.position.tolist(), view.target.tolist(), view.up.tolist()
        )
        film = {
            "type": "hdrfilm",
            "width": columns,
            "height": all_rows,
            "crop_offset_y": rows.start,
            "crop_height": len(rows),
            "crop_offset_x": 0,
            "crop_width": columns,
            "rfilter": {"type": "box"},
            "pixel_format": "rgba",
            "component_format": "float32",
        }
        common = {
            "film": film,
            "sampler": {"type": "independent", "sample_count": samples},
            "near_clip": float(view.near or 1e-3),
            "far_clip": float(view.far or 1e6),
        }
        if view.height is not None:
            half = float(view.height / 2 / share)
            # An orthographic picture is as wide as its own scale says.
            scale = mi.ScalarTransform4f().scale([half * columns / all_rows] * 2 + [1.0])
            return {"type": "orthographic", "to_world": place @ scale, **common}
        angle = float(np.degrees(2 * np.arctan(np.tan(np.radians(view.angle) / 2) / share)))
        lens: dict[str, Any] = {"type": "perspective"}
        if view.lens_radius > 0:
            lens = {
                "type": "thinlens",
                "aperture_radius": float(view.lens_radius),
                "focus_distance": float(view.focus),
            }
        return {**lens, "fov": angle, "fov_axis": "y", "to_world": place, **common}


def _shown(name: str, surface: Surface) -> dict[str, Any]:
    material = _material(surface.looks, surface.optics)
    properties = mi.Properties()
    properties["mesh_bsdf"] = mi.load_dict(material)
    mesh = mi.Mesh(
        name,
        len(surface.points),
        len(surface.triangles),
        has_vertex_normals=True,
        props=properties,
    )
    parameters = mi.traverse(mesh)
    parameters["vertex_positions"] = surface.points.ravel()
    parameters["vertex_normals"] = surface.normals.ravel()
    parameters["faces"] = surface.triangles.ravel()
    parameters.update()
    mesh.add_attribute("vertex_colour", 3, surface.looks[:, COLOUR].ravel())
    for amount, column in _AMOUNTS.items():
        mesh.add_attribute(f"vertex_{amount}", 1, np.ascontiguousarray(surface.looks[:, column]))
    if surface.placements is None:
        return {name: mesh}
    group = mi.load_dict({"type": "shapegroup", "base": mesh})
    found: dict[str, Any] = {}
    for k, placement in enumerate(surface.placements):
        matrix = np.vstack([placement.astype(np.float64), [0, 0, 0, 1]])
        to_world = mi.ScalarTransform4f(matrix)
        found[f"{name} {k}"] = {"type": "instance", "group": group, "to_world": to_world}
    return found


def _varied(name: str) -> dict[str, str]:
    return {"type": "mesh_attribute", "name": f"vertex_{name}"}


def _material(looks: np.ndarray, optics: Optics) -> dict[str, Any]:
    """The nearest of Mitsuba's materials; amounts that are 0 everywhere are left out."""
    if optics.shaded != "lamps":
        # Their light is their own: no lamp adds to it.
        black: dict[str, Any] = {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}}
        return _masked({"type": "twosided", "bsdf": black}, looks)

    def any_of(column: int) -> bool:
        return bool((looks[:, column] > 0).any())

    glass = any_of(GLASS)
    found: dict[str, Any] = {
        "type": "principled",
        "base_color": _varied("colour"),
        "roughness": _varied("roughness"),
        "eta": float(np.clip(optics.refraction, 1.01, 4.0)),
    }
    for amount, column, name in (
        ("metal", METAL, "metallic"),
        ("coat", COAT, "clearcoat"),
        ("sheen", SHEEN, "sheen"),
        ("glass", GLASS, "spec_trans"),
    ):
        if any_of(column):
            found[name] = _varied(amount)
    if not glass:
        found = {"type": "twosided", "bsdf": found}
    return _masked(found, looks)


def _masked(matter: dict[str, Any], looks: np.ndarray) -> dict[str, Any]:
    """The material with the opacity of the looks."""
    if (looks[:, OPACITY] < 1).any():
        return {"type": "mask", "opacity": _varied("opacity"), "bsdf": matter}
    return matter


def _emitter(lamp: Lamp) -> dict[str, Any] | None:
    """The lamp as an emitter; None for skies and domes, which the environment map has."""
    if not isinstance(lamp, SunLamp | PointLamp | SpotLamp | AreaLamp):
        return None
    colour = to_linear(parse_hex(lamp.colour))

    def rgb(strength: float) -> dict[str, Any]:
        return {"type": "rgb", "value": [float(v) for v in colour * strength]}

    if isinstance(lamp, SunLamp):
        way = (-unit(lamp.towards)).tolist()
        return {"type": "directional", "direction": way, "irradiance": rgb(lamp.strength)}
    if isinstance(lamp, PointLamp):
        intensity = rgb(lamp.strength / (4 * np.pi))
        return {"type": "point", "position": lamp.position.tolist(), "intensity": intensity}
    up = [0.0, 1.0, 0.0]
    ahead = unit(lamp.target - lamp.position)
    if abs(float(ahead[1])) > 0.999:
        up = [0.0, 0.0, 1.0]
    place = mi.ScalarTransform4f().look_at(lamp.position.tolist(), lamp.target.tolist(), up)
    if isinstance(lamp, SpotLamp):
        return {
            "type": "spot",
            "to_world": place,
            "intensity": rgb(lamp.strength / (4 * np.pi)),
            "cutoff_angle": lamp.angle / 2,
            "beam_width": lamp.angle / 2 * (1 - lamp.edge) * 0.999,
        }
    size = mi.ScalarTransform4f().scale([lamp.width / 2, lamp.height / 2, 1.0])
    return {
        "type": "disk" if lamp.round else "rectangle",
        "to_world": place @ size,
        "emitter": {"type": "area", "radiance": rgb(lamp.radiance)},
    }
