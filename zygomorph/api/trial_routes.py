"""What a new step or layer would be and do: values that suit what it will act on, and a picture of
the piece with it, before anything is changed."""

from __future__ import annotations

import io
from typing import Annotated, Any

from flask import Response, jsonify
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from zygomorph.api import shapes
from zygomorph.api.routes import FAILURES, WEBP, service
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Request
from zygomorph.core.evaluation.plan import pieces_for
from zygomorph.core.values.definitions import Sort
from zygomorph.core.values.entries import definitions
from zygomorph.render.thumbnail import render_frame

# Points from which the size of what a new step acts on is taken.
MEASURED_POINTS = 200_000
# Of a picture, twice as fine as it is shown.
SIZE = (384, 240)
TRIED = "tried"

trial_routes = APIBlueprint("trials", __name__, url_prefix="/api", abp_responses=FAILURES)


def suggested(
    study: Study, piece_id: str, sort: Sort, key: str, after: str | None
) -> dict[str, Any]:
    """Values for a new entry of the library that suit what comes out of the step ``after``.

    Raises ZygomorphError where there is no such entry, and what evaluating raises.
    """
    known = definitions(sort)
    if key not in known:
        raise ZygomorphError(f"There is no {sort} {key!r}.", f"Known: {', '.join(known)}.")
    definition = known[key]
    chosen = {
        name: next(iter(pieces_for(study, piece_id)), "")
        for name, value in definition.values.items()
        if value.kind == "piece" and value.shown_when is None
    }
    if definition.suggest is None:
        return chosen
    found = service().evaluator.evaluate(study, Request(piece_id, 0.0, until=after))
    # Of very many copies some tell the size of all.
    own: dict[str, Any] = definition.suggest(found.geometry.some(MEASURED_POINTS).real)
    return chosen | own


@trial_routes.post(
    "/studies/<string:study_id>/pieces/<string:piece_id>/suggest",
    responses={200: shapes.Suggestion},
)
def suggest(path: shapes.PiecePath, body: shapes.SuggestBody) -> Response:
    """Values for a new step or layer that suit the size of what it will act on."""
    study = service().study(service().studies.document(path.study_id))
    return jsonify({"values": suggested(study, path.piece_id, body.sort, body.key, body.after)})


class TrialQuery(BaseModel):
    """step : key of the step that is tried; after : id of the one that it would follow"""

    step: Annotated[str, Field(max_length=40)]
    after: Annotated[str, Field(max_length=40)] | None = None
    frame: shapes.Frame = 0.0


def with_step(study: Study, piece_id: str, key: str, after: str | None) -> Study:
    """The study with a new step in a piece, at the values it would be added with."""
    recipe = list(study.piece(piece_id)["recipe"])
    ids = [step["id"] for step in recipe]
    if after is not None and after not in ids:
        raise ZygomorphError(f"The piece has no step {after!r}.", "Open the sheet again.")
    end = after or ids[-1]
    values = suggested(study, piece_id, "step", key, end)
    recipe.insert(ids.index(end) + 1, {"id": TRIED, "step": key, "values": values})
    pieces = [
        {**piece, "recipe": recipe} if piece["id"] == piece_id else piece for piece in study.pieces
    ]
    return check_document({**study.document, "pieces": pieces})


@trial_routes.get(
    "/studies/<string:study_id>/pieces/<string:piece_id>/trial.webp", responses={200: WEBP}
)
def trial(path: shapes.PiecePath, query: TrialQuery) -> Response:
    """A still picture of the study with a step that is not added yet, as WebP."""
    study = service().study(service().studies.document(path.study_id))
    tried = with_step(study, path.piece_id, query.step, query.after)
    picture = render_frame(tried, service().evaluator, query.frame, SIZE)
    out = io.BytesIO()
    picture.convert("RGB").save(out, "WEBP", quality=82, method=2)
    return Response(out.getvalue(), mimetype="image/webp", headers={"Cache-Control": "no-store"})
