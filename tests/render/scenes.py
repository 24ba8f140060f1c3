"""Small scenes for final pictures, made of plain arrays."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from zygomorph.core.geometry.icosphere import unit_icosphere
from zygomorph.core.geometry.images import Images
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.drawn_scene import Backdrop, Finish, Lamp, SkyLamp
from zygomorph.render.final.engine import start
from zygomorph.render.final.settings import FinalSettings
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
    Floor,
    Optics,
    Surface,
    Things,
)
from zygomorph.render.final.traced import Traced

UP = np.array([0.0, 1.0, 0.0])
PLAIN = Finish(1.0, 0.0, 0.0, 1.0, 0.5, 0.0, 0.1, 0.0)
CLEAR = Backdrop("clear", ())
# Light of which a white matt surface sends back 1 whichever way it faces.
WHITE_SKY = SkyLamp(UP, "#ffffff", "#ffffff", np.pi)


def looks(
    count: int,
    colour: tuple[float, float, float] = (1.0, 1.0, 1.0),
    glow: tuple[float, float, float] = (0.0, 0.0, 0.0),
    **amounts: float,
) -> np.ndarray:
    found = np.zeros((count, COLUMNS), np.float32)
    found[:, COLOUR], found[:, OWN] = colour, glow
    found[:, OPACITY] = 1
    columns = {
        "roughness": ROUGHNESS,
        "metal": METAL,
        "opacity": OPACITY,
        "glass": GLASS,
        "coat": COAT,
        "sheen": SHEEN,
    }
    found[:, ROUGHNESS] = 1
    for name, value in amounts.items():
        found[:, columns[name]] = value
    return found


def ball(
    radius: float = 1.0,
    centre: tuple[float, float, float] = (0.0, 0.0, 0.0),
    halvings: int = 5,
    optics: Optics | None = None,
    **look: Any,
) -> Surface:
    mesh = unit_icosphere(halvings)
    points = (mesh.points * radius + np.array(centre)).astype(np.float32)
    return Surface(
        "ball",
        points,
        point_normals(mesh),
        mesh.topology.drawn_triangles.astype(np.uint32),
        looks(len(points), **look),
        optics or Optics(),
    )


def sheet(
    half: float = 1.0,
    level: float = 0.0,
    axis: int = 2,
    optics: Optics | None = None,
    **look: Any,
) -> Surface:
    """A square across an axis, which faces along it."""
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]], np.float32) * half
    points = np.full((4, 3), level, np.float32)
    across = [(axis + 1) % 3, (axis + 2) % 3]
    points[:, across] = corners
    normals = np.zeros((4, 3), np.float32)
    normals[:, axis] = 1
    triangles = np.array([[0, 1, 2], [0, 2, 3]], np.uint32)
    return Surface("sheet", points, normals, triangles, looks(4, **look), optics or Optics())


def ahead(away: float = 5.0, angle: float = 30.0, **more: Any) -> View:
    """From the front at the origin; the picture is square."""
    position, target = np.array([0.0, 0.0, away]), np.zeros(3)
    return View(position, target, aspect=1.0, angle=angle, **more)


def things(
    *surfaces: Surface,
    lamps: tuple[Lamp, ...] = (),
    view: View | None = None,
    floor: Floor | None = None,
    backdrop: Backdrop = CLEAR,
    **more: Any,
) -> Things:
    own = {"dots": (), **more}
    return Things(
        surfaces,
        lamps=lamps,
        view=view or ahead(),
        backdrop=backdrop,
        floor=floor,
        finish=PLAIN,
        images=Images(),
        **own,
    )


def need_llvm() -> None:
    """Leaves a test out where final pictures are drawn by the plain tracer, which knows less."""
    if start() == "scalar_rgb":
        pytest.skip("LLVM 19 is not installed: run `make llvm`")


def traced(scene: Things, samples: int = 16, side: int = 48, **settings: Any) -> Traced:
    need_llvm()
    from zygomorph.render.final.path_tracer import PathTracer

    own = FinalSettings((side, side), samples, **{"clamp": 0.0, "bounces": 16, **settings})
    return PathTracer(scene, own).trace(0, samples)
