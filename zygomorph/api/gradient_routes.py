"""The routes of gradients of one's own, which all studies share."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

from flask import Response, jsonify
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from zygomorph.api.document_shapes import GradientShape
from zygomorph.api.routes import FAILURES, service
from zygomorph.core.values.gradients import colours_of
from zygomorph.core.values.kinds.gradients import OwnGradient
from zygomorph.store.gradients import KeptGradient

gradients = APIBlueprint("gradients", __name__, url_prefix="/api/gradients", abp_responses=FAILURES)


class GradientPath(BaseModel):
    gradient_id: str


class GradientBody(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=60)]
    gradient: OwnGradient


class KeptGradientTold(BaseModel):
    """colours : along it, close enough for a picture of it"""

    id: str
    name: str
    gradient: GradientShape
    colours: list[str]


class GradientList(BaseModel):
    gradients: list[KeptGradientTold]


def _told(kept: KeptGradient) -> dict[str, Any]:
    return {**asdict(kept), "colours": colours_of(kept.gradient)}


@gradients.get("", responses={200: GradientList})
def list_gradients() -> Response:
    return jsonify({"gradients": [_told(kept) for kept in service().gradients.all()]})


@gradients.post("", responses={200: KeptGradientTold})
def keep_gradient(body: GradientBody) -> Response:
    """Keep a gradient for all studies. One that has the name already becomes this one; studies that
    took it stay as they are."""
    kept = service().gradients.keep(body.name, body.gradient.model_dump())
    return jsonify(_told(kept))


@gradients.delete("/<string:gradient_id>", responses={204: None})
def remove_gradient(path: GradientPath) -> tuple[str, int]:
    service().gradients.remove(path.gradient_id)
    return "", 204
