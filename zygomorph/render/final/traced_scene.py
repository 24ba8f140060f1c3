"""Things to draw as a scene of Mitsuba, with tables of what they look like beside it.

Mitsuba finds what rays meet. Which triangle or ball that is, and which copy, leads to rows of
tables, so that one kernel draws everything, however many pieces there are.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import drjit as dr
import mitsuba as mi
import numpy as np
from scipy.spatial.transform import Rotation

from zygomorph.render.final.arrays import floats, number, tensor, whole_numbers
from zygomorph.render.final.floor import floor_surface
from zygomorph.render.final.surface_weights import LUMINANCE
from zygomorph.render.final.things import (
    COAT,
    COLUMNS,
    GLASS,
    OPACITY,
    OWN,
    SHEEN,
    Balls,
    Optics,
    Surface,
    Things,
)

NONE = 0xFFFFFFFF
# How thick discs are, in shares of their radius.
THIN = 0.02


@dataclass
class Met:
    """What a ray met, as its looks say. part : number of the row of optics"""

    looks: list[Any]
    part: Any
    triangle: Any


class TracedScene:
    """scene : of Mitsuba
    pieces : what each part of it belongs to
    any_… : whether anything in it is so; what nothing is need not be drawn
    """

    def __init__(self, things: Things, around: np.ndarray | None) -> None:
        surfaces = list(things.surfaces)
        self.floor_part = NONE
        floor = things.floor
        if floor is not None and floor.ground.kind != "shadow":
            self.floor_part = len(surfaces)
            surfaces.append(floor_surface(floor))
        parts: list[Surface | Balls] = [*surfaces, *things.balls]
        self.pieces = [part.piece for part in parts]
        self._take_looks(parts)
        self._take_optics([part.optics for part in parts])
        self.scene = self._made(surfaces, things.balls, around)
        self.around = self.scene.environment()

    # Tables

    def _take_looks(self, parts: Sequence[Surface | Balls]) -> None:
        rows, self._first_row, count = [], [], 0
        for part in parts:
            self._first_row.append(count)
            rows.append(part.looks)
            count += len(part.looks)
        self._first_copy_row: list[int | None] = []
        for part in parts:
            own = part.of_copies if isinstance(part, Surface) else None
            self._first_copy_row.append(None if own is None else count)
            if own is not None:
                rows.append(own)
                count += len(own)
        looks = np.concatenate(rows) if rows else np.zeros((1, COLUMNS), np.float32)
        real = looks if len(looks) else np.zeros((1, COLUMNS), np.float32)
        self.any_glass = bool((real[:, GLASS] > 0).any())
        self.any_clear = bool((real[:, OPACITY] < 1).any())
        self.any_own = bool((real[:, OWN] > 0).any())
        self.any_coat = bool((real[:, COAT] > 0).any())
        self.any_sheen = bool((real[:, SHEEN] > 0).any())
        # Four numbers at a time are fetched together.
        self._looks = [floats(real[:, 4 * k : 4 * k + 4]) for k in range(3)]

    def _take_optics(self, optics: Sequence[Optics]) -> None:
        self.spheres = sorted({each.sphere for each in optics if each.sphere is not None})
        self.any_held_out = any(each.held_out for each in optics)
        self.any_thin = any(each.thin for each in optics)
        table = np.zeros((max(1, len(optics)), 12), np.float32)
        for row, each in zip(table, optics, strict=False):
            sphere = -1 if each.sphere is None else self.spheres.index(each.sphere)
            row[:] = [
                each.refraction,
                *each.absorption,
                each.thin,
                each.coat_roughness,
                *each.sheen_colour,
                sphere,
                each.held_out,
                0,
            ]
        self._optics = floats(table)

    def optics(self, part: Any, column: int) -> Any:
        return dr.gather(mi.Float, self._optics, part * 12 + column)

    def optics_of(self, part: Any) -> dict[str, Any]:
        def get(column: int) -> Any:
            return self.optics(part, column)

        return {
            "refraction": get(0),
            "absorption": mi.Color3f(get(1), get(2), get(3)),
            "thin": get(4) > 0.5,
            "coat_roughness": get(5),
            "sheen_colour": mi.Color3f(get(6), get(7), get(8)),
            "sphere": mi.Int32(get(9)),
            "held_out": get(10) > 0.5,
        }

    # The scene

    def _made(
        self, surfaces: Sequence[Surface], balls: Sequence[Balls], around: np.ndarray | None
    ) -> Any:
        self._triangles: list[np.ndarray] = []
        self._count = 0
        whole = [k for k, s in enumerate(surfaces) if s.placements is None and len(s.triangles)]
        described: dict[str, Any] = {"type": "scene"}
        shapes: list[tuple[Any, int]] = []
        copies: list[tuple[Any, int]] = []
        self._glowing(surfaces, whole)
        if whole:
            mesh = _mesh(
                [surfaces[k].points for k in whole],
                [surfaces[k].normals for k in whole],
                [surfaces[k].triangles for k in whole],
            )
            shapes.append((mesh, self._count))
            for k in whole:
                self._add_triangles(surfaces[k].triangles, self._first_row[k], k)
            described["whole"] = mesh
        for k, surface in enumerate(surfaces):
            if surface.placements is None or not len(surface.triangles):
                continue
            mesh = _mesh([surface.points], [surface.normals], [surface.triangles])
            shapes.append((mesh, self._count))
            self._add_triangles(surface.triangles, self._first_row[k], k)
            group = mi.load_dict({"type": "shapegroup", "base": mesh})
            first = self._first_copy_row[k]
            for copy, placement in enumerate(surface.placements):
                matrix = np.vstack([placement.astype(np.float64), [0, 0, 0, 1]])
                made = mi.load_dict(
                    {
                        "type": "instance",
                        "group": group,
                        "to_world": mi.ScalarTransform4f(matrix),
                    }
                )
                described[f"copy {k} {copy}"] = made
                copies.append((made, NONE if first is None else first + copy))
        if balls:
            first = len(surfaces)
            made = _ellipsoids(balls)
            shapes.append((made, self._count))
            for k, each in enumerate(balls):
                row = self._first_row[first + k] + np.arange(len(each.centres))
                own = np.stack([row, row, row, np.full_like(row, first + k)], axis=1)
                self._triangles.append(own.astype(np.uint32))
                self._count += len(own)
            described["balls"] = made
        if around is not None:
            described["around"] = _envmap(around)
        if len(described) == 1:
            # A scene must have something in it to be asked.
            described["nothing"] = {
                "type": "sphere",
                "radius": 1e-6,
                "center": [0.0, -1e6, 0.0],
            }
        rows = np.concatenate(self._triangles) if self._triangles else np.zeros((1, 4), np.uint32)
        self._rows = whole_numbers(rows)
        self._first_of, self._row_of_copy = _tables(shapes, copies)
        return mi.load_dict(described)

    def _add_triangles(self, triangles: np.ndarray, first_row: int, part: int) -> None:
        own = np.empty((len(triangles), 4), np.uint32)
        own[:, :3] = triangles + np.uint32(first_row)
        own[:, 3] = part
        self._triangles.append(own)
        self._count += len(triangles)

    def _glowing(self, surfaces: Sequence[Surface], whole: Sequence[int]) -> None:
        """Triangles that shine by themselves, as lamps; those of copies are not looked for."""
        corners, light, parts = [], [], []
        for k in whole:
            surface = surfaces[k]
            own = surface.looks[:, OWN]
            if surface.optics.held_out or not own.any():
                continue
            lit = own[surface.triangles]
            some = lit.max(axis=(1, 2)) > 0
            corners.append(surface.points[surface.triangles[some]])
            light.append(lit[some])
            parts.append(k)
        self.glow: Glow | None = None
        if corners:
            self.glow = Glow(np.concatenate(corners), np.concatenate(light))
        glowing = np.zeros(max(1, len(self.pieces)), bool)
        glowing[parts] = True
        self._glows = mi.Bool(glowing)

    def is_lamp(self, part: Any) -> Any:
        """Whether the glow of a part is looked for as lamps are."""
        return dr.gather(mi.Bool, self._glows, part)

    # What rays meet

    def met(self, found: Any, active: Any) -> Met:
        """The looks where a ray met something. found : a PreliminaryIntersection"""
        shape = dr.reinterpret_array(mi.UInt32, found.shape)
        first = dr.gather(mi.UInt32, self._first_of, shape, active)
        row = first + found.prim_index
        a, b, c, part = (dr.gather(mi.UInt32, self._rows, row * 4 + k, active) for k in range(4))
        if self._row_of_copy is not None:
            copy = dr.reinterpret_array(mi.UInt32, found.instance)
            own = dr.gather(mi.UInt32, self._row_of_copy, copy, active)
            is_own = own != NONE
            a, b, c = (dr.select(is_own, own, each) for each in (a, b, c))
        u, v = found.prim_uv.x, found.prim_uv.y
        same = a == b
        u, v = dr.select(same, 0, u), dr.select(same, 0, v)
        looks: list[Any] = []
        for table in self._looks:
            rows = [dr.gather(mi.Vector4f, table, each, active) for each in (a, b, c)]
            mean = rows[0] * (1 - u - v) + rows[1] * u + rows[2] * v
            looks += [mean.x, mean.y, mean.z, mean.w]
        return Met(looks, part, row)


class Glow:
    """Triangles that shine, of which one is chosen by how much it sends out."""

    def __init__(self, corners: np.ndarray, light: np.ndarray) -> None:
        """corners : (T, 3, 3) metres; light : (T, 3, 3) radiance at the corners"""
        normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        area = np.linalg.norm(normal, axis=1) / 2
        power = area * (light.mean(axis=1) @ np.array(LUMINANCE))
        self.total = float(max(power.sum(), 1e-20))
        self._chances = mi.DiscreteDistribution(floats(np.maximum(power, 1e-20)))
        self._corners, self._light = floats(corners), floats(light)

    def at(self, choice: Any, place: Any) -> tuple[Any, Any, Any, Any]:
        """A place on one of them: where, the normal there, its radiance, and with what density it
        was chosen, 1/m²."""
        number = self._chances.sample(choice)
        shares = mi.warp.square_to_uniform_triangle(place)

        def three(table: Any, k: int) -> Any:
            first = number * 9 + 3 * k
            return mi.Vector3f(*(dr.gather(mi.Float, table, first + j) for j in range(3)))

        p = [three(self._corners, k) for k in range(3)]
        e = [three(self._light, k) for k in range(3)]
        w = (1 - shares.x - shares.y, shares.x, shares.y)
        point = p[0] * w[0] + p[1] * w[1] + p[2] * w[2]
        radiance = e[0] * w[0] + e[1] * w[1] + e[2] * w[2]
        normal = dr.normalize(dr.cross(p[1] - p[0], p[2] - p[0]))
        mean = (e[0] + e[1] + e[2]) / 3
        return mi.Point3f(point), normal, mi.Color3f(radiance), self.density(mean)

    def density(self, mean: Any) -> Any:
        """1/m², with which a place is chosen on a triangle whose mean radiance this is."""
        lit = mean.x * LUMINANCE[0] + mean.y * LUMINANCE[1] + mean.z * LUMINANCE[2]
        return lit * number(1 / self.total)


def _mesh(
    points: Sequence[np.ndarray], normals: Sequence[np.ndarray], triangles: Sequence[np.ndarray]
) -> Any:
    starts = np.cumsum([0, *(len(each) for each in points)])
    all_of = [each + np.uint32(start) for each, start in zip(triangles, starts[:-1], strict=True)]
    corners = np.concatenate(all_of)
    mesh = mi.Mesh("mesh", int(starts[-1]), len(corners), has_vertex_normals=True)
    parameters = mi.traverse(mesh)
    parameters["vertex_positions"] = floats(np.concatenate(points))
    parameters["vertex_normals"] = floats(np.concatenate(normals))
    parameters["faces"] = whole_numbers(corners)
    parameters.update()
    return mesh


def _ellipsoids(balls: Sequence[Balls]) -> Any:
    """Rows of centres, radii along three axes, and a quaternion, whose last number is real."""
    rows = []
    for each in balls:
        own = np.zeros((len(each.centres), 10), np.float32)
        own[:, :3] = each.centres
        own[:, 3:6] = each.radii[:, None]
        own[:, 9] = 1
        if each.facing is not None:
            own[:, 5] *= THIN
            own[:, 6:] = Rotation.from_matrix(each.facing).as_quat()
        rows.append(own)
    data = np.concatenate(rows)
    return mi.load_dict({"type": "ellipsoids", "data": tensor(data), "extent": 1.0})


def _envmap(around: np.ndarray) -> Any:
    """Mitsuba's begins ahead, ours in its middle."""
    turned = np.roll(around, -(around.shape[1] // 2), axis=1)
    bitmap = mi.Bitmap(np.ascontiguousarray(turned, np.float32))
    return mi.load_dict({"type": "envmap", "bitmap": bitmap})


def _tables(
    shapes: Sequence[tuple[Any, int]], copies: Sequence[tuple[Any, int]]
) -> tuple[Any, Any | None]:
    """By the numbers that Mitsuba gives shapes: the first row of triangles, and of copies the row
    of the look."""

    def table(entries: Sequence[tuple[Any, int]]) -> Any:
        of_shapes = [_number(shape) for shape, _ in entries]
        found = np.full(max(of_shapes, default=0) + 1, NONE, np.uint32)
        found[of_shapes] = [value for _, value in entries]
        return whole_numbers(found)

    return table(shapes), table(copies) if copies else None


def _number(shape: Any) -> int:
    return int(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))[0])
