"""A study as an animated GLB: a mesh with shapes for each piece, or where its faces change, a mesh
for each frame."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.budget import DELIVERED_BYTES, within_budget
from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request, Result
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.formats.deliver import DeliveredSize, Progress, vertex_colours, visible_pieces
from zygomorph.core.formats.gltf import GlbPiece, Stored, SwitchedPiece, write_glb
from zygomorph.core.formats.gltf_numbers import Numbers
from zygomorph.core.formats.morph_targets import (
    Shapes,
    by_holding,
    fit_normals,
    smallest,
    still_shapes,
)
from zygomorph.core.formats.motion_samples import FacesChange, Sampler, Samples
from zygomorph.core.formats.placed_copies import CopiesAs, PlacedCopies, placed_over_time
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.transforms.tracks import sampled_transform

# Of copies in a GLB file, each of which is a node with animations of its own.
MOST_NODES = 20_000


@dataclass(frozen=True)
class Delivered:
    """A file and what is to be known about it before it is kept.

    error_m, error_relative : largest distance from the true points at whole frames, between them,
        and with what the stored numbers lose
    """

    data: bytes
    details: list[dict[str, Any]]


def deliver_glb(
    study: Study,
    evaluator: Evaluator,
    *,
    final: bool = False,
    tolerance: float | None = None,
    piece: str | None = None,
    still: float | None = None,
    numbers: Numbers = "plain",
    copies_as: CopiesAs = "nodes",
    progress: Progress = lambda share, what: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Delivered:
    """All visible pieces as one animated GLB.

    tolerance : largest error as a share of a piece's size; the study's own by default
    numbers : how points are stored, as :mod:`zygomorph.core.formats.gltf_numbers` has it
    copies_as : a node for each copy, or all copies that stand still as instances in one node
    still : a frame at which all stands still, instead of an animation

    A piece whose faces change over the loop has a mesh for each frame, which are switched by their
    scale.

    Raises ZygomorphError where a piece is empty throughout or too large, StepError where a step
    cannot do its work, Cancelled.
    """
    relative = tolerance or study.document.get("deliver", {}).get("tolerance", 0.001)
    pieces = visible_pieces(study, piece)
    glb = _Glb(
        study, evaluator, final, relative, still, numbers, copies_as, DeliveredSize(), cancelled
    )
    made, details = [], []
    for index, each in enumerate(pieces):

        def share(done: float, what: str, index: int = index) -> None:
            progress((index + done) / len(pieces), what)

        one, detail = glb.piece(each, share)
        made.append(one)
        details.append(detail)
    progress(1.0, "writing")
    return Delivered(write_glb(made, study.loop.rate, numbers), details)


@dataclass(frozen=True)
class _Glb:
    """How pieces are made into a GLB; values as :func:`deliver_glb` has them."""

    study: Study
    evaluator: Evaluator
    final: bool
    tolerance: float
    still: float | None
    numbers: Numbers
    copies_as: CopiesAs
    size: DeliveredSize
    cancelled: Callable[[], bool]

    def piece(
        self, piece: dict[str, Any], progress: Progress
    ) -> tuple[GlbPiece | SwitchedPiece, dict[str, Any]]:
        """One mesh with shapes; or where its faces change, a mesh for each frame."""
        sampler = Sampler(self.study, self.evaluator, piece, self.final, self.cancelled)
        first = sampler.at(self.still or 0.0)
        if first.geometry.point_count == 0 and self.still is None:
            return self._switched(piece, sampler, progress)
        if first.geometry.point_count == 0:
            raise ZygomorphError(f"{piece['name']!r} has no points.", "Give it a form with points.")
        try:
            return self._with_shapes(piece, sampler, first, progress)
        except FacesChange:
            return self._switched(piece, sampler, progress)

    def _switched(
        self, piece: dict[str, Any], sampler: Sampler, progress: Progress
    ) -> tuple[SwitchedPiece, dict[str, Any]]:
        """A mesh for each stretch of frames in which nothing changes."""
        meshes: list[GlbPiece | None] = []
        times: list[float] = []
        known: Mesh | None = None
        most, size, total, worst = 0, 1e-9, 0, 0.0
        for frame, geometry in enumerate(sampler.frame_by_frame(progress)):
            mesh = geometry.real
            if (
                known is not None
                and known.topology.digest == mesh.topology.digest
                and np.array_equal(known.points, mesh.points)
            ):
                continue
            known = mesh
            times.append(float(frame))
            total += len(mesh.points)
            within_budget(
                total,
                DELIVERED_BYTES,
                f"{piece['name']!r} has other faces from frame to frame; up to frame {frame} "
                "these have",
                "Deliver it at draft quality, as USD, or as a sequence of mesh files",
            )
            if len(mesh.points) == 0:
                meshes.append(None)
                continue
            most = max(most, len(mesh.points))
            size = max(size, float(np.linalg.norm(np.ptp(mesh.points, axis=0))))
            made = self._described(piece, mesh, still_shapes(mesh.points), float(frame))
            worst = max(worst, Stored(made, self.numbers).error(0.0, mesh.points))
            meshes.append(made)
        if most == 0:
            raise ZygomorphError(
                f"{piece['name']!r} has no points at any frame.", "Give it a form with points."
            )
        loop = self.study.loop
        return SwitchedPiece(meshes, np.array(times), float(loop.last), not loop.one_way), {
            "piece": piece["id"],
            "name": piece["name"],
            "method": "switching",
            "shapes": 0,
            "meshes": len(meshes),
            "keys": len(times),
            "numbers": self.numbers,
            "points": most,
            "copies": 0,
            "error_m": worst,
            "error_relative": worst / size,
        }

    def _with_shapes(
        self, piece: dict[str, Any], sampler: Sampler, first: Result, progress: Progress
    ) -> tuple[GlbPiece, dict[str, Any]]:
        size = max(float(np.linalg.norm(first.high - first.low)), 1e-9)
        within = self.tolerance * size
        samples = (
            sampler.still(self.still)
            if self.still is not None
            else sampler.over_the_loop(
                within,
                lambda count, geometry: self.size.add(piece["name"], count, geometry),
                lambda share, what: progress(0.7 * share, what),
            )
        )
        progress(0.75, "finding shapes")
        copies = self._copies(piece, samples)
        # Of copies the mesh that is copied has shapes; what moves them is their own.
        points = np.stack([geometry.mesh.points for geometry in samples.geometries])
        shapes = (
            by_holding(points, samples.times)
            if samples.held
            # The rest is for what lies between the samples and for the numbers that are stored.
            else smallest(points, samples.times, 0.7 * within, self.cancelled)
        )
        if self.cancelled():
            raise Cancelled
        normals = np.stack([point_normals(samples.geometries[k].mesh) for k in shapes.keys])
        progress(0.9, "fitting normals")
        glb = self._described(
            piece,
            samples.geometries[0].mesh,
            shapes,
            self.still or 0.0,
            normals,
            copies,
        )
        stored = Stored(glb, self.numbers)
        worst = max(
            stored.error(time, geometry.mesh.points)
            for time, geometry in zip(samples.times, samples.geometries, strict=True)
        )
        worst += 0.0 if shapes.held else samples.between
        return glb, _detail(piece, shapes, worst, size, samples.geometries[0], self.numbers)

    def _described(
        self,
        piece: dict[str, Any],
        first: Mesh,
        shapes: Shapes,
        frame: float,
        normals: np.ndarray | None = None,
        copies: PlacedCopies | None = None,
    ) -> GlbPiece:
        """first : the mesh that the shapes start from, with the look that it has at a frame
        normals : (K, P, 3) at the keys of the shapes, where it has several
        """
        if normals is None:
            normals = point_normals(first)[None]
        plan = plan_piece(self.study, piece["id"], self.final)
        request = Request(piece["id"], frame, self.final, shared=True)
        appearance = self.evaluator.appearance(self.study, request, Geometry((first,)))
        colours = vertex_colours(appearance, len(first.points))
        material = appearance.material
        if appearance.by_value("opacity"):
            # Points have it, and the material multiplies.
            material = replace(material, opacity=1.0)
        sampled = sampled_transform(plan.world, self.study.loop.last, plan.jumps, self.still)
        return GlbPiece(
            name=piece["name"],
            topology=first.topology,
            points=first.points,
            normals=normals[0],
            shapes=shapes,
            normal_offsets=fit_normals(shapes, normals),
            move=sampled.tracks["move"],
            turn=sampled.tracks["turn"],
            scale=sampled.tracks["scale"],
            place_times=sampled.times,
            place_held=sampled.held,
            colours=colours,
            uv=first.get("corner", UV),
            material=material,
            copies=copies,
            copies_as=self.copies_as,
        )

    def _copies(self, piece: dict[str, Any], samples: Samples) -> PlacedCopies | None:
        """Where the copies of a piece are; raises ZygomorphError where they cannot be written."""
        first = samples.geometries[0]
        if first.copies is None:
            return None
        copies = placed_over_time(samples.times, samples.geometries, piece["name"], samples.held)
        if self.copies_as == "instances" and copies.moves:
            raise ZygomorphError(
                f"Copies of {piece['name']!r} move, and instances in one node stand still.",
                "Write a node for each copy.",
            )
        if self.copies_as == "nodes" and len(first.copies) > MOST_NODES:
            raise ZygomorphError(
                f"{piece['name']!r} has {len(first.copies):,} copies; a GLB file takes "
                f"{MOST_NODES:,} nodes.",
                "Deliver USD, or instances in one node where they stand still.",
            )
        return copies


def _detail(
    piece: dict[str, Any],
    shapes: Shapes,
    error: float,
    size: float,
    geometry: Geometry,
    numbers: Numbers,
) -> dict[str, Any]:
    return {
        "piece": piece["id"],
        "name": piece["name"],
        "method": shapes.method,
        "shapes": len(shapes.offsets),
        "keys": len(shapes.keys),
        "numbers": numbers,
        "points": geometry.point_count,
        "copies": len(geometry.copies) if geometry.copies else 0,
        "error_m": error,
        "error_relative": error / size,
    }
