"""The route of variants: what a choice switches, and switching it."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from flask import Response, jsonify
from flask_openapi3 import APIBlueprint
from pydantic import Field

from zygomorph.api.carrier_routes import Edits
from zygomorph.api.routes import FAILURES, service
from zygomorph.api.shapes import Strict, StudyPath
from zygomorph.core.document.edits import Path
from zygomorph.core.document.variants import add_option, choose, differ, remove_option, same

variant_routes = APIBlueprint("variants", __name__, url_prefix="/api", abp_responses=FAILURES)
Name = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]*$")]


class ChooseOption(Strict):
    do: Literal["choose"]
    variant: Name
    option: Name


class AddOption(Strict):
    """An option like the chosen one."""

    do: Literal["add"]
    variant: Name
    option: Name
    name: Annotated[str, Field(min_length=1, max_length=120)]


class RemoveOption(Strict):
    do: Literal["remove"]
    variant: Name
    option: Name


class Differ(Strict):
    """The value at an address may differ between the options."""

    do: Literal["differ"]
    variant: Name
    address: Path


class Same(Strict):
    """All options get the present value at an address."""

    do: Literal["same"]
    variant: Name
    address: Path


class VariantBody(Strict):
    request: Annotated[
        ChooseOption | AddOption | RemoveOption | Differ | Same, Field(discriminator="do")
    ]


@variant_routes.post("/studies/<string:study_id>/variant", responses={200: Edits})
def edits_of_variant(path: StudyPath, body: VariantBody) -> Response:
    """The edits that do something with a variant."""
    document = service().studies.document(path.study_id)
    operations: list[dict[str, Any]]
    request = body.request
    if isinstance(request, ChooseOption):
        operations = choose(document, request.variant, request.option)
    elif isinstance(request, AddOption):
        operations = add_option(document, request.variant, request.option, request.name)
    elif isinstance(request, RemoveOption):
        operations = remove_option(document, request.variant, request.option)
    elif isinstance(request, Differ):
        operations = differ(document, request.variant, request.address)
    else:
        operations = same(document, request.variant, request.address)
    return jsonify({"operations": operations})
