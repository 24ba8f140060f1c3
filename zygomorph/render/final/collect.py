"""Evaluates a study at a moment to the arrays that are path traced."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.drawable import Drawn
from zygomorph.core.evaluation.evaluate import Evaluator, Request, Result
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.view import View
from zygomorph.core.inspect.autofocus import focus_at
from zygomorph.core.shared.appearance import Appearance
from zygomorph.core.shared.drawn_scene import Ground
from zygomorph.core.shared.material import Material
from zygomorph.core.values.gradients import parse_hex, to_linear
from zygomorph.render.final.strokes import (
    DISC_OF_SQUARE,
    DOT_SIDES,
    FEW_DOT_SIDES,
    FEW_SIDES_PX,
    SMALL_PX,
    VERY_MANY,
)
from zygomorph.render.final.things import (
    COAT,
    COLOUR,
    COLUMNS,
    GLASS,
    METAL,
    OPACITY,
    OWN,
    ROUGHNESS,
    SHEEN,
    Dots,
    Floor,
    Optics,
    Surface,
    Things,
)
from zygomorph.render.final.tubes import Tubes, along_curves, along_segments, strip_normals

# Copies of more points than these together stay copies.
MOST_WRITTEN = 1_500_000
# Rows of the stage that sizes in pixels are meant for.
STAGE_ROWS = 800
# Pixels below which lines and points are not seen.
LEAST_PX = 1.3
# Pixels between points on which patterns and pictures lie; by the nearest of so many points, of
# which some in a hundred may be nearer still.
PIXELS, MOST_MEASURED, NEAREST = 1.5, 4000, 5
# Sides of tubes: of thick ones, whose rim is seen, and where there are very many.
SIDES, FEWEST_SIDES = 12, 5
MOST_SEGMENTS = 100_000
# What stands on the ground does so a little above it, in shares of its radius.
ABOVE = 0.02


def collect(
    study: Study,
    evaluator: Evaluator,
    frame: float,
    rows: int,
    final: bool = True,
    view: View | None = None,
    cancelled: Callable[[], bool] = lambda: False,
    masks: Sequence[tuple[str, str]] = (),
) -> Things:
    """The scene at a frame, which may be fractional.

    rows : of the picture, for sizes in pixels
    view : instead of that of the study's camera
    masks : (piece, step) of each mask whose weights become columns of the looks

    Raises what evaluating raises: StepError, ZygomorphError, Cancelled.
    """
    scene = plan_scene(study, final).at(np.array([frame]))
    seen = scene.view
    if view is None and seen.lens_radius > 0:
        seen = replace(seen, focus=focus_at(evaluator, study, frame, final)[0])
    measure = _Measure(view or seen, rows)
    parts: list[Surface | Dots] = []
    boxes = []
    for piece in study.pieces:
        if not piece.get("visible", True):
            continue
        own = [(number, step) for number, (of, step) in enumerate(masks) if of == piece["id"]]
        steps: list[str | None] = [step for _, step in own]
        request = Request(piece["id"], frame, final, shared=True, cancelled=cancelled)
        several = [
            evaluator.drawn(
                study,
                replace(request, mask_of=step),
                for_viewer=False,
                written=MOST_WRITTEN,
                edge_of=measure.edge_of,
            )
            for step in steps or [None]
        ]
        drawn = several[0]
        weights = {number: each.result for (number, _), each in zip(own, several, strict=False)}
        weighed = Masks(len(masks), weights)
        parts += _parts(piece["id"], drawn, bool(piece.get("holdout")), measure, weighed)
        boxes.append(_corners(drawn))
    lamps = tuple(lamp for lamps in scene.lamps.values() for lamp in lamps)
    return Things(
        tuple(part for part in parts if isinstance(part, Surface)),
        tuple(part for part in parts if isinstance(part, Dots)),
        lamps,
        view or seen,
        scene.backdrop,
        _floor(scene.ground, boxes),
        scene.finish,
        study.images,
    )


class _Measure:
    """Converts between sizes in metres and in pixels of a picture."""

    def __init__(self, view: View, rows: int) -> None:
        self._view, self._rows = view, rows
        self._ahead = -view.axes[:, 2]

    def diameters(self, sizes: np.ndarray, points: np.ndarray, on_screen: bool) -> np.ndarray:
        """(P,) metres of sizes in metres or pixels at points on the stage; never too small to be
        seen."""
        pixel = self._pixel(points)
        wanted = sizes * pixel * (self._rows / STAGE_ROWS) if on_screen else sizes
        return np.maximum(wanted, LEAST_PX * pixel).astype(np.float32)

    def median_pixels(self, diameters: np.ndarray, points: np.ndarray) -> float:
        """Median of diameters at points, in pixels of the stage."""
        if not len(points):
            return 0.0
        pixels = diameters / self._pixel(points) * (STAGE_ROWS / self._rows)
        return float(np.median(pixels))

    def _pixel(self, points: np.ndarray) -> np.ndarray:
        """(P,) width of a pixel at points on the stage, metres."""
        view = self._view
        if view.height is not None:
            return np.full(len(points), view.height / self._rows)
        away = np.maximum((points - view.position) @ self._ahead, 1e-4)
        found: np.ndarray = away * (2 * np.tan(np.radians(view.angle) / 2) / self._rows)
        return found

    def edge_of(self, result: Result) -> float:
        """Longest edge of a piece, in its own metres, with which patterns on it are as sharp as
        pixels where it is nearest."""
        place = result.place.astype(np.float64)
        scale = abs(float(np.linalg.det(place[:3, :3]))) ** (1 / 3)
        points = result.geometry.mesh.points
        some = points[:: max(1, len(points) // MOST_MEASURED)]
        pixels = self._pixel(transformed(some, place))
        return float(np.percentile(pixels, NEAREST)) * PIXELS / max(scale, 1e-9)

    def towards(self, points: np.ndarray) -> np.ndarray:
        """(P, 3) unit, from points on the stage to the viewer."""
        if self._view.height is not None:
            return np.broadcast_to(-self._ahead, points.shape)
        way = self._view.position - points
        found: np.ndarray = way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9)
        return found

    def axes(self) -> np.ndarray:
        """(3, 3) columns: to the right, upwards, and towards the eye."""
        return self._view.axes


def _corners(drawn: Drawn) -> np.ndarray:
    """(8, 3) corners of a piece's bounding box on the stage, metres."""
    low, high = drawn.result.low, drawn.result.high
    ends = np.stack([low, high])
    corners = np.stack(np.meshgrid(*ends.T, indexing="ij"), axis=-1).reshape(-1, 3)
    return transformed(corners, drawn.result.place)


