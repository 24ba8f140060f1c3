"""A look of which a mask, or what a value goes by, cannot be read, so that it is left out."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Request
from zygomorph.core.evaluation.shading import Faults
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        plan = look.plan(piece["id"])
        if not any(each.layers or each.by for each in plan.looks):
            continue
        faults, request = Faults(), Request(piece["id"])
        try:
            geometry = look.result(piece["id"], plan.steps[-1].id).geometry
            look.evaluator.appearance(look.study, request, geometry, faults)
        except ZygomorphError:
            # The piece cannot be made, which its step says.
            continue
        for address, message, hint in faults.told:
            path = f"/pieces/{piece['id']}/{address}"
            by_value = "/by/" in address
            yield Finding(
                "look_not_read",
                piece["id"],
                "What the look goes by is not there" if by_value else "A look covers nothing",
                f"{message} {hint}",
                address=path,
                fix=Fix(
                    "Make it one everywhere" if by_value else "Remove the look",
                    [{"do": "remove", "path": path}],
                ),
            )
