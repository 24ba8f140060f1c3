"""A Mitsuba scene, with tables of the looks of its triangles beside it.

Mitsuba intersects rays. The triangle and the copy that it finds lead to rows of tables, so that one
kernel shades everything, however many pieces there are.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import drjit as dr
import mitsuba as mi
import numpy as np

from zygomorph.render.final.arrays import floats, number, whole_numbers
from zygomorph.render.final.dot_meshes import dot_mesh
from zygomorph.render.final.floor import floor_surface
from zygomorph.render.final.strokes import SHADED
from zygomorph.render.final.surface_weights import LUMINANCE
from zygomorph.render.final.things import (
    COAT,
    COLUMNS,
    GLASS,
    OPACITY,
    OWN,
    SHEEN,
    Dots,
    Optics,
    Surface,
    Things,
)

NONE = 0xFFFFFFFF


@dataclass
class Where:
    """Hits of rays, as rows of tables.

    corners : rows of the three corners of the triangle, all the same for a dot
    u, v : barycentric coordinates
    part : row in the table of optics
    copy : number of the copy, NONE for what is no copy; copy_row : row of its own look, NONE if
        copies look like their base
    """

    corners: tuple[Any, Any, Any]
    u: Any
    v: Any
    part: Any
    copy: Any
    copy_row: Any

    @property
    def look_rows(self) -> tuple[Any, Any, Any]:
        own = self.copy_row != NONE
        a, b, c = (dr.select(own, self.copy_row, each) for each in self.corners)
        return a, b, c

    def mean(self, a: Any, b: Any, c: Any) -> Any:
        """Interpolates values of the three corners."""
        return a * (1 - self.u - self.v) + b * self.u + c * self.v


@dataclass
class Met:
    """Looks at hits. looks : a value for each column; part : row in the table of optics"""

    looks: list[Any]
    part: Any


class TracedScene:
    """scene : of Mitsuba
    parts : surfaces and dots; pieces : id of the piece of each
    table : (R, COLUMNS or more) float32 looks of all points; first_rows : first row of each part
    any_… : whether any part has the feature; kernels leave out those that none has
    """

    def __init__(self, things: Things, around: np.ndarray | None) -> None:
        surfaces = list(things.surfaces)
        self.floor_part = NONE
        floor = things.floor
        if floor is not None and floor.ground.kind != "shadow":
            self.floor_part = len(surfaces)
            surfaces.append(floor_surface(floor, _columns(things)))
        parts: list[Surface | Dots] = [*surfaces, *things.dots]
        self.parts = parts
        self.pieces = [part.piece for part in parts]
        self._take_looks(parts)
        self._take_optics([part.optics for part in parts])
        self.scene = self._made(surfaces, things.dots, around)
        self.around = self.scene.environment()

    # Tables

    def _take_looks(self, parts: Sequence[Surface | Dots]) -> None:
        rows: list[np.ndarray] = []
        self.first_rows: list[int] = []
        count = 0
        for part in parts:
            self.first_rows.append(count)
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
        self.table = real
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
        self.any_strokes = any(each.shaded != "lamps" for each in optics)
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
                SHADED.index(each.shaded),
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
            "shaded": mi.UInt32(get(11)),
        }

    # The scene

    def _made(
        self, surfaces: Sequence[Surface], dots: Sequence[Dots], around: np.ndarray | None
    ) -> Any:
        self._triangles: list[np.ndarray] = []
        self._count = 0
        # Numbers of the parts whose copies follow one another.
        self.copied: list[int] = []
        whole = [k for k, s in enumerate(surfaces) if s.placements is None and len(s.triangles)]
        described: dict[str, Any] = {"type": "scene"}
        shapes: list[tuple[Any, int]] = []
        copies: list[tuple[Any, int]] = []
        firsts: list[tuple[Any, int]] = []
        self._glowing(surfaces, whole)
        if whole:
            mesh = _mesh(
                [surfaces[k].points for k in whole],
                [surfaces[k].normals for k in whole],
                [surfaces[k].triangles for k in whole],
            )
            shapes.append((mesh, self._count))
            for k in whole:
                self._add_triangles(surfaces[k].triangles, self.first_rows[k], k)
            described["whole"] = mesh
        for k, surface in enumerate(surfaces):
            if surface.placements is None or not len(surface.triangles):
                continue
            mesh = _mesh([surface.points], [surface.normals], [surface.triangles])
            begin = self._count
            self._add_triangles(surface.triangles, self.first_rows[k], k)
            group = mi.load_dict({"type": "shapegroup", "base": mesh})
            # Without it the scene does not find what its instances are of.
            described[f"base {k}"] = group
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
                firsts.append((made, begin))
            self.copied.append(k)
        meshes = [dot_mesh(each) for each in dots]
        if any(len(triangles) for _, _, triangles, _ in meshes):
            points, normals, triangles, sources = zip(*meshes, strict=True)
            mesh = _mesh(points, normals, triangles)
            shapes.append((mesh, self._count))
            for k, source in enumerate(sources, len(surfaces)):
                # All corners have the look of their dot.
                row = self.first_rows[k] + source
                self._add_rows(np.stack([row, row, row], axis=1), k)
            described["dots"] = mesh
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
        self._first_of = _table(shapes)
        self._first_of_copy = _table(firsts)
        self._row_of_copy = _table(copies) if copies else None
        numbered = [(copy, number) for number, (copy, _) in enumerate(copies)]
        self._number_of_copy = _table(numbered) if copies else None
        return mi.load_dict(described)

    def _add_triangles(self, triangles: np.ndarray, first_row: int, part: int) -> None:
        self._add_rows(triangles + np.uint32(first_row), part)

    def _add_rows(self, rows: np.ndarray, part: int) -> None:
        """Append triangles to the table. rows : (T, 3), rows of the looks of their corners"""
        own = np.empty((len(rows), 4), np.uint32)
        own[:, :3] = rows
        own[:, 3] = part
        self._triangles.append(own)
        self._count += len(own)

    def _glowing(self, surfaces: Sequence[Surface], whole: Sequence[int]) -> None:
        """Collects the triangles that glow, as light sources; those of copies are not sampled."""
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
        """Whether the glow of a part is sampled as a light source."""
        return dr.gather(mi.Bool, self._glows, part)

    # What rays meet

    def where(self, found: Any, active: Any) -> Where:
        """Rows of tables for hits. found : Mitsuba's preliminary intersection"""
        shape = dr.reinterpret_array(mi.UInt32, found.shape)
        first = dr.gather(mi.UInt32, self._first_of, shape, active)
        instance = mi.UInt32(0)
        if self._row_of_copy is not None:
            # What is met on a copy has no shape of its own.
            instance = dr.reinterpret_array(mi.UInt32, found.instance)
            of_copy = dr.gather(mi.UInt32, self._first_of_copy, instance, active)
            first = dr.select(instance != 0, of_copy, first)
        row = first + found.prim_index
        a, b, c, part = (dr.gather(mi.UInt32, self._rows, row * 4 + k, active) for k in range(4))
        copy = copy_row = mi.UInt32(NONE)
        if self._row_of_copy is not None:
            copy_row = dr.gather(mi.UInt32, self._row_of_copy, instance, active)
            copy = dr.gather(mi.UInt32, self._number_of_copy, instance, active)
        same = a == b
        u, v = dr.select(same, 0, found.prim_uv.x), dr.select(same, 0, found.prim_uv.y)
        return Where((a, b, c), u, v, part, copy, copy_row)

    def met(self, found: Any, active: Any) -> Met:
        """Interpolated looks at hits."""
        where = self.where(found, active)
        a, b, c = where.look_rows if self._row_of_copy is not None else where.corners
        looks: list[Any] = []
        for table in self._looks:
            rows = [dr.gather(mi.Vector4f, table, each, active) for each in (a, b, c)]
            mean = where.mean(*rows)
            looks += [mean.x, mean.y, mean.z, mean.w]
        return Met(looks, where.part)


