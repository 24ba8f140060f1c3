"""A piece that others use, and that they cannot use as it is: all of them are named."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.errors import StepError, ZygomorphError
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.inspect.findings.finding import Finding, Look
from zygomorph.core.values.definitions import StepDefinition


def _users(look: Look, used: str) -> Iterator[tuple[str, PlannedStep]]:
    """Pieces and their steps that name a piece. What needs an inside is told of by itself."""
    for piece in look.study.pieces:
        for step in look.planned(piece["id"]):
            if not isinstance(step.definition, StepDefinition):
                continue
            values = step.values.at(np.zeros(1))
            named = [n for n, spec in step.definition.values.items() if spec.kind == "piece"]
            solid = step.definition.needs_inside(values)
            if any(values.discrete(name) == used for name in named if name not in solid):
                yield piece["id"], step


def _broken(look: Look, piece: str, step: PlannedStep) -> str:
    """Why a step cannot use the piece that it names, or ""."""
    try:
        look.result(piece, step.id)
    except StepError as error:
        return error.message if error.step_id == step.id else ""
    except ZygomorphError:
        return ""
    return ""


def find(look: Look) -> Iterator[Finding]:
    for used, name in look.pieces.items():
        found = [(p, step, _broken(look, p, step)) for p, step in _users(look, used)]
        broken = [(piece, step, why) for piece, step, why in found if why]
        if not broken:
            continue
        told = " ".join(
            f"{step.definition.title} in “{look.pieces[piece]}”: {why}"
            for piece, step, why in broken
        )
        uses = "use" if len(broken) == 1 else "uses"
        yield Finding(
            "breaks_its_users",
            used,
            f"As it is, “{name}” breaks {len(broken)} {uses} of it",
            f"{told} Undo the change, or choose another piece there.",
        )
