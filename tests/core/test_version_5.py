"""Documents of version 4, and edits that were made on them, in version 5."""

import copy

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.conftest import document
from zygomorph.core.document.edits import EditError, Operation, apply_edit, value_at
from zygomorph.core.document.study import check_document
from zygomorph.core.document.version_5 import new_look, newer_edits
from zygomorph.core.document.versions import newest
from zygomorph.core.errors import DocumentError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.values.gradients import gradient_table, parse_hex, to_linear

READ = TypeAdapter(list[Operation])
PUSH = {
    "step": "inflate",
    "values": {"amount": 0.3},
    "where": {"store": "hot", "layers": [{"id": "l", "layer": "linear", "values": {"width": 1.0}}]},
}


def old(**values):
    """A study as version 4 had it, with one look."""
    looks = [{"id": "surface", "look": "surface", "values": values}]
    return document({"step": "icosphere"}, copy.deepcopy(PUSH), looks=looks) | {"version": 4}


def colours(made):
    drawn = Evaluator().drawn(check_document(made), Request("p"))
    return drawn.result.mesh, drawn.appearance


def through(gradient, share):
    table = to_linear(gradient_table(gradient)[:, :3] / 255.0)
    return table[np.round(np.clip(share, 0, 1) * (len(table) - 1)).astype(int)]


@pytest.mark.parametrize(
    ("values", "share"),
    [
        ({}, lambda mesh: mesh.points[:, 1] + 0.5),
        ({"low": -1.0, "high": 0.25}, lambda mesh: (mesh.points[:, 1] + 1) / 1.25),
        (
            {"colour_by": "displacement", "low": 0.0, "high": 0.5},
            lambda mesh: np.linalg.norm(mesh.points - mesh.rest, axis=1) / 0.5,
        ),
        ({"colour_by": "mask", "mask": "hot"}, lambda mesh: mesh.get("point", MASK + "hot")),
    ],
)
def test_a_look_colours_as_it_did(values, share):
    mesh, shown = colours(old(gradient="moss", **values))
    wanted = share(mesh)
    # A step of the table apart, where both round another way.
    assert shown.colours(len(mesh.points)) == pytest.approx(through("moss", wanted), abs=0.02)


def test_tilt_is_told_by_its_angle_against_upright():
    mesh, shown = colours(old(colour_by="tilt", tilt=60.0, upright=[1.0, 0.0, 0.0]))
    angle = np.degrees(np.arccos(np.clip(point_normals(mesh)[:, 0], -1, 1)))
    assert shown.channels[0].shares() == pytest.approx(np.clip(angle / 60, 0, 1), abs=1e-4)


def test_one_colour_and_all_that_does_not_go_by_value_stay():
    made = old(colour_by="fixed", colour="#336699", glow=40.0, roughness=12.0, thickness=0.02)
    _, shown = colours(made)
    material = shown.material
    assert (material.glow, material.roughness, material.size) == (0.4, 0.12, 0.02)
    assert not shown.by_value("colour")
    assert shown.colours(1)[0] == pytest.approx(to_linear(parse_hex("#336699")))


def test_what_moved_moves():
    cycle = {"signal": "cycle", "low": -1.0, "high": 0.0, "cycles": 1}
    made = check_document(old(low=cycle)).document
    assert value_at(made, f"{LAYER}/bottom") == cycle


LAYER = "/pieces/p/looks/surface/by/colour/where/layers/by/values"


def test_links_and_variants_find_what_they_name_where_it_is_now():
    made = old(high=0.5)
    follows = {"signal": "link", "to": "/pieces/p/looks/surface/values/high"}
    made["pieces"][0]["recipe"][1]["values"]["amount"] = follows
    base = "/pieces/p/looks/surface/values"
    kept = {f"{base}/gradient": "dusk", f"{base}/low": -0.2, f"{base}/roughness": 10.0}
    switched = {f"{base}/colour_by": "fixed", f"{base}/colour": "#112233"}
    made["variants"] = [
        {
            "id": name,
            "name": name,
            "chosen": "a",
            "options": [{"id": "a", "name": "A"}, {"id": "b", "name": "B", "kept": each}],
        }
        for name, each in (("v", kept), ("w", switched))
    ]
    new = newest(made, 5)
    amount = new["pieces"][0]["recipe"][1]["values"]["amount"]
    assert value_at(new, amount["to"]) == 0.5
    found, whole = (variant["options"][1]["kept"] for variant in new["variants"])
    assert found == {
        "/pieces/p/looks/surface/by/colour/values/gradient": "dusk",
        f"{LAYER}/bottom": -0.2,
        f"{base}/roughness": 10.0,
    }
    assert whole == {
        "/pieces/p/looks": [{"id": "surface", "look": "surface", "values": {"colour": "#112233"}}]
    }


BASE = "/pieces/p/looks/surface/values"
EDITS = [
    {"do": "set", "path": f"{BASE}/colour_by", "value": "fixed"},
    {"do": "set", "path": f"{BASE}/colour_by", "value": "mask"},
    {"do": "set", "path": f"{BASE}/colour_by", "value": "tilt"},
    {"do": "set", "path": f"{BASE}/mask", "value": "hot"},
    {"do": "set", "path": f"{BASE}/low", "value": -2.0},
    {"do": "set", "path": f"{BASE}/high", "value": 2.0},
    {"do": "set", "path": f"{BASE}/gradient", "value": "ember"},
    {"do": "set", "path": f"{BASE}/glow", "value": 12.0},
    {"do": "set", "path": f"{BASE}/thickness", "value": 0.01},
    {"do": "set", "path": BASE, "value": {"glow": 3.0, "colour_by": "fixed"}},
    {"do": "remove", "path": f"{BASE}/low"},
    {"do": "set", "path": "/name", "value": "Other"},
    {"do": "set", "path": "/pieces/p/recipe/s1/values/amount", "value": 0.5},
]


@given(st.lists(st.lists(st.sampled_from(EDITS), min_size=1, max_size=3), max_size=5))
def test_an_edit_does_in_version_5_what_it_did_in_version_4(rows):
    """Taken back one by one after the upgrade, edits lead through the same studies as before it."""
    states, edits, here = [old(gradient="moss", low=-0.3)], [], old(gradient="moss", low=-0.3)
    for operations in rows:
        try:
            here, inverse = apply_edit(here, READ.validate_python(operations))
        except EditError:
            return
        states.append(copy.deepcopy(here))
        edits.append((operations, inverse))
    newer = newer_edits(here, edits)
    wanted = [newest(state, 5) for state in states]
    now = newest(here, 5)
    for (operations, inverse), before, after in zip(
        newer[::-1], wanted[-2::-1], wanted[:0:-1], strict=True
    ):
        assert now == after
        now, _ = apply_edit(now, READ.validate_python(inverse))
        assert now == before
        again, _ = apply_edit(now, READ.validate_python(operations))
        assert again == after


@pytest.mark.parametrize(
    "damage",
    [
        {"pieces": None},
        {"pieces": [{"looks": 3}]},
        {"pieces": [{"looks": [None, {"look": "surface", "values": 3}]}]},
        {"variants": [{"options": [{"kept": []}]}]},
    ],
)
def test_what_is_damaged_is_refused_with_its_place(damage):
    with pytest.raises(DocumentError) as caught:
        check_document(old() | damage)
    assert caught.value.problems


def test_a_look_that_is_not_known_stays_for_the_schema_to_refuse():
    strange = {"id": "a", "look": "surface", "values": {"colour_by": "smell"}}
    assert new_look(strange) == strange