def _floor(ground: Ground, boxes: list[np.ndarray]) -> Floor | None:
    """The ground, at the stage's own height below what is shown if none is given."""
    if ground.kind == "none":
        return None
    low, high = np.zeros(3), np.zeros(3)
    radius, level = 1.0, -1.0
    if boxes:
        all_of = np.concatenate(boxes)
        low, high = all_of.min(axis=0), all_of.max(axis=0)
        radius = max(float(np.linalg.norm(high - low)) / 2, 0.05)
        level = float(low[1]) - radius * ABOVE
    height = level if ground.level is None else ground.level
    middle = (low + high) / 2
    # Beyond where its rim is seen, also while next to nothing is shown.
    far = 2.0 ** np.ceil(np.log2(max(radius * 30, 64)))
    reach = radius * 6 if ground.kind == "shadow" else far
    return Floor(ground, (float(middle[0]), height, float(middle[2])), float(reach))


@dataclass(frozen=True)
class Masks:
    """Weights of the wanted masks on one piece.

    count : of all wanted masks; own : results with the weights of this piece's, by their numbers
    """

    count: int
    own: Mapping[int, Result]

    def columns(self, count: int, number: int | None) -> np.ndarray:
        """(count, masks) weights of the points of a base by its number, or of copies if None; 0 for
        masks of another domain or piece."""
        found = np.zeros((count, self.count), np.float32)
        for column, result in self.own.items():
            weights = result.weights
            if weights is None:
                continue
            if len(weights) == 1:
                found[:, column] = weights[0]
            elif (result.weighed == "copies") == (number is None):
                first = 0
                if result.weighed == "bases":
                    first = sum(len(mesh.points) for mesh in result.geometry.bases[: number or 0])
                found[:, column] = weights[first : first + count]
        return found

    @property
    def differ_by_copies(self) -> bool:
        return any(result.weighed == "copies" for result in self.own.values())


