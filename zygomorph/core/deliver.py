"""A study as files: an animated GLB or USD, or one mesh file for each frame."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluate import Evaluator, Request, Result
from zygomorph.core.formats.gltf import GlbPiece, stored_error, write_glb
from zygomorph.core.formats.shapes import Shapes, fit_normals, smallest
from zygomorph.core.formats.usd import UsdLook, UsdWriter
from zygomorph.core.formats.write import WRITERS
from zygomorph.core.looks.gradients import gradient_table, parse_hex, to_linear
from zygomorph.core.looks.surface import colour_values
from zygomorph.core.mesh import UV, Mesh
from zygomorph.core.normals import point_normals
from zygomorph.core.place import transformed
from zygomorph.core.place_tracks import place_tracks
from zygomorph.core.plan import plan_piece
from zygomorph.core.resolve import Resolved
from zygomorph.core.study import Study

SEQUENCES = ("obj", "ply", "stl")
MAX_FRAME_BYTES = 3_000_000_000

Progress = Callable[[float, str], None]


@dataclass(frozen=True)
class Delivered:
    """A file and what is to be known about it before it is kept.

    error_m, error_relative : largest distance from the true points, quantising included
    """

    data: bytes
    details: list[dict[str, Any]]


def visible_pieces(study: Study, chosen: str | None = None) -> list[dict[str, Any]]:
    pieces = [p for p in study.pieces if p.get("visible", True)]
    if chosen is not None:
        pieces = [study.piece(chosen)]
    if not pieces:
        raise ZygomorphError("There is no visible piece to deliver.", "Show a piece first.")
    return pieces


def deliver_glb(
    study: Study,
    evaluator: Evaluator,
    *,
    final: bool = False,
    tolerance: float | None = None,
    piece: str | None = None,
    still: float | None = None,
    progress: Progress = lambda share, what: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Delivered:
    """All visible pieces as one animated GLB.

    tolerance : largest error as a share of a piece's size; the study's own by default
    still : a frame at which all stands still, instead of an animation

    Raises ZygomorphError where a piece's topology changes over the loop, StepError where a step
    cannot do its work, Cancelled.
    """
    relative = tolerance or study.document.get("deliver", {}).get("tolerance", 0.001)
    pieces = visible_pieces(study, piece)
    made, details = [], []
    for index, each in enumerate(pieces):

        def share(done: float, what: str, index: int = index) -> None:
            progress((index + done) / len(pieces), what)

        glb, detail = _animated(study, evaluator, each, final, relative, still, share, cancelled)
        made.append(glb)
        details.append(detail)
    progress(1.0, "writing")
    return Delivered(write_glb(made, study.loop.rate), details)


def _frames(
    study: Study,
    evaluator: Evaluator,
    piece: dict[str, Any],
    final: bool,
    still: float | None,
    progress: Progress,
    cancelled: Callable[[], bool],
) -> tuple[list[Mesh], Result]:
    moves = still is None and plan_piece(study, piece["id"], final).moves
    count = study.loop.last + 1 if moves else 1
    meshes: list[Mesh] = []
    first: Result | None = None
    for frame in range(count) if still is None else (still,):
        if cancelled():
            raise Cancelled
        found = evaluator.evaluate(
            study, Request(piece["id"], frame, final, shared=True, cancelled=cancelled)
        )
        first = first or found
        if found.mesh.topology.digest != first.mesh.topology.digest:
            raise ZygomorphError(
                f"The faces of {piece['name']!r} change at frame {frame}; one GLB animation "
                "needs the same faces throughout.",
                "Deliver it as a sequence of mesh files, or keep its counts still.",
            )
        if not meshes:
            _check_size(piece["name"], count, found.mesh)
        meshes.append(found.mesh)
        progress(0.7 * len(meshes) / count, f"frame {frame:g} of {piece['name']}")
    assert first is not None
    return meshes, first


def _animated(
    study: Study,
    evaluator: Evaluator,
    piece: dict[str, Any],
    final: bool,
    relative: float,
    still: float | None,
    progress: Progress,
    cancelled: Callable[[], bool],
) -> tuple[GlbPiece, dict[str, Any]]:
    meshes, first = _frames(study, evaluator, piece, final, still, progress, cancelled)
    if len(first.mesh.points) == 0:
        raise ZygomorphError(f"{piece['name']!r} has no points.", "Give it a form with points.")
    frames = np.stack([m.points for m in meshes])
    size = max(float(np.linalg.norm(first.high - first.low)), 1e-9)
    progress(0.75, "finding shapes")
    # A tenth is left for quantising.
    shapes = smallest(frames, 0.9 * relative * size, cancelled)
    if cancelled():
        raise Cancelled
    keys = meshes if len(shapes.frames) == len(meshes) else [meshes[f] for f in shapes.frames]
    normals = np.stack([point_normals(m) for m in keys])
    progress(0.9, "fitting normals")
    plan = plan_piece(study, piece["id"], final)
    look = plan.look.at(np.full(1, still or 0.0))
    colouring = colour_values(first.mesh, look)
    colours: np.ndarray | None = None
    base = to_linear(parse_hex(look.word("colour")))
    if colouring.values is not None:
        colours = vertex_colours(
            colouring.values, colouring.low, colouring.high, look.word("gradient")
        )
        base = np.ones(3)
    place = place_tracks(plan, study.loop.last, still)
    glow = np.clip(base * look.scalar("glow") / 100, 0, 1) if colouring.values is None else [0] * 3
    glb = GlbPiece(
        name=piece["name"],
        topology=first.mesh.topology,
        points=first.mesh.points,
        normals=normals[0],
        shapes=shapes,
        normal_offsets=fit_normals(shapes, normals),
        move=place["move"],
        turn=place["turn"],
        scale=place["scale"],
        colours=colours,
        uv=first.mesh.get("corner", UV),
        base_colour=(float(base[0]), float(base[1]), float(base[2]), 1.0),
        roughness=look.scalar("roughness") / 100,
        glow=tuple(float(g) for g in glow),  # type: ignore[arg-type]
    )
    error = stored_error(glb, frames)
    return glb, _detail(piece, shapes, error, size, first.mesh)


def deliver_usd(
    study: Study,
    evaluator: Evaluator,
    *,
    final: bool = False,
    piece: str | None = None,
    progress: Progress = lambda share, what: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> bytes:
    """All visible pieces as one USD stage with a time sample a frame, the last of which closes
    the loop. Faces may change on the way.

    Raises ZygomorphError where it would be too large, StepError where a step cannot do its work,
    Cancelled.
    """
    pieces = visible_pieces(study, piece)
    with UsdWriter(study.loop.last, study.loop.rate) as writer:
        for index, each in enumerate(pieces):
            plan = plan_piece(study, each["id"], final)
            look = plan.look.at(np.zeros(1))
            made = writer.piece(each["name"], _usd_look(look), place_tracks(plan, study.loop.last))
            count = study.loop.last + 1 if plan.moves else 1
            for frame in range(count):
                if cancelled():
                    raise Cancelled
                found = evaluator.evaluate(study, Request(each["id"], frame, final, shared=True))
                _check_size(each["name"], count, found.mesh)
                made.add(frame, plan.moves, found.mesh, _linear_colours(found.mesh, look))
                done = (index + (frame + 1) / count) / len(pieces)
                progress(0.95 * done, f"frame {frame} of {each['name']}")
        progress(0.96, "writing")
        return writer.data()


def _usd_look(look: Resolved) -> UsdLook:
    return UsdLook(
        colour=to_linear(parse_hex(look.word("colour"))),
        roughness=look.scalar("roughness") / 100,
        glow=look.scalar("glow") / 100,
        flat=look.word("shading") == "flat",
        thickness=look.scalar("thickness"),
    )


def _linear_colours(mesh: Mesh, look: Resolved) -> np.ndarray | None:
    """(P, 3) linear colours by value, or None where the look has one colour."""
    colouring = colour_values(mesh, look)
    if colouring.values is None:
        return None
    colours = vertex_colours(colouring.values, colouring.low, colouring.high, look.word("gradient"))
    return colours[:, :3].astype(np.float32) / 255


def _check_size(name: str, count: int, mesh: Mesh) -> None:
    if count * len(mesh.points) * 24 > MAX_FRAME_BYTES:
        raise ZygomorphError(
            f"{name!r} has {len(mesh.points):,} points over {count} frames, "
            "which is too much for one animation.",
            "Deliver it at draft quality or as a sequence of mesh files.",
        )


def _detail(
    piece: dict[str, Any], shapes: Shapes, error: float, size: float, mesh: Mesh
) -> dict[str, Any]:
    return {
        "piece": piece["id"],
        "name": piece["name"],
        "method": shapes.method,
        "shapes": len(shapes.offsets),
        "keys": len(shapes.frames),
        "points": len(mesh.points),
        "error_m": error,
        "error_relative": error / size,
    }


def vertex_colours(values: np.ndarray, low: float, high: float, gradient: str) -> np.ndarray:
    """(P, 4) uint8 linear colours, as glTF wants them, of values through a gradient."""
    table = gradient_table(gradient)
    share = (values - low) / (high - low if high != low else 1e-9)
    rows = table[np.clip(np.round(share * (len(table) - 1)), 0, len(table) - 1).astype(int)]
    linear = rows.copy()
    linear[:, :3] = np.round(to_linear(rows[:, :3] / 255.0) * 255)
    return linear


def deliver_sequence(
    study: Study,
    evaluator: Evaluator,
    kind: str,
    frames: range,
    *,
    final: bool = False,
    piece: str | None = None,
    progress: Progress = lambda share, what: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Iterator[tuple[str, bytes]]:
    """File name and content of each piece at each frame, where it stands on the stage."""
    pieces = visible_pieces(study, piece)
    width = max(4, len(str(max(frames, default=0))))
    for done, frame in enumerate(frames):
        for each in pieces:
            if cancelled():
                raise Cancelled
            found = evaluator.evaluate(study, Request(each["id"], frame, final, shared=True))
            mesh = found.mesh.moved(transformed(found.mesh.points, found.place))
            name = f"{each['id']}.{frame:0{width}d}.{kind}"
            yield name, WRITERS[kind](mesh)
        progress((done + 1) / len(frames), f"frame {frame}")
