"""What the interface is told of documents and of headers, against what they are."""

import json
import struct
from typing import get_args

import pytest
from pydantic import BaseModel, TypeAdapter

from tests.conftest import ROOT, study
from zygomorph.api import document_shapes as shapes
from zygomorph.api.frame_shapes import FrameHeader, TopologyHeader
from zygomorph.api.frames import FrameOptions, pack_frame, pack_topology
from zygomorph.core.document.schema import study_model
from zygomorph.core.document.study import parse_study
from zygomorph.core.evaluation.evaluate import Evaluator, Request

EXAMPLES = sorted((ROOT / "examples").glob("*.json"))


def models_in(annotation: object) -> list[type[BaseModel]]:
    """All models that a type is made of, without those inside them."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return [annotation]
    return [model for part in get_args(annotation) for model in models_in(part)]


def names_of(models: list[type[BaseModel]]) -> set[str]:
    return {f.alias or name for model in models for name, f in model.model_fields.items()}


def compared(true: list[type[BaseModel]], told: type[BaseModel], where: str) -> None:
    """Every key of the true models is told, and no other, down to the values of entries."""
    if told.model_config.get("extra") != "allow":
        assert names_of(true) == names_of([told]), where
    else:
        assert names_of([told]) <= names_of(true), where
    for name, field in told.model_fields.items():
        if name in ("values", "place", "keys"):
            continue
        inner = [m for each in true for m in models_in(_annotation(each, name))]
        own = models_in(field.annotation)
        if own and own[0] not in (shapes.SignalShape, shapes.PairShape):
            compared(inner, own[0], f"{where}/{name}")


def _annotation(model: type[BaseModel], name: str) -> object:
    field = model.model_fields.get(name)
    return field.annotation if field else None


def test_the_interface_is_told_every_key_of_a_document_and_no_other():
    compared([study_model()], shapes.DocumentShape, "")


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda p: p.stem)
def test_every_demo_study_is_as_it_is_told(path):
    document = parse_study(path.read_bytes()).document
    told = shapes.DocumentShape.model_validate(document)
    again = told.model_dump(mode="json", by_alias=True, exclude_unset=True)
    assert again == TypeAdapter(dict).validate_python(document)


def header_of(data: memoryview) -> dict:
    (length,) = struct.unpack_from("<I", data, 8)
    return json.loads(bytes(data[12 : 12 + length]))


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda p: p.stem)
def test_headers_of_frames_are_as_they_are_told(path):
    study = parse_study(path.read_bytes())
    evaluator = Evaluator()
    for piece in study.pieces:
        found = evaluator.drawn(study, Request(piece["id"], 5.0))
        packed = pack_frame(piece["id"], found, FrameOptions(5.0))
        FrameHeader.model_validate(header_of(packed))
        TopologyHeader.model_validate(header_of(pack_topology(found.result.geometry.mesh.topology)))


def test_headers_of_copies_are_as_they_are_told():

    made = study({"step": "box"}, {"step": "row", "values": {"count": 3}})
    packed = pack_frame("p", Evaluator().drawn(made, Request("p")), FrameOptions(0.0))
    assert FrameHeader.model_validate(header_of(packed)).copies.count == 3
