"""Copies that are written out though no later step needs their points."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.inspect.findings.finding import Finding, Fix, Look
from zygomorph.core.values.definitions import DeformDefinition, StepDefinition


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        steps = look.planned(piece["id"])
        for number, step in enumerate(steps):
            if not (isinstance(step.definition, StepDefinition) and step.definition.needs_real):
                continue
            copies = look.before(piece["id"], step.id).geometry.copies
            later = steps[number + 1 :]
            # What moves wholes does so with copies as well.
            wholes = all(
                isinstance(each.definition, DeformDefinition)
                and (each.moved in ("shards", "tilted"))
                for each in later
            )
            if copies is None or not wholes:
                continue
            grouped = step.part.given.get("group") is not None
            yield Finding(
                "copies_made_real",
                piece["id"],
                "Copies are made real needlessly",
                f"{len(copies):,} copies are written out as one mesh, which costs time and memory, "
                "and no later step needs their points.",
                step.id,
                fix=None
                if grouped
                else Fix("Keep the copies", [{"do": "remove", "path": step.part.address}]),
            )