def _parts(
    piece: str, drawn: Drawn, held_out: bool, measure: _Measure, masks: Masks
) -> Iterator[Surface | Dots]:
    result, shown = drawn.result, drawn.appearance
    optics = _optics(shown.material, held_out)
    geometry, place = result.geometry, result.place
    if geometry.copies is not None:
        yield from _copies(piece, drawn, optics, masks)
        return
    mesh = geometry.mesh
    points = transformed(mesh.points, place).astype(np.float32)
    looks = _looks(shown, len(points), 0, masks)
    topology, material = mesh.topology, shown.material
    faces, curves = topology.face_count > 0, topology.curve_count > 0
    if faces and material.drawn in ("surface", "edges"):
        yield _surface(piece, mesh, points, place, looks, optics, material.flat)
    lined = faces and material.drawn in ("lines", "edges")
    dotted = material.drawn == "points" or not (faces or curves)
    if not (lined or dotted or curves):
        return
    sizes = shown.amounts(len(points), "size")
    radii = measure.diameters(sizes, points, material.on_screen) / 2
    # Of its own: the surface that was drawn has the others.
    looks = looks.copy()
    looks[:, [METAL, GLASS, COAT, SHEEN]] = 0
    rod = replace(optics, sphere=None, shaded="round")
    if curves and material.drawn != "points":
        sides = _sides(len(topology.curve_points))
        made = along_curves(topology, points, radii, sides)
        yield _stroked(piece, made, sides, looks, rod, measure)
    if lined:
        own = looks.copy()
        if material.drawn == "edges":
            own[:, COLOUR], own[:, OWN] = to_linear(parse_hex(material.edge_colour)), 0
        segments = topology.edges
        sides = _sides(len(segments))
        made = along_segments(points, segments, radii, sides)
        yield _stroked(piece, made, sides, own, rod, measure)
    if dotted:
        yield _dots(piece, points, radii, looks, optics, material.dots, measure)


def _dots(
    piece: str,
    points: np.ndarray,
    radii: np.ndarray,
    looks: np.ndarray,
    optics: Optics,
    kind: str,
    measure: _Measure,
) -> Dots:
    """Loose points as the stage draws them, with as many sides as can be seen."""
    pixels = measure.median_pixels(2 * radii, points)
    even = replace(optics, sphere=None, shaded="even")
    if kind == "squares" or pixels <= SMALL_PX:
        radii = radii * np.float32(DISC_OF_SQUARE)
        return Dots(piece, points, radii, looks, even, 4, measure.axes())
    many = pixels <= FEW_SIDES_PX or len(points) > VERY_MANY
    sides = FEW_DOT_SIDES if many else DOT_SIDES
    if kind == "discs":
        return Dots(piece, points, radii, looks, even, sides, measure.axes())
    return Dots(piece, points, radii, looks, replace(even, shaded="round"), sides)


def _sides(count: int) -> int:
    return SIDES if count < MOST_SEGMENTS else FEWEST_SIDES


def _stroked(
    piece: str, made: Tubes, sides: int, looks: np.ndarray, optics: Optics, measure: _Measure
) -> Surface:
    points, normals, triangles, source = made
    normals = strip_normals(normals, measure.towards(points), sides)
    return Surface(piece, points, normals, triangles, looks[source], optics)


