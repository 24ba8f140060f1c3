"""How a piece that was brought in stands, for the one who brought it in."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.repair.examine import examine, repairs
from zygomorph.core.geometry.repair.holes import openings
from zygomorph.core.values.definitions import FormDefinition


def import_report(
    evaluator: Evaluator, asset: Callable[[str], Mesh], study: Study, piece: str
) -> dict[str, Any]:
    """What the form of a brought-in piece gives now, and what may still be wrong with it.

    asset : the mesh of a file by its digest

    Raises ZygomorphError where the piece's form is not a brought-in mesh, StepError where the
    mesh cannot be had.
    """
    form = plan_piece(study, piece, final=False).steps[0]
    brought_in = form.definition.brought_in if isinstance(form.definition, FormDefinition) else None
    if brought_in is None:
        raise ZygomorphError(
            "This piece was not brought in from a file.", "Choose a piece whose form was."
        )
    values = form.values.at(np.zeros(1))
    found = evaluator.evaluate(study, Request(piece, 0.0, until=form.id)).mesh
    raw = brought_in(values, Context(study.loop, 0.0, np.eye(4), asset))
    # What is counted does not change with the scale, so that one file is looked over only once;
    # its topology is its own, and so belongs to one set of points.
    looked = raw.topology.derived(("examined",), lambda: examine(raw))
    formed = looked.measured(found.points)
    wrong = repairs(
        looked,
        formed,
        fitted=bool(values.discrete("fit")),
        open_at=raw.topology.derived(("openings",), lambda: openings(raw)),
        filled_at=str(values.discrete("fill_at")),
    )
    return {"now": formed.describe(), "repairs": [asdict(repair) for repair in wrong]}
