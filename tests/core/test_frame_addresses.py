"""Frames are kept for ever by their addresses: whatever changes a mesh changes its address."""

from __future__ import annotations

import copy
from functools import cache
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import camera, study
from tests.demo_results import digest
from zygomorph.core import program
from zygomorph.core.document.edits import Set, apply_edit
from zygomorph.core.document.parts import GivenValue, parts
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation import keys
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.values.kinds import kind_of

SAW = {"signal": "cycle", "shape": "saw", "low": 0.1, "high": 0.4}


def spread(by: str, last: float = 0.4, **more: Any) -> dict[str, Any]:
    """A value that differs from point to point by where the point is."""
    return {"signal": "hold", "value": 0.05, "spread": {"by": by, "to": {"value": last}, **more}}


BALL = {"step": "icosphere", "values": {"halvings": 2}}
OTHER = {
    "id": "o",
    "name": "Other",
    "place": {"move": [2.0, 0.0, 0.0]},
    "recipe": [
        {"id": "f", "step": "torus", "values": {"around": 12, "section": 6}},
        {"id": "i", "step": "inflate", "values": {"amount": SAW}},
    ],
}
MARKER = {"id": "m", "name": "Path", "place": {"move": [0.0, 1.0, 0.0], "turn": [0, 0, 30]}}


def layer(key: str, values: dict[str, Any] | None = None, **common: Any) -> dict[str, Any]:
    return {"id": f"l{key}", "layer": key, "values": values or {}, **common}


def masked(*layers: dict[str, Any], **values: Any) -> dict[str, Any]:
    own = {"amount": 0.3} | values
    return {"step": "inflate", "values": own, "where": {"layers": list(layers)}}


# Each way in which a mesh may depend on something besides its own recipe.
WAYS = {
    "camera in a spread": masked(amount=spread("camera")),
    "camera in a stagger": masked(amount=SAW | {"stagger": {"by": "camera", "delay": 0.5}}),
    "piece in a spread": masked(amount=spread("piece", piece="o")),
    "piece in a layer's spread": masked(layer("ball", {"radius": spread("piece", 2.0, piece="o")})),
    "camera in a layer's strength": masked(layer("noise", strength=spread("camera", 100.0))),
    "camera in a mask": masked(layer("facing", {"against": "viewer", "angle": 60.0})),
    "camera in a mask that remembers": masked(
        layer("facing", {"against": "viewer", "angle": 60.0}, memory="stays")
    ),
    "piece in a mask": masked(layer("distance", {"piece": "o", "near": 0.5, "far": 2.5})),
    "place in a mask": masked(layer("height", {"measured": "space", "low": 0.0, "high": 1.0})),
    "place in a pattern": {"step": "displace", "values": {"sampled": "space", "amount": 0.2}},
    "marker that carries a step": {
        "step": "twist",
        "values": {"angle": 90.0},
        "carried": {"by": "marker", "id": "m"},
    },
    "marker that carries a layer": masked(
        layer("ball", {"radius": 0.8}, carried={"by": "marker", "id": "m"})
    ),
    "piece that is draped on": {"step": "drape", "values": {"piece": "o", "offset": 0.1}},
    "value that is followed": masked(amount={"signal": "link", "to": "/markers/m/place/move/1"}),
    "loop": {"step": "jitter", "values": {"amount": 0.1, "hold": 2}},
}


@cache
def begun(way: str) -> Study:
    made = copy.deepcopy(dict(study(BALL, WAYS[way]).document))
    made["pieces"].append(copy.deepcopy(OTHER))
    made["markers"] = [copy.deepcopy(MARKER)]
    return check_document(made)


def numbers(made: Study) -> list[tuple[str, Any, GivenValue | None]]:
    """Address and present value of everything that a hand may set in the study: each declared
    value of each part, and the loop."""
    found: list[tuple[str, Any, GivenValue | None]] = [
        ("/loop/frames", made.document["loop"]["frames"], None),
    ]
    for part in parts(made.document):
        if part.kind in ("look", "light", "backdrop"):
            continue
        for section in part.sections:
            for name, spec in section.specs.items():
                path = f"{section.path}/{name}".lstrip("/")
                given_value = GivenValue(part, path, spec, section.given.get(name, spec.default))
                found.append((given_value.address, given_value.given, given_value))
    return found


