"""Unidirectional path tracing with next event estimation at every surface.

It adds what the stage leaves out: indirect light, soft shadows, refraction. The stage's conventions
are kept: lamps without a shadow shine through everything, the backdrop lights nothing and is seen
through glass, shadow-only ground exists for camera rays alone, and holdouts hide what is behind
them without being seen.

Suns, point lamps and spots have no surface that a scattered path could hit, so they shine straight
through glass, attenuated by it. Environment, area lamps and glow are hit: glass refracts their
light and makes caustics.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import drjit as dr
import mitsuba as mi
import numpy as np

from zygomorph.core.errors import Cancelled
from zygomorph.core.shared.backdrop_pixels import backdrop
from zygomorph.core.values.gradients import to_linear
from zygomorph.render.final.arrays import number, tensor, whole_numbers
from zygomorph.render.final.bsdf import (
    Matter,
    Opaque,
    Parts,
    luminance,
    mirrored_way,
    through_glass,
)
from zygomorph.render.final.direct_light import DirectLight
from zygomorph.render.final.environment import radiance_around
from zygomorph.render.final.eye import Eye
from zygomorph.render.final.floor_hits import floor_met
from zygomorph.render.final.lamps import Lamps
from zygomorph.render.final.low_discrepancy import STEPS, unit_of
from zygomorph.render.final.occlusion import Occlusion
from zygomorph.render.final.paths import Hit, Path
from zygomorph.render.final.settings import FinalSettings
from zygomorph.render.final.strokes import EVEN, IN_LIGHT, IN_SHADE, SHADED, TOWARDS
from zygomorph.render.final.things import COAT, GLASS, METAL, OPACITY, OWN, ROUGHNESS, SHEEN, Things
from zygomorph.render.final.traced import Traced
from zygomorph.render.final.traced_scene import NONE, TracedScene

# Paths traced at the same time: enough to keep all cores busy, few enough for the caches.
AT_ONCE = 1 << 21
# Russian roulette begins after so many surfaces.
CERTAIN = 3


class PathTracer:
    """Traces the picture of one moment. The same seed gives the same picture, by rows or whole."""

    def __init__(self, things: Things, settings: FinalSettings) -> None:
        self._things, self._settings = things, settings
        columns, rows = settings.size
        self.eye = Eye(things.view, settings.size)
        around = radiance_around(things.lamps, things.images)
        self.scene = TracedScene(things, around)
        self.occlusion = Occlusion(self.scene)
        self._parts = Parts(self.scene.any_coat, self.scene.any_sheen)
        self.lamps = Lamps(things.lamps)
        self.direct = DirectLight(self.scene, self.lamps, self.occlusion)
        self._behind = self._backdrop(min(columns, 1024), min(rows, 1024))
        self._spheres = [
            _texture(to_linear(things.images.colours(name).pixels[..., :3] / 255.0))
            for name in self.scene.spheres
        ]

    def _backdrop(self, columns: int, rows: int) -> Any | None:
        """The backdrop as a texture, for what is seen through glass; None if it is not needed."""
        if not self.scene.any_glass:
            return None
        if self._things.backdrop.kind == "clear":
            return None
        return _texture(
            to_linear(backdrop(self._things.backdrop, (columns, rows), self._things.images))
        )

    # All of a picture

    def trace(
        self,
        first_sample: int,
        samples: int,
        rows: range | None = None,
        seed: int = 0,
        cancelled: Callable[[], bool] = lambda: False,
    ) -> Traced:
        """The mean of a range of the samples of each pixel.

        first_sample, samples : the range
        rows : of the picture; None for all
        seed : of the frame

        Raises Cancelled.
        """
        columns, all_rows = self._settings.size
        wanted = range(all_rows) if rows is None else rows
        at_once = max(1, min(len(wanted), AT_ONCE // max(1, columns * samples)))
        parts = []
        for start in range(wanted.start, wanted.stop, at_once):
            if cancelled():
                raise Cancelled
            some = range(start, min(start + at_once, wanted.stop))
            parts.append(self._rows(some, first_sample, samples, seed))
        return Traced.below_each_other(parts)

    def _rows(self, rows: range, first_sample: int, samples: int, seed: int) -> Traced:
        columns, _ = self._settings.size
        pixels = len(rows) * columns
        lane = dr.arange(mi.UInt32, pixels * samples)
        own = lane // samples
        sample = lane - own * samples + dr.opaque(mi.UInt32, first_sample)
        pixel = own + dr.opaque(mi.UInt32, rows.start * columns)
        path = self._begun(pixel, sample, seed)
        path = dr.while_loop(
            (path,), lambda p: p.active, lambda p: (self._step(p),), labels=("path",)
        )[0]
        covered = 1 - path.clear
        values = [*path.light, covered, *path.albedo, *path.normal]
        # Evaluated together, or the paths would be traced again for each value.
        dr.eval(values, path.seen)
        planes = _means(values, samples, (len(rows), columns))
        pieces = [
            np.stack(_means(own, samples, (len(rows), columns)), axis=-1)
            for own in self._by_piece(path.seen, values[:4])
        ]
        return Traced(
            np.stack(planes[:3], axis=-1),
            planes[3],
            np.stack(planes[4:7], axis=-1),
            np.stack(planes[7:10], axis=-1),
            np.stack(pieces, axis=2) if pieces else np.zeros((*planes[3].shape, 0, 4), np.float32),
        )

    def _by_piece(self, seen: Any, values: list[Any]) -> Iterator[list[Any]]:
        """Values of the paths that hit each piece first, and last those that hit nothing."""
        if "pieces" not in self._settings.layers:
            return
        named = self.pieces
        parts = np.array([named.index(piece) for piece in self.scene.pieces] or [0], np.uint32)
        own = dr.gather(mi.UInt32, whole_numbers(parts), seen, seen != NONE)
        own = dr.select(seen != NONE, own, len(named))
        for k in range(len(named) + 1):
            yield [dr.select(own == dr.opaque(mi.UInt32, k), value, 0) for value in values]

    @property
    def pieces(self) -> list[str]:
        """Ids of the pieces in the order of the light layers."""
        return list(dict.fromkeys(self.scene.pieces))

    def _begun(self, pixel: Any, sample: Any, seed: int) -> Path:
        """Camera paths, spread over their pixel and the lens by a low-discrepancy sequence."""
        columns, _ = self._settings.size
        key = dr.opaque(mi.UInt32, seed & 0xFFFFFFFF)
        a, b = mi.sample_tea_32(pixel, key)
        c, d = mi.sample_tea_32(a, sample ^ b)
        random = mi.PCG32(1, mi.UInt64(c), mi.UInt64(d))
        row = pixel // columns
        column = pixel - row * columns
        e, f = mi.sample_tea_32(b, a)
        shifts = [unit_of(x) for x in (a, b, e, f, e ^ b)]
        u = [
            dr.fma(mi.Float(sample), step, shift) for step, shift in zip(STEPS, shifts, strict=True)
        ]
        x, y, lens_x, lens_y, chance = (each - dr.floor(each) for each in u)
        at = mi.Point2f(mi.Float(column) + x, mi.Float(row) + y)
        seen = self.eye.rays(at, mi.Point2f(lens_x, lens_y))
        count = dr.width(pixel)
        return Path(
            active=dr.full(mi.Bool, True, count),
            origin=seen.origin + dr.zeros(mi.Point3f, count),
            way=seen.way + dr.zeros(mi.Vector3f, count),
            reach=seen.reach + dr.zeros(mi.Float, count),
            throughput=dr.full(mi.Color3f, 1, count),
            light=dr.zeros(mi.Color3f, count),
            clear=dr.full(mi.Float, 1, count),
            straight=dr.full(mi.Bool, True, count),
            direct=dr.full(mi.Bool, True, count),
            density=dr.zeros(mi.Float, count),
            absorption=dr.zeros(mi.Color3f, count),
            depth=dr.zeros(mi.UInt32, count),
            floored=dr.zeros(mi.Bool, count),
            first=dr.full(mi.Bool, True, count),
            albedo=dr.zeros(mi.Color3f, count),
            normal=dr.zeros(mi.Vector3f, count),
            seen=dr.full(mi.UInt32, NONE, count),
            chance=chance,
            random=random,
        )

    # One step of all paths

    def _step(self, path: Path) -> Path:
        scene, settings = self.scene, self._settings
        active = path.active
        ray = mi.Ray3f(mi.Point3f(path.origin), path.way, path.reach, 0, [])
        found = scene.scene.ray_intersect_preliminary(ray, coherent=False, active=active)
        hit = active & found.is_valid()
        si = found.compute_surface_interaction(
            ray, ray_flags=mi.RayFlags.ShadingFrame | mi.RayFlags.Minimal, active=hit
        )
        away = dr.select(hit, found.t, dr.inf)
        if scene.any_glass:
            # The path may also have left through a hole, without a hit that ends the absorption.
            inside = hit & (dr.max(path.absorption) > 0)
            path.throughput *= dr.select(inside, dr.exp(-path.absorption * found.t), 1)
        path = self._floor_shadow(path, active, away)
        path = self._hit_area_lamps(path, active, away)
        path = self._escaped(path, active & ~hit)
        met = scene.met(found, hit)
        optics = scene.optics_of(met.part)
        matter, opacity, glass = _matter(met.looks, optics, scene)
        v = -path.way
        facing = dr.dot(si.n, v)
        outside = facing > 0
        side = dr.select(outside, 1.0, -1.0)
        ng = si.n * side
        ns = dr.normalize(si.sh_frame.n * side)
        # A shading normal that faces away from the viewer is bent back into view.
        seen = dr.dot(ns, v)
        ns = dr.select(seen < 0.01, dr.normalize(ns + v * (0.01 - seen)), ns)
        frame = mi.Frame3f(ns)
        random = path.random
        choice = dr.select(path.first, path.chance, random.next_float32(hit))
        passes = mi.Bool(False)
        if scene.any_clear:
            passes |= choice >= opacity
            choice = dr.minimum(choice / dr.maximum(opacity, 1e-6), 0.99999994)
        if scene.any_held_out:
            # Scattered paths pass through a holdout; camera paths end as if nothing was hit.
            held = optics["held_out"]
            path = self._held_out(path, hit & held)
            hit &= path.active
            passes |= held
        far_side = mi.Bool(False)
        if scene.any_strokes:
            # A stroke or a ball is one layer: its far side is not seen through its near side.
            far_side = (optics["shaded"] == SHADED.index("round")) & ~outside
            passes |= far_side
        passes &= hit
        # Rescaled, so that it is uniform again for the surface behind.
        rest = dr.clip((path.chance - opacity) / dr.maximum(1 - opacity, 1e-6), 0, 0.99999994)
        path.chance = dr.select(passes & ~far_side, rest, path.chance)
        real = hit & ~passes
        is_glass = mi.Bool(False)
        if scene.any_glass:
            share = glass * (1 - matter.metal)
            is_glass = real & (choice < share)
            choice = dr.select(
                is_glass,
                choice / dr.maximum(share, 1e-6),
                (choice - share) / dr.maximum(1 - share, 1e-6),
            )
            choice = dr.clip(choice, 0, 0.99999994)
        is_mirror = mi.Bool(False)
        if self._mirrors:
            is_mirror, choice = self._mirrored(real & (met.part == scene.floor_part), ns, v, choice)
        path.clear = dr.select(real, 0, path.clear)
        path = self._record_first_hit(path, real, met.part, matter, is_glass, ns)
        path = self._own_light(path, real, met, si, found.t, facing)
        if self._spheres:
            ball = real & ~is_glass & (optics["sphere"] >= 0)
            path = self._as_sphere(path, ball, optics["sphere"], matter.colour, ns, v)
            real &= ~ball
        if scene.any_strokes:
            stroke = real & (optics["shaded"] > 0)
            path = self._as_stroke(path, stroke, optics["shaded"], matter.colour, ns, v)
            real &= ~stroke
        thrown = real & (path.depth < dr.opaque(mi.UInt32, settings.bounces))
        opaque = Opaque(self._parts, matter, ns, v)
        hit_at = Hit(
            si,
            ng,
            ns,
            v,
            frame,
            outside,
            matter,
            optics["absorption"],
            optics["thin"],
            opaque,
            is_glass,
            is_mirror,
        )
        lit = thrown & ~is_mirror
        for where, light in self.direct.sampled(hit_at, lit, lit & ~is_glass, path.random):
            self._add_light(path, where, light)
        return self._scatter(path, thrown, passes, hit_at, choice)

    @property
    def _mirrors(self) -> bool:
        floor = self._things.floor
        return floor is not None and floor.ground.kind == "mirror" and floor.ground.mirror > 0

    def _mirrored(self, floor: Any, n: Any, v: Any, choice: Any) -> tuple[Any, Any]:
        """Which paths a mirroring ground reflects specularly, by chance, as the stage does: more at
        grazing angles than straight down. Also returns the rescaled random number."""
        assert self._things.floor is not None  # it was asked for
        along = 1 - dr.abs(dr.dot(n, v))
        share = number(self._things.floor.ground.mirror) * (0.35 + 0.65 * along * along * along)
        share = dr.select(floor, dr.clip(share, 0, 1), 0)
        mirrored = choice < share
        left = dr.select(
            mirrored,
            choice / dr.maximum(share, 1e-6),
            (choice - share) / dr.maximum(1 - share, 1e-6),
        )
        return mirrored, dr.clip(left, 0, 0.99999994)

    def _scatter(self, path: Path, thrown: Any, passes: Any, hit: Hit, choice: Any) -> Path:
        """Samples the next direction of paths. choice : uniform random number, rescaled"""
        random = path.random
        at = mi.Point2f(random.next_float32(thrown), random.next_float32(thrown))
        way = hit.opaque.sample(hit.frame, choice, at)
        sent, density = hit.opaque.sent(way)
        over = dr.dot(way, hit.ng) > 0
        weight = dr.select(over & (density > 1e-9), sent / dr.maximum(density, 1e-9), 0)
        straight = mi.Bool(False)
        if self.scene.any_glass:
            passage = through_glass(hit.matter, hit.frame, hit.v, hit.outside, hit.thin, choice, at)
            way = dr.select(hit.is_glass, passage.way, way)
            weight = dr.select(hit.is_glass, passage.weight, weight)
            density = dr.select(hit.is_glass, 0, density)
            straight = hit.is_glass & passage.through
            crosses = thrown & straight & ~hit.thin
            path.absorption = dr.select(
                crosses, dr.select(hit.outside, hit.absorption, 0), path.absorption
            )
        if self._mirrors:
            back = mirrored_way(hit.matter, hit.frame, hit.v, at)
            way = dr.select(hit.is_mirror, back, way)
            weight = dr.select(hit.is_mirror, dr.select(dr.dot(back, hit.ng) > 0, 1.0, 0.0), weight)
            density = dr.select(hit.is_mirror, 0, density)
        path.throughput = dr.select(thrown, path.throughput * weight, path.throughput)
        path.density = dr.select(thrown, density, path.density)
        path.straight = dr.select(thrown, path.straight & straight, path.straight)
        path.direct &= ~thrown
        path.depth = dr.select(thrown, path.depth + 1, path.depth)
        path.active = thrown | passes
        path.way = dr.select(thrown, way, path.way)
        path.origin = dr.select(path.active, hit.si.spawn_ray(path.way).o, path.origin)
        path.reach = dr.select(thrown, dr.largest(mi.Float), path.reach - hit.si.t)
        # Russian roulette.
        strength = dr.max(path.throughput)
        path.active &= passes | (strength > 0)
        chance = dr.clip(strength, 0.05, 0.95)
        chance = dr.select(thrown & (path.depth > CERTAIN), chance, 1)
        goes_on = random.next_float32(path.active) < chance
        path.throughput /= chance
        path.active &= goes_on
        return path

    def _record_first_hit(
        self, path: Path, real: Any, part: Any, matter: Matter, is_glass: Any, n: Any
    ) -> Path:
        """Records albedo and normal, which guide the denoiser, and the piece that is hit first."""
        first = real & path.first
        path.albedo = dr.select(
            first, dr.select(is_glass, mi.Color3f(1), matter.colour), path.albedo
        )
        path.normal = dr.select(first, n, path.normal)
        path.seen = dr.select(first, part, path.seen)
        path.first &= ~first
        return path

    # Light that is met

    def _add_light(self, path: Path, where: Any, light: Any) -> None:
        """Adds radiance to paths; indirect light is clamped."""
        light = light * path.throughput
        if self._settings.clamp > 0:
            held = dr.minimum(1, number(self._settings.clamp) / dr.maximum(luminance(light), 1e-9))
            light = dr.select(path.depth > 0, light * held, light)
        path.light = dr.select(where, path.light + light, path.light)

    def _escaped(self, path: Path, away: Any) -> Path:
        straight = path.straight & ~path.direct
        if self.scene.any_glass:
            path = self._seen_behind(path, away & straight)
        if self.scene.around is not None:
            around = self.scene.around
            si = dr.zeros(mi.SurfaceInteraction3f, dr.width(path.way))
            si.wi = -path.way
            where = away & ~path.straight
            light = around.eval(si, where)
            weight = mi.Float(1)
            at = dr.zeros(mi.DirectionSample3f, dr.width(path.way))
            at.d = path.way
            found = around.pdf_direction(mi.Interaction3f(), at, where)
            own = path.density
            weight = dr.select(own > 0, own / dr.maximum(own + found, 1e-20), 1)
            self._add_light(path, where, mi.Color3f(light) * weight)
        path.active &= ~away
        return path

    def _seen_behind(self, path: Path, where: Any) -> Path:
        """Adds the backdrop behind glass; if it is clear, the glass becomes transparent instead."""
        place, ahead = self.eye.place_of(path.way)
        if self._behind is None:
            if self._things.backdrop.kind == "clear":
                share = dr.clip(luminance(path.throughput), 0, 1)
                path.clear = dr.select(where, share, path.clear)
            return path
        shown = mi.Color3f(*self._behind.eval(place))
        self._add_light(path, where & ahead, shown)
        if self.scene.around is not None:
            si = dr.zeros(mi.SurfaceInteraction3f, dr.width(path.way))
            si.wi = -path.way
            self._add_light(
                path, where & ~ahead, mi.Color3f(self.scene.around.eval(si, where & ~ahead))
            )
        return path

    def _hit_area_lamps(self, path: Path, active: Any, away: Any) -> Path:
        """Adds area lamps that scattered paths hit; camera paths do not see them."""
        for lamp in self.lamps.areas:
            met, far, found = lamp.met(path.origin, path.way)
            where = active & met & (far < away) & ~path.straight
            own = path.density
            weight = dr.select(own > 0, own / dr.maximum(own + found, 1e-20), 1)
            self._add_light(path, where, lamp.radiance * weight)
        return path

    def _own_light(self, path: Path, real: Any, met: Any, si: Any, away: Any, facing: Any) -> Path:
        if not self.scene.any_own:
            return path
        own = mi.Color3f(*met.looks[OWN])
        weight = mi.Float(1)
        glow = self.scene.glow
        if glow is not None:
            found = glow.density(own) * dr.square(away) / dr.maximum(dr.abs(facing), 1e-6)
            looked_for = (path.density > 0) & self.scene.is_lamp(met.part)
            weight = dr.select(
                looked_for, path.density / dr.maximum(path.density + found, 1e-20), 1
            )
        self._add_light(path, real, own * weight)
        return path

    def _as_sphere(self, path: Path, ball: Any, number: Any, colour: Any, n: Any, v: Any) -> Path:
        """Shades by a picture of a ball, looked up by the normal in view space."""
        across, above = self._sideways(v)
        place = mi.Point2f(dr.dot(across, n) * 0.495 + 0.5, 0.5 - dr.dot(above, n) * 0.495)
        shown = mi.Color3f(0)
        for k, texture in enumerate(self._spheres):
            shown = dr.select(number == k, mi.Color3f(*texture.eval(place)), shown)
        self._add_light(path, ball, shown * colour)
        return path

    def _as_stroke(self, path: Path, where: Any, shaded: Any, colour: Any, n: Any, v: Any) -> Path:
        """Shades strokes and dots by the light beside the viewer, as the stage does."""
        across, above = self._sideways(v)
        right, up, near = (number(component) for component in TOWARDS)
        lit = dr.dot(across, n) * right + dr.dot(above, n) * up + dr.dot(v, n) * near
        lit = dr.select(shaded == SHADED.index("round"), dr.maximum(lit, 0), EVEN)
        self._add_light(path, where, colour * (IN_SHADE + IN_LIGHT * lit))
        return path

    def _sideways(self, v: Any) -> tuple[Any, Any]:
        """Unit vectors to the right and upwards, perpendicular to the direction to the viewer."""
        right, _, _ = self.eye.axes()
        across = dr.normalize(right - v * dr.dot(right, v))
        return across, dr.cross(v, across)

    def _held_out(self, path: Path, held: Any) -> Path:
        """Ends camera paths at a holdout, with the backdrop."""
        seen = held & path.straight
        if self.scene.any_glass:
            path = self._seen_behind(path, seen & ~path.direct)
        path.active &= ~seen
        return path

    def _floor_shadow(self, path: Path, active: Any, away: Any) -> Path:
        """Shadow-only ground: darkens what camera paths see behind it where lamps are occluded."""
        floor = self._things.floor
        casting = [lamp for lamp in self.lamps.all if lamp.shadow]
        if floor is None or floor.ground.kind != "shadow" or not casting:
            return path
        far, point, within = floor_met(floor, path.origin, path.way)
        met = active & path.straight & ~path.floored
        met &= within & (far < away) & (far < path.reach)
        up = mi.Normal3f(0, 1, 0)
        si = dr.zeros(mi.SurfaceInteraction3f, dr.width(path.way))
        si.p, si.n = point, up
        lit = dr.full(mi.Float, 1, dr.width(path.way))
        random = path.random
        for lamp in casting:
            place = mi.Point2f(random.next_float32(met), random.next_float32(met))
            shone = lamp.at(point, place)
            asked = met & (shone.way.y > 0) & (dr.max(shone.light) > 0)
            lit *= dr.select(asked, luminance(self.occlusion.reaches(si, shone, asked, random)), 1)
        dark = number(floor.ground.shadow) * (1 - lit)
        left = dr.select(met, 1 - dark, 1)
        path.clear *= left
        path.throughput *= left
        path.floored |= met
        return path


def _means(values: list[Any], samples: int, shape: tuple[int, int]) -> list[np.ndarray]:
    """(rows, columns) means over the samples of each pixel."""
    means = [
        dr.block_reduce(dr.ReduceOp.Add, value, samples) * (1 / samples) if samples > 1 else value
        for value in values
    ]
    dr.eval(means)
    return [np.asarray(mean, np.float32).reshape(shape) for mean in means]


def _matter(
    looks: list[Any], optics: dict[str, Any], scene: TracedScene
) -> tuple[Matter, Any, Any]:
    """Material, opacity and share of glass, from a row of looks."""
    matter = Matter(
        colour=mi.Color3f(*looks[:3]),
        roughness=looks[ROUGHNESS],
        metal=looks[METAL],
        refraction=optics["refraction"],
        coat=looks[COAT],
        coat_roughness=optics["coat_roughness"],
        sheen=optics["sheen_colour"] * looks[SHEEN],
    )
    return matter, looks[OPACITY], looks[GLASS]


def _texture(pixels: np.ndarray) -> Any:
    """A texture of (rows, columns, 3), with (0, 0) at its upper left corner."""
    return mi.Texture2f(tensor(pixels), wrap_mode=dr.WrapMode.Clamp)
