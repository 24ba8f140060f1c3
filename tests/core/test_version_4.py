"""Documents of version 3, and edits that were made on them, in version 4."""

import copy

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.conftest import document
from zygomorph.core.document.beginnings import completed
from zygomorph.core.document.edits import EditError, Operation, apply_edit, value_at
from zygomorph.core.document.study import check_document
from zygomorph.core.document.version_4 import new_address, newer_operation
from zygomorph.core.document.versions import newest, newest_preset
from zygomorph.core.errors import DocumentError
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.shared.drawn_scene import SkyLamp

READ = TypeAdapter(list[Operation])
LOOK = {"surface": {"gradient": "dusk", "glow": 20.0}}
FOLLOWS = {"signal": "link", "to": "/pieces/p/look/surface/glow"}


def old(**more):
    """A study as version 3 had it."""
    amount = {"step": "displace", "values": {"amount": FOLLOWS}}
    made = document({"step": "icosphere"}, amount, look=copy.deepcopy(LOOK))
    return made | {"version": 3} | more


def test_what_was_the_look_is_the_first_of_its_looks():
    new = newest(old(), 4)
    assert new["version"] == 4
    looks = [{"id": "surface", "look": "surface", "values": LOOK["surface"]}]
    assert new["pieces"][0]["looks"] == looks
    assert "look" not in new["pieces"][0]


@pytest.mark.parametrize("look", [{}, {"surface": None}, {"surface": {}}])
def test_a_look_that_said_nothing_has_its_defaults(look):
    made = old()
    made["pieces"][0]["look"] = look
    assert newest(made, 4)["pieces"][0]["looks"][0]["values"] == {}


def test_camera_and_backdrop_keep_what_they_had():
    seen = {"position": [1.0, 2.0, 3.0], "angle": 40}
    colours = {"centre": "#102030", "edge": "#000000"}
    new = check_document(old(camera=seen, backdrop=colours)).document
    assert [camera["values"] for camera in new["cameras"]] == [seen]
    assert new["backdrop"]["values"] == colours


def test_what_it_did_not_say_is_what_the_program_drew_until_then():
    """The stage of version 3 had these lights, and this camera and backdrop by default."""
    new = check_document(old()).document
    found = check_document(new)
    scene = plan_scene(found).at(np.zeros(1))
    lamps = [lamp for each in scene.lamps.values() for lamp in each]
    suns = [lamp for lamp in lamps if not isinstance(lamp, SkyLamp)]
    assert [(sun.colour, sun.strength, sun.shadow) for sun in suns] == [
        ("#fff1dc", 2.5, True),
        ("#9fb4ff", 1.5, False),
    ]
    for sun, towards in zip(suns, [(0.5, 0.85, 0.6), (-4, 1.6, -3.4)], strict=True):
        assert sun.towards == pytest.approx(np.array(towards) / np.linalg.norm(towards))
    (sky,) = (lamp for lamp in lamps if isinstance(lamp, SkyLamp))
    assert (sky.above, sky.below, sky.strength) == ("#dcd6f2", "#4a3c34", 1.05)
    assert scene.view.position == pytest.approx([1.6, 1.0, 2.4])
    assert (scene.view.target.tolist(), scene.view.angle) == ([0, 0, 0], 32)
    assert scene.backdrop.stops == ((0.0, "#3b3350"), (0.78, "#141120"))


def test_links_and_variants_find_what_they_name_where_it_is_now():
    kept = {
        "/pieces/p/look": {"surface": {"gradient": "ember"}},
        "/camera": {"position": [3.0, 0.0, 0.0]},
        "/backdrop": {"edge": "#ffffff"},
        "/pieces/p/visible": False,
    }
    options = [{"id": "a", "name": "A"}, {"id": "b", "name": "B", "kept": kept}]
    variant = {"id": "v", "name": "V", "chosen": "a", "options": options}
    new = completed(newest(old(variants=[variant]), 4))
    amount = new["pieces"][0]["recipe"][1]["values"]["amount"]
    assert value_at(new, amount["to"]) == 20.0
    found = new["variants"][0]["options"][1]["kept"]
    for address in found:
        assert address == "/pieces/p/visible" or value_at(new, address) is not None
    ember = [{"id": "surface", "look": "surface", "values": {"gradient": "ember"}}]
    assert found["/pieces/p/looks"] == ember
    assert found["/cameras/camera/values"] == {"position": [3.0, 0.0, 0.0]}
    assert found["/backdrop"]["values"] == {"edge": "#ffffff"}