def changed(made: Study, draw: Any) -> Study:
    """The study with one value set to any other."""
    address, _, value = draw(st.sampled_from(numbers(made)), label="value")
    new: Any
    if value is None:
        new = draw(st.integers(12, 48))
    else:
        chance = draw(st.randoms(use_true_random=False))
        new = kind_of(value.spec).random(value.spec, chance)
    document, _ = apply_edit(
        copy.deepcopy(dict(made.document)), [Set(do="set", path=address, value=new)]
    )
    return check_document(document)


@pytest.mark.parametrize("way", WAYS)
@settings(max_examples=60)
@given(data=st.data())
def test_what_changes_the_mesh_changes_its_address(way, data):
    made = begun(way)
    try:
        other = changed(made, data.draw)
        meshes = [Evaluator().evaluate(each, Request("p", 5.0)).mesh for each in (made, other)]
    except ZygomorphError:
        return
    if digest(meshes[0]) != digest(meshes[1]):
        assert piece_key(made, "p", False) != piece_key(other, "p", False)


@pytest.mark.parametrize("way", WAYS)
@settings(max_examples=25)
@given(data=st.data())
def test_what_is_kept_is_what_would_be_made_anew(way, data):
    """One evaluator that has made the study as it was, and one that knows nothing."""
    made = begun(way)
    shared = Evaluator()
    shared.evaluate(made, Request("p", 5.0))
    try:
        other = changed(made, data.draw)
        fresh = Evaluator().evaluate(other, Request("p", 5.0)).mesh
    except ZygomorphError:
        return
    assert digest(shared.evaluate(other, Request("p", 5.0)).mesh) == digest(fresh)


@pytest.mark.parametrize("way", [way for way in WAYS if "camera" in way])
def test_a_camera_that_moves_changes_mesh_and_address(way):
    made = begun(way)
    moved = check_document({**made.document, "cameras": camera(position=[-2.0, 0.4, -1.5])})
    evaluator = Evaluator()
    before, after = (evaluator.evaluate(s, Request("p", 5.0)).mesh.points for s in (made, moved))
    assert np.abs(after - before).max() > 0.01
    assert piece_key(made, "p", False) != piece_key(moved, "p", False)


@pytest.mark.parametrize("way", [way for way in WAYS if way.startswith("piece")])
def test_a_piece_that_moves_changes_mesh_and_address(way):
    made = begun(way)
    pieces = [made.document["pieces"][0], OTHER | {"place": {"move": [-1.5, 0.0, 0.4]}}]
    moved = check_document({**made.document, "pieces": pieces})
    evaluator = Evaluator()
    before, after = (evaluator.evaluate(s, Request("p", 5.0)).mesh.points for s in (made, moved))
    assert np.abs(after - before).max() > 0.01
    assert piece_key(made, "p", False) != piece_key(moved, "p", False)


def test_another_program_has_other_addresses(monkeypatch):
    def address() -> str:
        return piece_key(study(BALL), "p", False)

    before = address()
    assert address() == before
    monkeypatch.setattr(keys, "program_digest", lambda: "another")
    assert address() != before


def test_the_program_is_told_from_another_by_any_of_its_sources(tmp_path, monkeypatch):
    (tmp_path / "kernels").mkdir()
    source = tmp_path / "kernels" / "wave.py"
    source.write_text("HEIGHT = 1.0\n")
    monkeypatch.setattr(program, "PACKAGE", tmp_path)
    told = []
    for text in ("HEIGHT = 1.0\n", "HEIGHT = 1.5\n", "HEIGHT = 1.0\n"):
        source.write_text(text)
        program.program_digest.cache_clear()
        told.append(program.program_digest())
    program.program_digest.cache_clear()
    assert told[0] == told[2] != told[1]


def test_the_program_is_told_from_another_by_its_libraries(monkeypatch):
    before = program.program_digest()
    monkeypatch.setattr(program, "version", lambda name: "0.0")
    program.program_digest.cache_clear()
    assert program.program_digest() != before
    program.program_digest.cache_clear()
