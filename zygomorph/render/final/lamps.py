"""Sampling of suns, point lamps, spots and area lamps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import drjit as dr
import mitsuba as mi
import numpy as np

from zygomorph.core.geometry.affine import unit
from zygomorph.core.shared.drawn_scene import AreaLamp, Lamp, PointLamp, SpotLamp, SunLamp
from zygomorph.core.values.gradients import parse_hex, to_linear
from zygomorph.render.final.arrays import number, vector
from zygomorph.render.final.bsdf import luminance
from zygomorph.render.final.eye import FAR

# Half the angle that the sun is wide in the sky, degrees.
SUN_HALF_ANGLE = 0.267


@dataclass
class Shone:
    """A sample of a lamp at a point.

    way : unit direction to the lamp; away : length of the shadow ray, metres
    light : irradiance of a surface that faces the lamp, W/m², over the probability of the sample
    shadow : whether it can be occluded
    density : of the direction for area lamps, per steradian; 0 of lamps that cannot be hit
    """

    way: Any
    away: Any
    light: Any
    shadow: Any
    density: Any


def _light(lamp: SunLamp | PointLamp | SpotLamp | AreaLamp, strength: float) -> Any:
    """Linear colour times a strength."""
    return mi.Color3f(vector(to_linear(parse_hex(lamp.colour)) * strength))


class _Sun:
    def __init__(self, lamp: SunLamp) -> None:
        self.shadow = lamp.shadow
        self._lamp = lamp
        self._cosine = float(np.cos(np.radians(SUN_HALF_ANGLE)))

    def at(self, point: Any, place: Any) -> Shone:
        frame = mi.Frame3f(vector(unit(self._lamp.towards)))
        way = frame.to_world(mi.warp.square_to_uniform_cone(place, self._cosine))
        light = _light(self._lamp, self._lamp.strength)
        return Shone(way, mi.Float(FAR), light, mi.Bool(self.shadow), mi.Float(0))


class _Near:
    """A point lamp or a spot: a small ball, which is sampled as a disc that faces the point."""

    def __init__(self, lamp: PointLamp | SpotLamp) -> None:
        self.shadow = lamp.shadow
        self._lamp = lamp

    def at(self, point: Any, place: Any) -> Shone:
        lamp = self._lamp
        towards = vector(lamp.position) - point
        squared = dr.maximum(dr.squared_norm(towards), 1e-6)
        straight = towards * dr.rsqrt(squared)
        radius = number(lamp.radius)
        disc = mi.warp.square_to_uniform_disk_concentric(place) * radius
        frame = mi.Frame3f(straight)
        ends = towards + frame.s * disc.x + frame.t * disc.y
        away = dr.norm(ends)
        light = _light(lamp, lamp.strength / (4 * np.pi)) / squared
        if isinstance(lamp, SpotLamp):
            dark, full = lamp.cosines
            along = -dr.dot(straight, vector(unit(lamp.target - lamp.position)))
            edge = dr.clip((along - number(dark)) * number(1 / max(full - dark, 1e-9)), 0, 1)
            light *= edge * edge * (3 - 2 * edge)
        # Nothing within the lamp's own ball occludes it.
        within = dr.maximum(away - radius, away * 1e-4)
        return Shone(ends / away, within, light, mi.Bool(lamp.shadow), mi.Float(0))


class AreaLight:
    """A rectangle or disc, which scattered paths hit and camera paths do not see."""

    def __init__(self, lamp: AreaLamp) -> None:
        self.shadow = lamp.shadow
        self._round = lamp.round
        self._area = lamp.area
        ahead = unit(lamp.target - lamp.position)
        up = np.array([0.0, 1.0, 0.0])
        # As the stage has it: its width is level.
        side = np.cross(up, ahead)
        if np.linalg.norm(side) < 1e-6:
            side = np.cross(np.array([0.0, 0.0, 1.0]), ahead)
        side = unit(side)
        self._lamp = lamp
        self._axes = side, np.cross(ahead, side), ahead

    def _frame(self) -> tuple[Any, Any, Any]:
        """Vectors of half its width and half its height, and its unit normal."""
        lamp, (side, up, ahead) = self._lamp, self._axes
        return vector(side * lamp.width / 2), vector(up * lamp.height / 2), vector(ahead)

    @property
    def radiance(self) -> Any:
        return _light(self._lamp, self._lamp.radiance)

    def at(self, point: Any, place: Any) -> Shone:
        if self._round:
            own = mi.warp.square_to_uniform_disk_concentric(place)
        else:
            own = place * 2 - 1
        side, up, ahead = self._frame()
        spot = vector(self._lamp.position) + side * own.x + up * own.y
        towards = spot - point
        squared = dr.maximum(dr.squared_norm(towards), 1e-8)
        away = dr.sqrt(squared)
        way = towards / away
        facing = dr.maximum(-dr.dot(way, ahead), 0)
        area = number(self._area)
        light = self.radiance * (facing * area / squared)
        density = squared / dr.maximum(facing * area, 1e-9)
        return Shone(way, away * 0.9999, light, mi.Bool(self.shadow), density)

    def met(self, origin: Any, way: Any) -> tuple[Any, Any, Any]:
        """Whether rays hit its front, at which distance, and the density with which :meth:`at`
        would sample that direction."""
        side, up, ahead = self._frame()
        middle = vector(self._lamp.position)
        facing = -dr.dot(way, ahead)
        away = dr.dot(origin - middle, ahead) / dr.maximum(facing, 1e-9)
        spot = origin + way * away - middle
        x = dr.dot(spot, side) / dr.squared_norm(side)
        y = dr.dot(spot, up) / dr.squared_norm(up)
        within = dr.square(x) + dr.square(y) <= 1 if self._round else (abs(x) <= 1) & (abs(y) <= 1)
        met = (facing > 1e-6) & (away > 1e-4) & within
        return met, away, dr.square(away) / dr.maximum(facing * number(self._area), 1e-9)


Source = _Sun | _Near | AreaLight


class Lamps:
    """All lamps of a picture except skies and domes."""

    def __init__(self, lamps: Sequence[Lamp]) -> None:
        self.all: list[Source] = [made for lamp in lamps if (made := _made(lamp)) is not None]
        self.areas = [lamp for lamp in self.all if isinstance(lamp, AreaLight)]

    def one_of(self, point: Any, n: Any, choice: Any, place: Any) -> Shone:
        """A sample of one lamp, chosen in proportion to its unoccluded irradiance at normal n.

        choice : a number from 0 to 1; place : in the unit square
        """
        found = Shone(mi.Vector3f(0, 1, 0), mi.Float(1), mi.Color3f(0), mi.Bool(False), mi.Float(0))
        total, kept = mi.Float(0), mi.Float(0)
        for lamp in self.all:
            shone = lamp.at(point, place)
            weight = luminance(shone.light) * dr.maximum(dr.dot(n, shone.way), 0.01)
            total += weight
            share = weight / dr.maximum(total, 1e-20)
            take = (choice < share) & (weight > 0)
            # What is left of the number is one from 0 to 1 again.
            choice = dr.select(
                take,
                choice / dr.maximum(share, 1e-9),
                (choice - share) / dr.maximum(1 - share, 1e-9),
            )
            choice = dr.clip(choice, 0, 0.99999994)
            found = Shone(
                dr.select(take, shone.way, found.way),
                dr.select(take, shone.away, found.away),
                dr.select(take, shone.light, found.light),
                dr.select(take, shone.shadow, found.shadow),
                dr.select(take, shone.density, found.density),
            )
            kept = dr.select(take, weight, kept)
        found.light *= total / dr.maximum(kept, 1e-20)
        return found


def _made(lamp: Lamp) -> Source | None:
    if isinstance(lamp, SunLamp):
        return _Sun(lamp)
    if isinstance(lamp, PointLamp | SpotLamp):
        return _Near(lamp)
    return AreaLight(lamp) if isinstance(lamp, AreaLamp) else None