def test_what_a_preset_was_made_on_is_brought_up_to_date():
    ridged = {"id": "f", "step": "icosphere"}
    preset = {
        "format": "zygomorph-preset",
        "version": 3,
        "name": "P",
        "steps": [{"id": "s", "step": "twist"}],
        "made_on": {"form": ridged, "look": LOOK, "loop": {"frames": 48}},
    }
    new = newest_preset(preset, 4)
    assert new["made_on"]["form"] == ridged
    assert new["made_on"]["loop"] == {"frames": 48}
    assert new["made_on"]["looks"][0]["values"] == LOOK["surface"]
    assert "look" not in new["made_on"]


@pytest.mark.parametrize(
    ("before", "after"),
    [
        ("/pieces/p/look", "/pieces/p/looks"),
        ("/pieces/p/look/surface", "/pieces/p/looks/surface/values"),
        ("/pieces/p/look/surface/low", "/pieces/p/looks/surface/values/low"),
        ("/camera/position/0", "/cameras/camera/values/position/0"),
        ("/backdrop/edge", "/backdrop/values/edge"),
        ("/backdrop", "/backdrop"),
        ("/pieces/look/recipe/surface/values/look", "/pieces/look/recipe/surface/values/look"),
        ("/cameras", "/cameras"),
    ],
)
def test_addresses_of_version_3_and_where_that_is_now(before, after):
    assert new_address(before) == after


PIECE = {"id": "q", "name": "Q", "recipe": [{"id": "f", "step": "box"}], "look": LOOK}
EDITS = [
    {"do": "set", "path": "/pieces/p/look/surface/low", "value": -2.0},
    {"do": "set", "path": "/pieces/p/look/surface", "value": {"glow": 5.0}},
    {"do": "set", "path": "/pieces/p/look", "value": {"surface": {"glow": 6.0}}},
    {"do": "set", "path": "/pieces/p/look", "value": {}},
    {"do": "remove", "path": "/pieces/p/look/surface/glow"},
    {"do": "remove", "path": "/pieces/p/look/surface"},
    {"do": "remove", "path": "/pieces/p/look"},
    {"do": "set", "path": "/camera/angle", "value": 50.0},
    {"do": "set", "path": "/camera", "value": {"target": [0.0, 1.0, 0.0]}},
    {"do": "remove", "path": "/camera"},
    {"do": "set", "path": "/backdrop/edge", "value": "#010203"},
    {"do": "set", "path": "/backdrop", "value": {"centre": "#040506"}},
    {"do": "insert", "path": "/pieces", "item": PIECE, "after": "p"},
    {"do": "set", "path": "/pieces/p/recipe/s1/values/amount", "value": 0.5},
    {"do": "remove", "path": "/pieces/p"},
]


@given(st.lists(st.sampled_from(EDITS), max_size=5))
def test_an_edit_does_in_version_4_what_it_did_in_version_3(operations):
    """The study edited and then brought up to date is the one brought up to date and then edited;
    and so it is when the edits are taken back."""
    before = old(camera={"angle": 30}, backdrop={})
    try:
        after, inverse = apply_edit(before, READ.validate_python(operations))
        check_document(after)
    except (EditError, DocumentError):
        return
    newer = [newer_operation(each) for each in operations]
    new_before = completed(newest(before, 4))
    new_after = completed(apply_edit(new_before, READ.validate_python(newer))[0])
    if any("look" in each["path"] and each["do"] == "remove" for each in operations):
        # What is set of a look after that is another thing in a list of looks.
        return
    assert new_after == completed(newest(after, 4))
    back = [newer_operation(each) for each in inverse]
    again = apply_edit(new_after, READ.validate_python(back))[0]
    assert completed(again) == new_before


@pytest.mark.parametrize(
    "damage",
    [
        {"camera": 3},
        {"backdrop": []},
        {"pieces": None},
        {"pieces": [{"recipe": [], "look": 4}]},
        {"variants": [{"options": [{"kept": 5}]}]},
        {"variants": [{"options": [{"kept": {"/camera": 7}}]}]},
    ],
)
def test_a_damaged_document_is_still_explained(damage):
    made = {**old(), **damage}
    assert newest(made, 4)["version"] == 4
    with pytest.raises(DocumentError):
        check_document(made)
