"""Next event estimation: light that is sampled where a path meets a surface.

Directions that the surface's own sampling could find as well are weighed by the balance heuristic
(E. Veach, "Robust Monte Carlo Methods for Light Transport Simulation", 1997).
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import drjit as dr
import mitsuba as mi

from zygomorph.render.final.bsdf import glass_highlight
from zygomorph.render.final.lamps import Lamps
from zygomorph.render.final.occlusion import Occlusion
from zygomorph.render.final.paths import Hit
from zygomorph.render.final.traced_scene import TracedScene


class DirectLight:
    def __init__(self, scene: TracedScene, lamps: Lamps, occlusion: Occlusion) -> None:
        self._scene, self._lamps, self._occlusion = scene, lamps, occlusion

    def sampled(self, hit: Hit, lit: Any, opaque: Any, random: Any) -> Iterator[tuple[Any, Any]]:
        """Yields paths, as a mask, and the radiance that they gain.

        lit : paths that have met a surface that lamps light
        opaque : those whose surface is not glass, which finds other light by scattering alone
        random : generator of the paths
        """
        if self._lamps.all:
            yield self._of_lamps(hit, lit, random)
        if self._scene.around is not None:
            yield self._of_environment(hit, opaque, random)
        if self._scene.glow is not None:
            yield self._of_glow(hit, opaque, random)

    def _of_lamps(self, hit: Hit, lit: Any, random: Any) -> tuple[Any, Any]:
        """From one lamp, chosen by chance."""
        choice = random.next_float32(lit)
        place = mi.Point2f(random.next_float32(lit), random.next_float32(lit))
        shone = self._lamps.one_of(hit.si.p, hit.n, choice, place)
        sent, density = hit.opaque.sent(shone.way)
        weight = shone.density / dr.maximum(shone.density + density, 1e-20)
        sent *= dr.select(shone.density > 0, weight, 1)
        if self._scene.any_glass:
            # Scattered paths hit area lamps; only lamps without a body have to be sampled.
            shine = glass_highlight(hit.matter, hit.n, hit.v, shone.way)
            shine = dr.select(shone.density > 0, 0, shine)
            sent = dr.select(hit.is_glass, mi.Color3f(shine), sent)
        over = dr.dot(shone.way, hit.ng) > 0
        light = sent * shone.light
        where = lit & over & (dr.max(light) > 0)
        return where, light * self._occlusion.reaches(hit.si, shone, where, random)

    def _of_environment(self, hit: Hit, where: Any, random: Any) -> tuple[Any, Any]:
        """From a direction of the environment map."""
        place = mi.Point2f(random.next_float32(where), random.next_float32(where))
        at, light = self._scene.around.sample_direction(hit.si, place, where)
        sent, density = hit.opaque.sent(at.d)
        weight = at.pdf / dr.maximum(at.pdf + density, 1e-20)
        found = sent * mi.Color3f(light) * weight
        where &= (at.pdf > 0) & (dr.dot(at.d, hit.ng) > 0) & (dr.max(found) > 0)
        ray = hit.si.spawn_ray(at.d)
        free = ~self._occlusion.blocked(ray, dr.largest(mi.Float), where, random)
        return where & free, found

    def _of_glow(self, hit: Hit, where: Any, random: Any) -> tuple[Any, Any]:
        """From a point of a triangle that glows."""
        glow = self._scene.glow
        assert glow is not None  # the caller has checked
        choice = random.next_float32(where)
        place = mi.Point2f(random.next_float32(where), random.next_float32(where))
        point, normal, radiance, chosen = glow.at(choice, place)
        towards = point - hit.si.p
        squared = dr.maximum(dr.squared_norm(towards), 1e-10)
        away = dr.sqrt(squared)
        way = towards / away
        facing = dr.abs(dr.dot(normal, way))
        found = chosen * squared / dr.maximum(facing, 1e-6)
        sent, density = hit.opaque.sent(way)
        weight = found / dr.maximum(found + density, 1e-20)
        light = sent * radiance * (weight / dr.maximum(found, 1e-20))
        where &= (facing > 1e-6) & (dr.dot(way, hit.ng) > 0) & (dr.max(light) > 0)
        ray = hit.si.spawn_ray(way)
        free = ~self._occlusion.blocked(ray, away * 0.999, where, random)
        return where & free, light
