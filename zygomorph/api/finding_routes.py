"""The route of findings: what the program noticed in a study."""

from __future__ import annotations

from typing import Any

from flask import Response, jsonify
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from zygomorph.api.routes import FAILURES, service
from zygomorph.api.shapes import StudyPath
from zygomorph.core.inspect.findings.collect import findings_of

finding_routes = APIBlueprint("findings", __name__, url_prefix="/api", abp_responses=FAILURES)


class FixEntry(BaseModel):
    label: str
    operations: list[dict[str, Any]]


class FindingEntry(BaseModel):
    """A likely mistake; intended : whether it was marked as meant so in this study"""

    id: str
    kind: str
    piece: str
    step: str
    layer: str
    address: str
    title: str
    reason: str
    frame: float | None
    place: list[float] | None
    fix: FixEntry | None
    intended: bool


class FindingList(BaseModel):
    findings: list[FindingEntry]


@finding_routes.get("/studies/<string:study_id>/findings", responses={200: FindingList})
def get_findings(path: StudyPath) -> Response:
    """What was noticed in a study, each with its place, its reason, and a fix if there is one."""
    own = service()
    study = own.study(own.studies.document(path.study_id))
    intended = set(study.document.get("intended", []))
    found = [
        f.describe() | {"intended": f.id in intended} for f in findings_of(study, own.evaluator)
    ]
    return jsonify({"findings": found})