def _surface(
    piece: str,
    mesh: Mesh,
    points: np.ndarray,
    place: np.ndarray,
    looks: np.ndarray,
    optics: Optics,
    flat: bool,
) -> Surface:
    triangles = mesh.topology.drawn_triangles.astype(np.uint32)
    if np.linalg.det(place[:3, :3]) < 0:
        # A mirrored piece looks outwards as it did.
        triangles = triangles[:, ::-1]
    if flat:
        points, normals, looks, triangles = faceted(points, looks, triangles)
    else:
        normals = point_normals(mesh) @ np.linalg.inv(place[:3, :3])
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-9)
    return Surface(
        piece, points, np.ascontiguousarray(normals, np.float32), triangles, looks, optics
    )


def faceted(
    points: np.ndarray, looks: np.ndarray, triangles: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Points, normals, looks and triangles for flat shading: no two triangles share a point."""
    corners = points[triangles]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-20)
    flat = triangles.reshape(-1)
    own = np.arange(len(flat), dtype=np.uint32).reshape(-1, 3)
    return points[flat], np.repeat(normal, 3, axis=0).astype(np.float32), looks[flat], own


def _copies(piece: str, drawn: Drawn, optics: Optics, masks: Masks) -> Iterator[Surface]:
    """Each base with its placements. If looks differ between copies, each copy has the look of
    its first point."""
    result, shown = drawn.result, drawn.appearance
    table = result.geometry.copies
    assert table is not None
    place = result.place.astype(np.float64)
    whole = np.tile(np.eye(4), (len(table), 1, 1))
    whole[:, :3] = table.placements
    on_stage = (place @ whole)[:, :3].astype(np.float32)
    differ = any(channel.on == "copies" for channel in shown.channels) or masks.differ_by_copies
    of_copies = _looks(shown.of_copies(), len(table), None, masks) if differ else None
    for number, mesh in enumerate(result.geometry.bases):
        own = table.base == number
        if not own.any() or mesh.topology.face_count == 0:
            continue
        count = len(mesh.points)
        looks = np.zeros((count, COLUMNS + masks.count), np.float32)
        if not differ:
            looks = _looks(shown, count, number, masks)
        base = _surface(piece, mesh, mesh.points, np.eye(4), looks, optics, shown.material.flat)
        yield replace(
            base,
            placements=on_stage[own],
            of_copies=None if of_copies is None else of_copies[own],
        )


def _looks(shown: Appearance, count: int, base: int | None, masks: Masks) -> np.ndarray:
    """(count, COLUMNS + masks) table of looks of a base by its number, or of copies if None."""
    found = np.empty((count, COLUMNS + masks.count), np.float32)
    found[:, COLUMNS:] = masks.columns(count, base)
    number = base or 0
    found[:, COLOUR] = shown.colours(count, "colour", number)
    glow = shown.amounts(count, "glow", number)[:, None]
    own = shown.colours(count, "glow_colour", number) if shown.material.glows_in_own else None
    found[:, OWN] = glow * (found[:, COLOUR] if own is None else own)
    for column, name in (
        (ROUGHNESS, "roughness"),
        (METAL, "metal"),
        (OPACITY, "opacity"),
        (GLASS, "glass"),
        (COAT, "coat"),
        (SHEEN, "sheen"),
    ):
        found[:, column] = np.clip(shown.amounts(count, name, number), 0, 1)
    return found


def _optics(material: Material, held_out: bool) -> Optics:
    tint = np.clip(to_linear(parse_hex(material.tint)), 1e-4, 1)
    absorbed = np.zeros(3) if material.thin else -np.log(tint) / max(material.tint_depth, 1e-6)
    return Optics(
        material.refraction,
        tuple(float(a) for a in absorbed),  # type: ignore[arg-type]
        material.thin,
        material.coat_roughness,
        tuple(float(c) for c in to_linear(parse_hex(material.sheen_colour))),  # type: ignore[arg-type]
        material.sphere,
        held_out,
    )