class Glow:
    """Glowing triangles as a light source, sampled in proportion to their power."""

    def __init__(self, corners: np.ndarray, light: np.ndarray) -> None:
        """corners : (T, 3, 3) metres; light : (T, 3, 3) radiance at the corners"""
        normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        area = np.linalg.norm(normal, axis=1) / 2
        power = area * (light.mean(axis=1) @ np.array(LUMINANCE))
        self.total = float(max(power.sum(), 1e-20))
        self._chances = mi.DiscreteDistribution(floats(np.maximum(power, 1e-20)))
        self._corners, self._light = floats(corners), floats(light)

    def at(self, choice: Any, place: Any) -> tuple[Any, Any, Any, Any]:
        """Samples a point: position, normal, radiance, and density by area, 1/m²."""
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
        """Density, 1/m², of points on a triangle with this mean radiance."""
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


def _envmap(around: np.ndarray) -> Any:
    """Mitsuba's environment maps are turned half round against ours."""
    turned = np.roll(around, -(around.shape[1] // 2), axis=1)
    bitmap = mi.Bitmap(np.ascontiguousarray(turned, np.float32))
    return mi.load_dict({"type": "envmap", "bitmap": bitmap})


def _table(entries: Sequence[tuple[Any, int]]) -> Any:
    """Values by Mitsuba's registry numbers of shapes and instances; number 0 is none."""
    of_shapes = [_number(shape) for shape, _ in entries]
    found = np.full(max(of_shapes, default=0) + 1, NONE, np.uint32)
    found[of_shapes] = [value for _, value in entries]
    return whole_numbers(found)


def _columns(things: Things) -> int:
    """Number of columns of the table of looks."""
    parts: tuple[Surface | Dots, ...] = (*things.surfaces, *things.dots)
    return max((part.looks.shape[1] for part in parts), default=COLUMNS)


def _number(shape: Any) -> int:
    return int(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))[0])
