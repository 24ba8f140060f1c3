"""A moving picture of a study for the gallery, as animated WebP."""

from __future__ import annotations

import io
from collections.abc import Callable

import numpy as np
from PIL import Image

from zygomorph.core.budget import budget
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.scene import Scene, plan_scene
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.images import Images
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.smoothing import drawn_geometry
from zygomorph.core.geometry.view import View
from zygomorph.core.kernels.gate import GATE
from zygomorph.core.shared.appearance import Appearance
from zygomorph.core.shared.backdrop_pixels import backdrop
from zygomorph.core.shared.drawn_scene import DomeLamp, SkyLamp, SunLamp
from zygomorph.core.shared.lighting import irradiance, neutral_tone
from zygomorph.core.values.gradients import to_linear, to_srgb
from zygomorph.render.raster import draw, project
from zygomorph.render.strokes import Drawn, dots, strokes

SIZE = (384, 240)
# A picture in the gallery may not take the memory of the study that is being worked on.
MOST_BYTES = 500_000_000
FRAMES = 20
# Points of copies that are written out.
MOST_POINTS = 1_000_000
MOST_DOTS = 60_000
# Of the stage that pixels of the screen are meant for.
SCREEN_ROWS = 800


def render_frame(
    study: Study, evaluator: Evaluator, frame: float, size: tuple[int, int] = SIZE
) -> Image.Image:
    """One picture from the study's camera. Raises what evaluating raises."""
    large = (size[0] * 2, size[1] * 2)
    scene = plan_scene(study).at(np.array([frame]))
    position, angle = _eye(scene.view)
    view = scene.view.axes.T
    focal = large[1] / 2 / np.tan(np.radians(angle) / 2)
    image, depth = _empty(large)
    held_out = _empty(large)
    for piece in study.pieces:
        if not piece.get("visible", True):
            continue
        request = Request(piece["id"], frame, shared=True)
        found = evaluator.evaluate(study, request)
        # Of very many copies some are enough for a small picture.
        mesh = drawn_geometry(found.geometry).some(MOST_POINTS).real
        shown = evaluator.appearance(study, request, Geometry((mesh,)))
        look = shown.material
        points = transformed(mesh.points, found.place)
        turned = point_normals(mesh) @ np.linalg.inv(found.place[:3, :3])
        turned /= np.maximum(np.linalg.norm(turned, axis=1, keepdims=True), 1e-9)
        colours = _light(shown, shown.colours(len(points)))
        screen = project(points, position, view, angle, large)
        triangles = mesh.topology.triangles(mesh.points)
        if look.flat and len(triangles):
            screen, turned, colours, triangles = _faceted(points, screen, colours, triangles)
        parts: list[Drawn] = [(screen, turned, colours, triangles)]
        topology = mesh.topology
        # What is measured on a screen has the same share of a smaller picture.
        thickness = shown.amounts(len(points), "size")
        if look.on_screen:
            thickness = thickness * (large[1] / SCREEN_ROWS) * screen[:, 2] / focal
        rod = (view, thickness, focal)
        if topology.curve_count:
            parts.append(strokes(screen, colours, topology.curve_segments, *rod))
        elif topology.face_count == 0:
            # No more than there are pixels for.
            every = max(1, len(screen) // MOST_DOTS)
            parts.append(dots(screen[::every], colours[::every], view, thickness[::every], focal))
        with GATE.narrow():
            for part in parts:
                draw(*(held_out if piece.get("holdout") else (image, depth)), *part)
    hidden = held_out[1] < depth
    image[hidden], depth[hidden] = 0, np.inf
    return _shade(image, depth, scene, size, study.images)


# From so many of its heights away an orthographic view and one through a lens look the same here.
FAR = 200


def _eye(view: View) -> tuple[np.ndarray, float]:
    """(3,) where it is looked from, and the angle of view in degrees."""
    if view.height is None:
        return view.position, view.angle
    away = FAR * view.height
    angle = float(np.degrees(2 * np.arctan(view.height / 2 / away)))
    return view.target + view.axes[:, 2] * away, angle


def _empty(size: tuple[int, int]) -> tuple[np.ndarray, np.ndarray]:
    """A picture with nothing in it, (rows, columns, 9), and its depths."""
    columns, rows = size
    return np.zeros((rows, columns, 9), np.float32), np.full((rows, columns), np.inf, np.float32)


def _light(shown: Appearance, colours: np.ndarray) -> np.ndarray:
    """(P, 6) linear: the colour of each point, and light of its own."""
    count = len(colours)
    strength = shown.amounts(count, "glow")[:, None]
    own = colours
    if shown.material.glows_in_own:
        own = shown.colours(count, "glow_colour")
    return np.concatenate([colours, strength * own], axis=1)


def _faceted(
    points: np.ndarray, screen: np.ndarray, colours: np.ndarray, triangles: np.ndarray
) -> tuple[np.ndarray, ...]:
    """Corners of their own for each triangle, all with the triangle's normal."""
    corners = points[triangles]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    flat = triangles.reshape(-1)
    own = np.arange(len(flat), dtype=np.int32).reshape(-1, 3)
    return screen[flat], np.repeat(normal, 3, axis=0), colours[flat], own


def _shade(
    image: np.ndarray, depth: np.ndarray, scene: Scene, size: tuple[int, int], images: Images
) -> Image.Image:
    """A picture from colours, own light and normals at twice its size, (2 rows, 2 columns, 9)."""
    seen = np.isfinite(depth)[..., None]
    normal = image[..., 6:]
    normal = normal / np.maximum(np.linalg.norm(normal, axis=2, keepdims=True), 1e-6)
    lamps = [lamp for lamps in scene.lamps.values() for lamp in lamps]
    near = any(not isinstance(lamp, SunLamp | SkyLamp | DomeLamp) for lamp in lamps)
    points = _places(depth, scene) if near else np.zeros(3)
    # A matt surface sends back its colour's share of what arrives, to all sides alike.
    lit = image[..., :3] * irradiance(normal, points, lamps, images) / np.pi + image[..., 3:6]
    behind = to_linear(backdrop(scene.backdrop, (size[0] * 2, size[1] * 2), images))
    shown = np.where(seen, neutral_tone(lit * scene.finish.exposure), behind)
    rows, columns = size[1], size[0]
    small = shown.reshape(rows, 2, columns, 2, 3).mean(axis=(1, 3))
    return Image.fromarray((to_srgb(small) * 255).round().astype(np.uint8))


def _places(depth: np.ndarray, scene: Scene) -> np.ndarray:
    """(rows, columns, 3) metres on the stage of what is seen at distances along the view."""
    rows, columns = depth.shape
    view = scene.view.axes.T
    focal = rows / 2 / np.tan(np.radians(scene.view.angle) / 2)
    across, down = np.meshgrid(np.arange(columns) + 0.5, np.arange(rows) + 0.5)
    away = np.where(np.isfinite(depth), depth, 1.0)
    local = np.stack(
        [(across - columns / 2) / focal * away, (rows / 2 - down) / focal * away, -away], axis=-1
    )
    found: np.ndarray = local @ view + scene.view.position
    return found


def moving_thumbnail(
    study: Study,
    evaluator: Evaluator,
    size: tuple[int, int] = SIZE,
    moments: int = FRAMES,
    stand_back: Callable[[], None] = lambda: None,
) -> bytes:
    """Animated WebP of the loop; a single picture where nothing moves.

    ``stand_back`` is called before each frame, and returns when there is time for it.
    """
    frames = []
    for frame in np.linspace(0, study.loop.frames, moments, endpoint=False):
        stand_back()
        with budget(MOST_BYTES):
            frames.append(render_frame(study, evaluator, float(frame), size))
    out = io.BytesIO()
    frames[0].save(
        out,
        "WEBP",
        save_all=True,
        append_images=frames[1:],
        quality=78,
        method=3,
        loop=0,
        duration=max(40, round(min(study.loop.seconds, 6.0) * 1000 / moments)),
    )
    return out.getvalue()


def still_of(moving: bytes) -> bytes:
    """One picture of a moving one as WebP: a third into the loop, where most are under way."""
    with Image.open(io.BytesIO(moving)) as picture:
        picture.seek(getattr(picture, "n_frames", 1) // 3)
        out = io.BytesIO()
        picture.convert("RGB").save(out, "WEBP", quality=82, method=3)
    return out.getvalue()
