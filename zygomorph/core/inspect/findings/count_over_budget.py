"""More points than play well."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.inspect.findings.finding import Finding, Look

# What a stage of today carries at its full rate, with faces and as loose points.
WITH_FACES = 400_000
LOOSE = 2_000_000
COPIES = 200_000


def _real_points(geometry: Geometry) -> int:
    return max(len(mesh.points) for mesh in geometry.bases)


def _more_than_draft_needs(look: Look, piece: str) -> Iterator[Finding]:
    """Shards, finer faces and copies that steps make of few."""
    before = look.form(piece).geometry
    for step in look.planned(piece):
        after = look.result(piece, step.id).geometry
        points, copies = _real_points(after), 0 if after.copies is None else len(after.copies)
        copied = 0 if before.copies is None else len(before.copies)
        many, most, what = points, WITH_FACES, "points"
        if copied <= COPIES < copies:
            many, most, what = copies, COPIES, "copies"
        elif not _real_points(before) <= WITH_FACES < points:
            many = 0
        if many:
            yield Finding(
                "count_over_budget",
                piece,
                f"{step.definition.title} makes {many:,} {what}, more than play well",
                f"Up to {most:,} play at their full rate. Take fewer in draft quality, and all of "
                "them in final.",
                step.id,
            )
        before = after


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        if not look.plan(piece["id"]).moves:
            continue
        mesh = look.form(piece["id"]).mesh
        faces = mesh.topology.face_count > 0
        budget = WITH_FACES if faces else LOOSE
        if faces:
            yield from _more_than_draft_needs(look, piece["id"])
        if len(mesh.points) <= budget:
            continue
        form = look.plan(piece["id"]).steps[0]
        yield Finding(
            "count_over_budget",
            piece["id"],
            f"{len(mesh.points):,} points are more than play well",
            f"Up to {budget:,} play at their full rate. Take fewer in draft quality, and all of "
            "them in final.",
            form.id,
        )
