"""Occlusion of sampled light: shadow rays that clear surfaces and glass let through in part."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import drjit as dr
import mitsuba as mi

from zygomorph.render.final.bsdf import luminance
from zygomorph.render.final.lamps import Shone
from zygomorph.render.final.things import GLASS, METAL, OPACITY
from zygomorph.render.final.traced_scene import TracedScene

# Surfaces that a shadow ray crosses at most.
MOST_CROSSED = 12


@dataclass
class _Crossed:
    """Shadow rays on their way, as a state of a loop. left : their transmittance so far"""

    active: Any
    origin: Any
    reach: Any
    left: Any
    absorption: Any
    count: Any


class Occlusion:
    def __init__(self, scene: TracedScene) -> None:
        self._scene = scene

    def blocked(self, ray: Any, away: Any, where: Any, random: Any) -> Any:
        """Whether a shadow ray is blocked; partial transmittance is decided by chance."""
        scene = self._scene
        ray.maxt = away
        if not (scene.any_clear or scene.any_held_out):
            return scene.scene.ray_test(ray, where)
        left = self._left_of(ray, where, glass_lets_through=False)
        return random.next_float32(where) >= luminance(left)

    def reaches(self, si: Any, shone: Shone, where: Any, random: Any) -> Any:
        """Transmittance of the way to a lamp, as a colour; 1 for lamps without a shadow."""
        ray = si.spawn_ray(shone.way)
        ray.maxt = shone.away
        scene = self._scene
        asked = where & shone.shadow
        if scene.any_glass or scene.any_clear or scene.any_held_out:
            # Of areas, glass gathers the light itself.
            left = self._left_of(ray, asked, shone.density == 0)
        else:
            left = mi.Color3f(dr.select(scene.scene.ray_test(ray, asked), 0.0, 1.0))
        return dr.select(asked, left, 1)

    def _left_of(self, ray: Any, where: Any, glass_lets_through: Any) -> Any:
        """Transmittance of all surfaces that a ray crosses."""
        scene = self._scene

        def body(crossed: _Crossed) -> tuple[_Crossed]:
            asked = mi.Ray3f(crossed.origin, ray.d, crossed.reach, 0, [])
            found = scene.scene.ray_intersect_preliminary(
                asked, coherent=False, active=crossed.active
            )
            hit = crossed.active & found.is_valid()
            si = found.compute_surface_interaction(asked, ray_flags=mi.RayFlags.Minimal, active=hit)
            met = scene.met(found, hit)
            optics = scene.optics_of(met.part)
            share = dr.select(glass_lets_through, met.looks[GLASS] * (1 - met.looks[METAL]), 0)
            cosine = dr.abs(dr.dot(si.n, ray.d))
            entered = dr.dot(si.n, ray.d) < 0
            # Light that leaves a body is reflected at its surface as on its way in.
            reflected, *_ = mi.fresnel(cosine, optics["refraction"])
            colour = mi.Color3f(*met.looks[:3])
            through = colour * (share * (1 - reflected))
            opacity = met.looks[OPACITY]
            let = through * opacity + (1 - opacity)
            if scene.any_held_out:
                let = dr.select(optics["held_out"], 1, let)
            lost = dr.select(
                dr.max(crossed.absorption) > 0, dr.exp(-crossed.absorption * found.t), 1
            )
            crossed.left = dr.select(hit, crossed.left * let * lost, crossed.left)
            inside = dr.select(entered & (share > 0), optics["absorption"], 0)
            crossed.absorption = dr.select(hit, inside, crossed.absorption)
            crossed.origin = dr.select(hit, si.spawn_ray(ray.d).o, crossed.origin)
            crossed.reach = dr.select(hit, crossed.reach - found.t, crossed.reach)
            crossed.count = crossed.count + 1
            full = crossed.count >= MOST_CROSSED
            crossed.left = dr.select(hit & full, 0, crossed.left)
            crossed.active = hit & ~full & (dr.max(crossed.left) > 1e-3)
            return (crossed,)

        count = dr.width(ray.o)
        begun = _Crossed(
            active=mi.Bool(where),
            origin=mi.Point3f(ray.o),
            reach=mi.Float(ray.maxt),
            left=dr.full(mi.Color3f, 1, count),
            absorption=dr.zeros(mi.Color3f, count),
            count=dr.zeros(mi.UInt32, count),
        )
        return dr.while_loop((begun,), lambda c: c.active, body, labels=("crossed",))[0].left
