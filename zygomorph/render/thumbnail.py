"""A moving picture of a study for the gallery, as animated WebP."""

from __future__ import annotations

import io
from collections.abc import Callable

import numpy as np
from PIL import Image

from zygomorph.core.budget import budget
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.scene import Scene, plan_scene
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.smoothing import drawn_geometry
from zygomorph.core.kernels.gate import GATE
from zygomorph.core.shared.appearance import Appearance
from zygomorph.core.values.gradients import gradient_table, parse_hex, to_linear, to_srgb
from zygomorph.render.lighting import backdrop, irradiance, neutral_tone
from zygomorph.render.raster import draw, look_at, project
from zygomorph.render.strokes import Drawn, dots, strokes

SIZE = (384, 240)
# A picture in the gallery may not take the memory of the study that is being worked on.
MOST_BYTES = 500_000_000
FRAMES = 20
# Points of copies that are written out.
MOST_POINTS = 1_000_000
MOST_DOTS = 60_000


def render_frame(
    study: Study, evaluator: Evaluator, frame: float, size: tuple[int, int] = SIZE
) -> Image.Image:
    """One picture from the study's camera. Raises what evaluating raises."""
    large = (size[0] * 2, size[1] * 2)
    scene = plan_scene(study).at(np.array([frame]))
    camera = scene.view
    view = look_at(camera.position, camera.target)
    focal = large[1] / 2 / np.tan(np.radians(camera.angle) / 2)
    image = np.zeros((large[1], large[0], 6), np.float32)
    depth = np.full((large[1], large[0]), np.inf, np.float32)
    glow = np.zeros((large[1], large[0]), np.float32)
    for piece in study.pieces:
        if not piece.get("visible", True):
            continue
        found = evaluator.evaluate(study, Request(piece["id"], frame, shared=True))
        # Of very many copies some are enough for a small picture.
        mesh = drawn_geometry(found.geometry).some(MOST_POINTS).real
        look = plan_piece(study, piece["id"]).look.at(np.array([frame])).on(mesh)
        points = transformed(mesh.points, found.place)
        turned = point_normals(mesh) @ np.linalg.inv(found.place[:3, :3])
        turned /= np.maximum(np.linalg.norm(turned, axis=1, keepdims=True), 1e-9)
        colours = _colours(look, len(points))
        before = depth.copy()
        screen = project(points, camera.position, view, camera.angle, large)
        triangles = mesh.topology.triangles(mesh.points)
        if look.flat and len(triangles):
            screen, turned, colours, triangles = _faceted(points, screen, colours, triangles)
        parts: list[Drawn] = [(screen, turned, colours, triangles)]
        topology = mesh.topology
        rod = (view, look.thickness, focal)
        if topology.curve_count:
            parts.append(strokes(screen, colours, topology.curve_segments, *rod))
        elif topology.face_count == 0:
            # No more than there are pixels for.
            every = max(1, len(screen) // MOST_DOTS)
            parts.append(dots(screen[::every], colours[::every], *rod))
        with GATE.narrow():
            for part in parts:
                draw(image, depth, *part)
        glow[depth < before] = look.glow
    return _shade(image, depth, glow, scene, size)


def _colours(look: Appearance, count: int) -> np.ndarray:
    """(P, 3) linear colours of so many points."""
    colouring = look.colouring
    if colouring.values is None:
        return np.tile(to_linear(parse_hex(look.colour)), (count, 1))
    table = to_linear(gradient_table(look.gradient)[:, :3] / 255.0)
    span = (colouring.high - colouring.low) or 1e-9
    share = np.clip((colouring.values - colouring.low) / span, 0, 1)
    found: np.ndarray = table[np.round(share * (len(table) - 1)).astype(int)]
    return found


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
    image: np.ndarray, depth: np.ndarray, glow: np.ndarray, scene: Scene, size: tuple[int, int]
) -> Image.Image:
    """A picture from colours and normals at twice its size, (2 rows, 2 columns, 6)."""
    seen = np.isfinite(depth)[..., None]
    normal = image[..., 3:]
    normal = normal / np.maximum(np.linalg.norm(normal, axis=2, keepdims=True), 1e-6)
    lamps = [lamp for lamps in scene.lamps.values() for lamp in lamps]
    # A matt surface sends back its colour's share of what arrives, to all sides alike.
    lit = image[..., :3] * (irradiance(normal, lamps) / np.pi + glow[..., None])
    behind = to_linear(backdrop(scene.backdrop, (size[0] * 2, size[1] * 2)))
    shown = np.where(seen, neutral_tone(lit), behind)
    rows, columns = size[1], size[0]
    small = shown.reshape(rows, 2, columns, 2, 3).mean(axis=(1, 3))
    return Image.fromarray((to_srgb(small) * 255).round().astype(np.uint8))


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
