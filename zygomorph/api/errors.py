"""Errors as JSON that says what happened, to what, and what helps."""

from __future__ import annotations

import json
import traceback
from typing import Any

from flask import Response, jsonify, make_response, request
from flask_openapi3 import OpenAPI
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from zygomorph.api.security import Refused, TooLarge
from zygomorph.api.shapes import ErrorBody, Problem
from zygomorph.core.document.edits import EditError
from zygomorph.core.document.study import problems_of
from zygomorph.core.errors import Cancelled, DocumentError, MeshFileError, StepError, ZygomorphError
from zygomorph.store.database import NotStored, StoreError
from zygomorph.store.studies import EditClash


class NoSuchRoute(ZygomorphError):
    """An address below /api that the program does not have."""


STATUS: list[tuple[type[ZygomorphError], int, str]] = [
    (Refused, 403, "refused"),
    (TooLarge, 413, "too large"),
    (NotStored, 404, "not stored"),
    (NoSuchRoute, 404, "no such address"),
    (StoreError, 507, "store"),
    (EditClash, 409, "clash"),
    (EditError, 409, "edit"),
    (DocumentError, 422, "document"),
    (MeshFileError, 422, "mesh file"),
    (StepError, 422, "step"),
    (ZygomorphError, 422, "error"),
]


def answer(status: int, body: ErrorBody) -> Response:
    return make_response(jsonify({"error": body.model_dump()}), status)


def describe(error: ZygomorphError) -> tuple[int, ErrorBody]:
    status, kind = next((s, k) for sort, s, k in STATUS if isinstance(error, sort))
    body = ErrorBody(message=error.message, hint=error.hint, kind=kind)
    if isinstance(error, DocumentError):
        body.problems = [Problem(path=p, message=m) for p, m in error.problems]
    if isinstance(error, StepError):
        body.step_id = error.step_id
    if isinstance(error, EditClash):
        body.path, body.mine, body.theirs = error.path, error.mine, error.theirs
        body.revision = error.revision
    return status, body


def from_validation(error: ValidationError) -> Response:
    """A request that does not fit its model, with a JSON pointer for each problem."""
    sent: Any = request.get_json(silent=True) if request.is_json else {}
    problems = [{"path": p, "message": m} for p, m in problems_of(error, sent)]
    first = "; ".join(f"{p['path'] or '/'}: {p['message']}" for p in problems[:3])
    body = ErrorBody.model_validate(
        {"message": f"The request is not valid. {first}", "kind": "request", "problems": problems}
    )
    return answer(422, body)


def handle_errors(app: OpenAPI) -> None:
    @app.errorhandler(ZygomorphError)
    def known(error: ZygomorphError) -> Response:
        return answer(*describe(error))

    @app.errorhandler(Cancelled)
    def superseded(_error: Cancelled) -> Response:
        return make_response("", 204)

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> Response:
        message = error.description or error.name
        return answer(error.code or 500, ErrorBody(message=message, kind="http"))

    @app.errorhandler(json.JSONDecodeError)
    def not_json(error: json.JSONDecodeError) -> Response:
        return answer(400, ErrorBody(message=f"The request is not JSON: {error}.", kind="request"))

    @app.errorhandler(Exception)
    def unknown(error: Exception) -> Response:
        traceback.print_exc()
        message = f"The program made an error: {type(error).__name__}."
        hint = "Your study is stored as it was. The server's own output says more."
        return answer(500, ErrorBody(message=message, hint=hint, kind="program"))
