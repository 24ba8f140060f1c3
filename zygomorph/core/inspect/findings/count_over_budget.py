"""More points than play well."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.inspect.findings.finding import Finding, Look

# What a stage of today carries at its full rate, with faces and as loose points.
WITH_FACES = 400_000
LOOSE = 2_000_000


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        mesh = look.form(piece["id"]).mesh
        faces = mesh.topology.face_count > 0
        budget = WITH_FACES if faces else LOOSE
        if len(mesh.points) <= budget or not look.plan(piece["id"]).moves:
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
