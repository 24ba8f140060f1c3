"""The route of signals that are being changed: what they would do over the loop."""

from __future__ import annotations

from typing import Annotated, Any

from flask import Response, jsonify
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field, ValidationError

from zygomorph.api.routes import FAILURES, service
from zygomorph.api.shapes import FormulaProblem, Lane, Strict, StudyPath
from zygomorph.core.animation.fit import after_fit, fit_to_loop
from zygomorph.core.document.study import problems_of
from zygomorph.core.document.value_models import signal_models
from zygomorph.core.errors import DocumentError
from zygomorph.core.inspect.address_words import followable
from zygomorph.core.inspect.sentences import lane
from zygomorph.core.inspect.stays_open import what_stays_open
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.formula.errors import FormulaError
from zygomorph.core.values.formula.parse import read_formula
from zygomorph.core.values.value import Value

signal_routes = APIBlueprint("signals", __name__, url_prefix="/api", abp_responses=FAILURES)


class SignalBody(Strict):
    """signal : as the document would have it"""

    signal: dict[str, Any]


class SignalState(BaseModel):
    """What a signal does over the loop, or where its formula is wrong."""

    lane: Annotated[Lane | None, Field()] = None
    problem: FormulaProblem | None = None


class ChangeEntry(BaseModel):
    piece: str
    step: str
    address: str
    label: str
    before: str
    after: str


class RemainsEntry(BaseModel):
    piece: str
    step: str
    address: str
    label: str
    reason: str


class FitState(BaseModel):
    """What would close every signal; operations make all changes as one edit."""

    changes: list[ChangeEntry]
    remains: list[RemainsEntry]
    operations: list[dict[str, Any]]


@signal_routes.get("/studies/<string:study_id>/fit", responses={200: FitState})
def get_fit(path: StudyPath) -> Response:
    """The nearest settings that close the loop, and what no setting near by closes."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    fit = fit_to_loop(study)
    known = {each.address for each in fit.remains}
    open_ = what_stays_open(after_fit(study, fit), own.evaluator)
    # A step that a signal keeps open is told by its signal.
    fit.remains += [
        each
        for each in open_
        if each.address not in known and not any(k.startswith(each.address) for k in known)
    ]
    return jsonify(fit.describe())


class FollowableNumber(BaseModel):
    address: str
    owner: str
    label: str


class Numbers(BaseModel):
    """Numbers that another may follow, by the pieces and markers that have them."""

    numbers: list[FollowableNumber]


@signal_routes.get("/studies/<string:study_id>/numbers", responses={200: Numbers})
def get_numbers(path: StudyPath) -> Response:
    """Every number of a study that another may follow."""
    own = service()
    document = own.study(own.studies.document(path.study_id)).document
    return jsonify({"numbers": [each.describe() for each in followable(document)]})


@signal_routes.post("/studies/<string:study_id>/signal", responses={200: SignalState})
def try_signal(path: StudyPath, body: SignalBody) -> Response:
    """A signal over the loop of a study, which it need not be part of."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    given = body.signal
    definition = definitions("signal").get(str(given.get("signal")))
    if definition is None:
        raise DocumentError([("/signal", "there is no such signal")])
    for name, spec in definition.values.items():
        if spec.kind == "formula":
            try:
                read_formula(str(given.get(name, "")), frozenset(spec.known))
            except FormulaError as error:
                place = {"column": error.column, "length": error.length}
                return jsonify({"problem": {"message": error.message, "hint": error.hint, **place}})
    model = signal_models()[definition.key]
    try:
        model.model_validate(given)
    except ValidationError as error:
        raise DocumentError(problems_of(error, given)) from None
    value = Value("number", 0.0, "", "", each=True)
    return jsonify({"lane": lane("", value, given, study.loop, study.signals)})
