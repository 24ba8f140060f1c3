"""Layers of the first surface that is seen in each pixel: depth, normal, motion, masks, shadow.

Rays start at a pinhole, whatever the lens. Depth, normal and motion are sampled at the centre of
the pixel, because the mean of two surfaces would be of neither; surfaces count if they are more
than half opaque. Masks and shadow are means over the pixel.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import drjit as dr
import mitsuba as mi
import numpy as np

from zygomorph.core.errors import Cancelled
from zygomorph.render.final.arrays import floats
from zygomorph.render.final.bsdf import luminance
from zygomorph.render.final.eye import Eye
from zygomorph.render.final.floor_hits import floor_met
from zygomorph.render.final.low_discrepancy import STEPS, unit_of
from zygomorph.render.final.motion import moved
from zygomorph.render.final.path_tracer import AT_ONCE, PathTracer
from zygomorph.render.final.settings import FinalSettings
from zygomorph.render.final.things import COLUMNS, OPACITY, Things
from zygomorph.render.final.traced_scene import NONE, Where

# The distance of nothing, metres; common practice, since infinity breaks blurs.
NOTHING_M = 1e10
# Rays of each pixel for means.
SPREAD = 16
HALF = 0.5


@dataclass
class _Look:
    """Camera rays and their first hits, as a state of a loop.

    place : fields of Where
    """

    active: Any
    origin: Any
    reach: Any
    chance: Any
    there: Any
    point: Any
    n: Any
    a: Any
    b: Any
    c: Any
    u: Any
    v: Any
    part: Any
    copy: Any
    copy_row: Any

    @property
    def where(self) -> Where:
        return Where((self.a, self.b, self.c), self.u, self.v, self.part, self.copy, self.copy_row)


class PrimaryHits:
    """Primary hits of a tracer's scene, and where they were a frame before."""

    def __init__(
        self, tracer: PathTracer, things: Things, before: Things | None, settings: FinalSettings
    ) -> None:
        self._tracer, self._things, self._settings = tracer, things, settings
        self._scene = tracer.scene
        self._columns, self._rows = settings.size
        self._weights = [floats(column) for column in self._scene.table[:, COLUMNS:].T]
        self._before: Eye | None = None
        if before is not None:
            self._before = Eye(before.view, settings.size)
            found = moved(
                self._scene.parts,
                self._scene.first_rows,
                self._scene.copied,
                len(self._scene.table),
                before,
            )
            self._were = floats(found.rows)
            self._placements = floats(found.placements)
            self._known = mi.Bool(found.known)

    def layers(
        self,
        rows: range | None = None,
        seed: int = 0,
        cancelled: Callable[[], bool] = lambda: False,
    ) -> dict[str, np.ndarray]:
        """The wanted layers by name, (rows, columns, channels) float32; masks are "mask 0", …

        depth : metres along the axis of the view; normals : unit, on the stage, towards the eye
        motion : pixels to the right and upwards since the frame before
        shadow : share of the lamps' light that is blocked

        Raises Cancelled.
        """
        wanted = range(self._rows) if rows is None else rows
        parts: list[dict[str, np.ndarray]] = []
        at_once = max(1, AT_ONCE // (self._columns * SPREAD))
        for start in range(wanted.start, wanted.stop, at_once):
            if cancelled():
                raise Cancelled
            some = range(start, min(start + at_once, wanted.stop))
            parts.append(self._in_the_middle(some) | self._spread(some, seed))
        return {name: np.concatenate([part[name] for part in parts]) for name in parts[0]}

    # Through the middle of each pixel

    def _in_the_middle(self, rows: range) -> dict[str, np.ndarray]:
        wanted = self._settings.layers
        if not {"depth", "normals", "motion"} & set(wanted):
            return {}
        pixel, at = self._pixels(rows, 1)
        at = at + HALF
        seen = self._tracer.eye.rays(at, None)
        look = self._looked(seen, dr.full(mi.Float, HALF, dr.width(pixel)))
        _, ahead = self._tracer.eye.pixel_of(look.point)
        depth = dr.select(look.there, ahead, NOTHING_M)
        normal = dr.select(look.there, look.n, 0)
        found = {"depth": [depth], "normals": [*normal]}
        if "motion" in wanted:
            found["motion"] = self._motion(look, at)
        return {name: self._planes(found[name], rows) for name in found if name in wanted}

    def _motion(self, look: _Look, at: Any) -> list[Any]:
        if self._before is None:
            still = dr.zeros(mi.Float, dr.width(look.point))
            return [still, still]
        where, there = look.where, look.there
        known = there & dr.gather(mi.Bool, self._known, where.part, there)
        corners = [self._three(self._were, row, known) for row in where.corners]
        was = where.mean(*corners)
        is_copy = where.copy != NONE
        held = known & is_copy
        x, y, z = (
            dr.gather(mi.Vector4f, self._placements, where.copy * 3 + row, held) for row in range(3)
        )
        placed = mi.Vector3f(*(dr.dot(r, mi.Vector4f(was.x, was.y, was.z, 1)) for r in (x, y, z)))
        was = dr.select(is_copy, placed, was)
        is_dot = where.corners[0] == where.corners[1]
        was = dr.select(is_dot, mi.Vector3f(look.point) - corners[0], was)
        was = dr.select(known, was, mi.Vector3f(look.point))
        then, ahead = self._before.pixel_of(mi.Point3f(was))
        seen = there & (ahead > 0)
        return [dr.select(seen, at.x - then.x, 0), dr.select(seen, then.y - at.y, 0)]

    @staticmethod
    def _three(table: Any, row: Any, where: Any) -> Any:
        return mi.Vector3f(*(dr.gather(mi.Float, table, row * 3 + k, where) for k in range(3)))

    # All over each pixel

    def _spread(self, rows: range, seed: int) -> dict[str, np.ndarray]:
        shadow = "shadow" in self._settings.layers
        if not shadow and not self._weights:
            return {}
        pixel, at = self._pixels(rows, SPREAD)
        lane = dr.arange(mi.UInt32, dr.width(pixel))
        sample = mi.Float(lane % SPREAD)
        a, b = mi.sample_tea_32(pixel, dr.opaque(mi.UInt32, seed & 0xFFFFFFFF))
        shifts = (unit_of(a), unit_of(b), unit_of(a ^ b))
        x, y, chance = (dr.fma(sample, s, t) for s, t in zip(STEPS, shifts, strict=False))
        x, y, chance = (each - dr.floor(each) for each in (x, y, chance))
        seen = self._tracer.eye.rays(at + mi.Point2f(x, y), None)
        look = self._looked(seen, chance)
        found: dict[str, np.ndarray] = {}
        where = look.where
        for mask, weights in enumerate(self._weights):
            values = [dr.gather(mi.Float, weights, r, look.there) for r in where.look_rows]
            value = dr.select(look.there, where.mean(*values), 0)
            found[f"mask {mask}"] = self._planes([self._mean(value)], rows)
        if shadow:
            kept, whole = self._lit(
                look,
                seen,
                mi.PCG32(1, mi.UInt64(a), mi.UInt64(pixel) * SPREAD + mi.UInt64(lane % SPREAD)),
            )
            lost = 1 - self._mean(kept) / dr.maximum(self._mean(whole), 1e-20)
            lost = dr.select(self._mean(whole) > 0, lost, 0)
            found["shadow"] = self._planes([lost], rows)
        return found

    def _lit(self, look: _Look, seen: Any, random: Any) -> tuple[Any, Any]:
        """Light of the lamps at the hits, and what it would be without occlusion; also at
        shadow-only ground."""
        there, point, n = mi.Bool(look.there), mi.Point3f(look.point), mi.Normal3f(look.n)
        floor = self._things.floor
        if floor is not None and floor.ground.kind == "shadow":
            far, on_floor, met = floor_met(floor, seen.origin, seen.way)
            away = dr.select(there, dr.norm(look.point - seen.origin), dr.inf)
            met &= (far < away) & (far < seen.reach)
            there |= met
            point = dr.select(met, on_floor, point)
            n = dr.select(met, mi.Normal3f(0, 1, 0), n)
        si = dr.zeros(mi.SurfaceInteraction3f, dr.width(point))
        si.p, si.n = point, n
        kept, whole = dr.zeros(mi.Float, dr.width(point)), dr.zeros(mi.Float, dr.width(point))
        for lamp in self._tracer.lamps.all:
            place = mi.Point2f(random.next_float32(there), random.next_float32(there))
            shone = lamp.at(point, place)
            arrives = luminance(shone.light) * dr.maximum(dr.dot(n, shone.way), 0)
            asked = there & (arrives > 0)
            left = luminance(self._tracer.occlusion.reaches(si, shone, asked, random))
            whole += dr.select(asked, arrives, 0)
            kept += dr.select(asked, arrives * left, 0)
        return kept, whole

    # What all have in common

    def _pixels(self, rows: range, each: int) -> tuple[Any, Any]:
        """Pixel numbers, each repeated, and the upper left corners of the pixels."""
        lane = dr.arange(mi.UInt32, len(rows) * self._columns * each)
        pixel = lane // each + dr.opaque(mi.UInt32, rows.start * self._columns)
        row = pixel // self._columns
        return pixel, mi.Point2f(mi.Float(pixel - row * self._columns), mi.Float(row))

    def _looked(self, seen: Any, chance: Any) -> _Look:
        """Traces rays to their first hit. chance : surfaces of less opacity are passed through"""
        scene = self._scene
        count = dr.width(chance)
        none = dr.full(mi.UInt32, NONE, count)
        look = _Look(
            active=dr.full(mi.Bool, True, count),
            origin=seen.origin + dr.zeros(mi.Point3f, count),
            reach=seen.reach + dr.zeros(mi.Float, count),
            chance=chance,
            there=dr.zeros(mi.Bool, count),
            point=dr.zeros(mi.Point3f, count),
            n=dr.zeros(mi.Normal3f, count),
            a=dr.zeros(mi.UInt32, count),
            b=dr.zeros(mi.UInt32, count),
            c=dr.zeros(mi.UInt32, count),
            u=dr.zeros(mi.Float, count),
            v=dr.zeros(mi.Float, count),
            part=dr.zeros(mi.UInt32, count),
            copy=none,
            copy_row=mi.UInt32(none),
        )
        way = seen.way + dr.zeros(mi.Vector3f, count)

        def step(look: _Look) -> tuple[_Look]:
            ray = mi.Ray3f(mi.Point3f(look.origin), way, look.reach, 0, [])
            found = scene.scene.ray_intersect_preliminary(ray, coherent=False, active=look.active)
            hit = look.active & found.is_valid()
            si = found.compute_surface_interaction(
                ray, ray_flags=mi.RayFlags.ShadingFrame | mi.RayFlags.Minimal, active=hit
            )
            where = scene.where(found, hit)
            opacity = scene.met(found, hit).looks[OPACITY]
            held = scene.optics_of(where.part)["held_out"]
            passes = hit & ~held & (look.chance >= opacity)
            rest = (look.chance - opacity) / dr.maximum(1 - opacity, 1e-6)
            # What is half opaque is looked through as a whole, by the same bound again.
            sharp = look.chance == HALF
            look.chance = dr.select(passes & ~sharp, dr.clip(rest, 0, 0.99999994), look.chance)
            real = hit & ~passes & ~held
            side = dr.select(dr.dot(si.n, -way) > 0, 1.0, -1.0)
            look.point = dr.select(real, si.p, look.point)
            look.n = dr.select(real, dr.normalize(si.sh_frame.n * side), look.n)
            for name, value in zip("abc", where.corners, strict=True):
                setattr(look, name, dr.select(real, value, getattr(look, name)))
            for name in ("u", "v", "part", "copy", "copy_row"):
                setattr(look, name, dr.select(real, getattr(where, name), getattr(look, name)))
            look.there |= real
            look.origin = dr.select(passes, si.spawn_ray(way).o, look.origin)
            look.reach = dr.select(passes, look.reach - si.t, look.reach)
            look.active = passes
            return (look,)

        found = dr.while_loop((look,), lambda look: look.active, step, labels=("look",))
        return found[0]

    def _mean(self, value: Any) -> Any:
        return dr.block_reduce(dr.ReduceOp.Add, value, SPREAD) * (1 / SPREAD)

    def _planes(self, values: list[Any], rows: range) -> np.ndarray:
        dr.eval(values)
        shape = (len(rows), self._columns)
        return np.stack([np.asarray(v, np.float32).reshape(shape) for v in values], axis=-1)
