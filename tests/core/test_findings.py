"""Each finding on a study that has the fault and on one that has not; its fix mends it."""

from __future__ import annotations

import copy
from pathlib import Path

import pytest
from pydantic import TypeAdapter

from tests.conftest import ROOT, by_height, camera, document, study
from zygomorph.core.document.edits import Operation, apply_edit
from zygomorph.core.document.study import check_document, parse_study
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.inspect.findings.collect import finders, findings_of
from zygomorph.core.values.kinds.drawn import stroke

BALL = {"step": "icosphere", "values": {"halvings": 3}}
SWING = {"signal": "cycle", "low": -0.2, "high": 0.2}
OPERATION = TypeAdapter(Operation)


def keys(*pairs, **more):
    return {"signal": "keys", "keys": [{"frame": f, "value": v} for f, v in pairs], **more}


def twist(angle):
    return {"step": "twist", "values": {"angle": angle}}


def masked(layer):
    return {"step": "inflate", "where": {"layers": [{"id": "l", **layer}]}}


UP = [0.0, 0.0, 0.0, 0.0, 1.0, 0.0]
AWAY = [9.0, 9.0, 9.0, 0.0, 1.0, 0.0]
NOISE = {"step": "displace", "values": {}}
STICKS = {"step": "displace", "values": {"sampled": "rest"}}
MOVED = {"step": "bend", "values": {"angle": {"signal": "cycle", "low": 10.0, "high": 60.0}}}
REMEMBER = {"step": "remember", "values": {"what": "rest"}}
ROUND = {"before": "repeat", "after": "repeat"}

SHEET = {"step": "sheet", "values": {"columns": 8, "rows": 8}}
TREMBLE = {
    "step": "inflate",
    "values": {"amount": {"signal": "cycle", "low": 0.0, "high": 1e-5}},
}


# kind: steps with the fault, steps without, whether the fix must mend it
def looked(**look):
    """A case's looks, beside its steps."""
    return {"looks": [{"id": "k", "look": "surface", **look}]}


def lit(light, **values):
    return {"lights": [{"id": "a", "name": "Lamp", "light": light, "values": values}]}


def made_of(case):
    """A study of a case: steps, and what else it has."""
    steps = [each for each in case if "step" in each]
    more = {name: value for each in case if "step" not in each for name, value in each.items()}
    around = {name: more.pop(name) for name in ("lights", "cameras") if name in more}
    return check_document(document(*steps, **more) | around)


def seen_by(**values):
    """A camera, as a part of a case."""
    return {"cameras": camera(**{"position": [0.0, 0.0, 4.0], **values})}


GROUND = {"step": "sheet", "values": {"width": 20.0, "depth": 20.0, "columns": 8, "rows": 8}}
WATER = {"step": "sheet", "values": {"width": 20.0, "depth": 20.0, "columns": 80, "rows": 80}}
FROM_ABOVE = seen_by(position=[0.1, 12.0, 0.1], target=[0.0, 0.0, 0.0])
SURFACE = {"blur": True, "focus_by": "surface", "focus_piece": "p"}


STORED = {"layers": [{"id": "l", "layer": "stored", "values": {"name": "hot"}}]}

CASES = {
    "look_not_read": (
        [BALL, looked(by=[{"id": "colour", "where": STORED}])],
        [BALL, looked(by=[by_height(-1.0, 1.0)])],
        True,
    ),
    "glass_without_depth": (
        [SHEET, looked(values={"glass": 90.0})],
        [BALL, looked(values={"glass": 90.0})],
        True,
    ),
    "light_lights_nothing": (
        [BALL, lit("spot", position=[0.0, 3.0, 0.0], target=[0.0, 9.0, 0.0])],
        [BALL, lit("spot", position=[0.0, 3.0, 0.0], target=[0.0, 0.0, 0.0])],
        True,
    ),
    # At 3.14 W/m² a white surface is just white; a hundred times that is beyond all colour.
    "too_bright": (
        [BALL, looked(values={"colour": "#c05020"}) | lit("sun", strength=314.0)],
        [BALL, looked(values={"colour": "#c05020"}) | lit("sun", strength=3.14)],
        True,
    ),
    "camera_does_not_return": (
        [BALL, seen_by(position=[keys((0, 0.0), (20, 1.0)), 0.0, 4.0])],
        [BALL, seen_by(position=[keys((0, 0.0), (12, 1.0), (24, 0.0)), 0.0, 4.0], shake=2.0)],
        False,
    ),
    "focus_on_nothing": (
        [BALL, seen_by(**SURFACE, target=[4.0, 0.0, 0.0])],
        [BALL, seen_by(**SURFACE)],
        True,
    ),
    "beyond_the_view": (
        [BALL, seen_by(clips="set", near=0.1, far=4.0)],
        [BALL, seen_by(clips="set", near=0.1, far=6.0)],
        True,
    ),
    "camera_inside_a_piece": (
        [BALL, seen_by(position=[0.0, 0.0, 0.2])],
        [BALL, seen_by(position=[0.0, 0.0, 2.0])],
        False,
    ),
    "tile_repeats_in_view": (
        [WATER, {"step": "sea", "values": {"tile": 4.0, "grid": 32}}, FROM_ABOVE],
        [WATER, {"step": "sea", "values": {"tile": 20.0, "grid": 32}}, FROM_ABOVE],
        True,
    ),
    "sheet_ends_in_view": (
        [GROUND, seen_by(position=[0.0, 1.0, 4.0])],
        [GROUND, seen_by(position=[0.0, 4.0, 0.1])],
        False,
    ),
    "no_inside": (
        [SHEET, {"step": "fracture"}],
        [SHEET, {"step": "fracture", "values": {"wall": 0.1}}],
        True,
    ),
    "breaks_its_users": (
        # It waits for itself.
        [BALL, {"step": "blend", "values": {"piece": "p", "by": "number"}}],
        [BALL],
        False,
    ),
    "voxels_too_coarse": (
        [
            {"step": "torus", "values": {"tube_radius": 0.05}},
            {"step": "voxels", "values": {"size": 0.08}},
        ],
        [
            {"step": "torus", "values": {"tube_radius": 0.3}},
            {"step": "voxels", "values": {"size": 0.08}},
        ],
        True,
    ),
    "skin_lost_volume": (
        [BALL, {"step": "voxels", "values": {"size": 0.05, "smooth": 0.15}}],
        [BALL, {"step": "voxels", "values": {"size": 0.05, "smooth": 0.15, "volume": True}}],
        True,
    ),
    "cut_anew_for_nothing": (
        [BALL, TREMBLE, {"step": "voxels", "values": {"size": 0.1}}],
        [BALL, MOVED, {"step": "voxels", "values": {"size": 0.1}}],
        True,
    ),
    "faces_overlap": (
        [BALL, {"step": "row", "values": {"count": 2, "move": [0.0, 0.0, 0.0]}}, {"step": "real"}],
        [BALL, {"step": "row", "values": {"count": 2}}, {"step": "real"}],
        False,
    ),
    "undone_by_a_later_step": (
        [BALL, {"step": "shade"}, {"step": "subdivide"}],
        [BALL, {"step": "subdivide"}, {"step": "shade"}],
        True,
    ),
    "copies_made_real": (
        [BALL, {"step": "row"}, {"step": "real"}],
        [BALL, {"step": "row"}, {"step": "real"}, {"step": "remove", "values": {"share": 40.0}}],
        True,
    ),
    "pattern_swims": ([BALL, MOVED, NOISE], [BALL, MOVED, STICKS], True),
    "loop_does_not_close": (
        [BALL, twist(keys((0, 0.0), (20, 90.0)))],
        [BALL, twist(keys((0, 0.0), (12, 90.0), (24, 0.0)))],
        True,
    ),
    "frame_shown_twice": (
        [BALL, twist(keys((0, 0.0), (12, 90.0), (23, 0.0)))],
        [BALL, twist(keys((0, 0.0), (12, 90.0), (24, 0.0)))],
        True,
    ),
    "speed_jumps_at_seam": (
        # Eased at its end only: it comes to rest, and starts at full speed.
        [
            BALL,
            twist(
                {
                    "signal": "keys",
                    "keys": [
                        {"frame": 0, "value": 0.0, "out": 9.0},
                        {"frame": 12, "value": 90.0},
                        {"frame": 24, "value": 0.0, "in": 0.0},
                    ],
                }
            ),
        ],
        [BALL, twist(keys((0, 0.0), (12, 90.0), (24, 0.0), **ROUND))],
        True,
    ),
    "wave_too_short": (
        [BALL, {"step": "wave", "values": {"wavelength": 0.05}}],
        [BALL, {"step": "wave", "values": {"wavelength": 0.8}}],
        True,
    ),
    "step_without_effect": ([BALL, twist(0.0)], [BALL, twist(30.0)], True),
    "count_over_budget": (
        [
            {"step": "sheet", "values": {"columns": 700, "rows": 700}},
            {"step": "wave", "values": {"phase": SWING}},
        ],
        [
            {"step": "cloth", "values": {"columns": 700, "rows": 700}},
            {"step": "wave", "values": {"phase": SWING}},
        ],
        False,
    ),
    "turned_over_faces": (
        [BALL, {"step": "place", "values": {"scale": [-1.0, 1.0, 1.0]}}],
        [BALL, {"step": "place", "values": {"scale": [2.0, 1.0, 1.0]}}],
        False,
    ),
    "depends_on_count": (
        [{"step": "line"}, {"step": "formula", "values": {"offset": "0.1 * sin(i)"}}],
        [{"step": "line"}, {"step": "formula", "values": {"offset": "0.1 * sin(40 * q)"}}],
        False,
    ),
    "rest_after_motion": ([BALL, MOVED, REMEMBER], [BALL, REMEMBER, MOVED], True),
    "reverses_abruptly": (
        [BALL, twist(keys((0, 0.0), (12, 90.0), after="mirror"))],
        [
            BALL,
            twist(
                {
                    "signal": "keys",
                    "after": "mirror",
                    "keys": [
                        {"frame": 0, "value": 0.0, "out": 0.0},
                        {"frame": 12, "value": 90.0, "in": 0.0},
                    ],
                }
            ),
        ],
        True,
    ),
    "link_to_nothing": (
        [BALL, twist({"signal": "link", "to": "/pieces/p/recipe/gone/values/angle"})],
        [BALL, twist({"signal": "link", "to": "/pieces/p/recipe/s1/values/low"})],
        True,
    ),
    "keyed_once": ([BALL, twist(keys((5, 40.0)))], [BALL, twist(40.0)], True),
    "keys_nearly_even": (
        [BALL, twist(keys((0, 0), (6, 50), (11, 10), (18, 60), (24, 0)))],
        [BALL, twist(keys((0, 0), (6, 50), (12, 10), (18, 60), (24, 0)))],
        True,
    ),
    "drawn_without_mesh": (
        [BALL, masked({"layer": "drawn", "values": {"strokes": [stroke([AWAY])]}})],
        [BALL, masked({"layer": "drawn", "values": {"strokes": [stroke([[0, 0.6, 0, 0, 1, 0]])]}})],
        True,
    ),
}


def kinds(made):
    return {each.kind for each in findings_of(made, Evaluator())}


def test_every_finder_is_tested():
    assert set(CASES) == set(finders())


@pytest.mark.parametrize("kind", CASES)
def test_a_fault_is_found_and_its_fix_mends_it(kind):
    faulty, _, mends = CASES[kind]
    made = made_of(faulty)
    found = [each for each in findings_of(made, Evaluator()) if each.kind == kind]
    assert len(found) == 1
    finding = found[0]
    assert finding.title
    assert len(finding.reason) > 30
    assert (finding.fix is not None) == mends
    if finding.fix:
        operations = [OPERATION.validate_python(o) for o in finding.fix.operations]
        after, _ = apply_edit(copy.deepcopy(dict(made.document)), operations)
        assert kind not in kinds(check_document(after))


@pytest.mark.parametrize("kind", CASES)
def test_a_study_without_the_fault_is_left_in_peace(kind):
    assert kind not in kinds(made_of(CASES[kind][1]))


@pytest.mark.parametrize(
    ("steps", "kind"),
    [
        (
            [BALL, masked({"layer": "linear", "values": {"position": [0, 90, 0]}})],
            "step_without_effect",
        ),
        (
            [BALL, masked({"layer": "picked", "values": {"picked": [[0, 10**6]]}})],
            "drawn_without_mesh",
        ),
        ([BALL, {"step": "displace", "where": {"layers": [{"id": "n", "layer": "noise"}]}}], None),
        (
            [{"step": "line"}, masked({"layer": "formula", "values": {"weight": "sin(i)"}})],
            "depends_on_count",
        ),
    ],
)
def test_masks_are_looked_at_too(steps, kind):
    found = kinds(study(*steps))
    assert kind in found if kind else not found


def test_noise_in_space_swims_when_the_piece_moves():
    noise = {"step": "displace", "values": {"sampled": "space"}}
    made = study(BALL, noise, place={"move": [SWING, 0, 0]})
    assert "pattern_swims" in kinds(made)


def test_a_mirrored_place_turns_a_piece_inside_out():
    made = study(BALL, place={"scale": [1.0, -1.0, 1.0]})
    found = next(f for f in findings_of(made, Evaluator()) if f.kind == "turned_over_faces")
    assert found.fix.operations[0]["value"] == [1.0, 1.0, 1.0]


def test_the_value_that_breaks_the_loop_is_named():
    # Derived: sin(k·f) with a rational k has an irrational period and never closes.
    made = study(BALL, twist({"signal": "formula", "text": "90 * sin(0.1 * f)"}))
    found = next(f for f in findings_of(made, Evaluator()) if f.kind == "loop_does_not_close")
    assert found.address == "/pieces/p/recipe/s1/values/angle"
    assert found.fix is None
    assert "formula" in found.reason


def test_a_finding_keeps_its_name_while_its_figures_change():
    ids = [
        findings_of(study(BALL, {"step": "wave", "values": {"wavelength": w}}), Evaluator())[0].id
        for w in (0.05, 0.06)
    ]
    assert ids[0] == ids[1]


def test_what_cannot_be_evaluated_is_no_finding():
    broken = {"step": "drape", "values": {"piece": "gone"}}
    assert findings_of(study(BALL, broken), Evaluator()) == []


@pytest.mark.parametrize("path", sorted((ROOT / "examples").glob("*.json")), ids=lambda p: p.stem)
def test_demo_studies_are_in_order(path: Path):
    made = parse_study(path.read_bytes())
    intended = set(made.document.get("intended", []))
    assert [f.title for f in findings_of(made, Evaluator()) if f.id not in intended] == []


def test_steps_that_are_off_are_not_looked_at():
    off = {**twist(keys((0, 0.0), (20, 90.0))), "on": False}
    assert kinds(check_document(document(BALL, off))) == set()


def found(made, kind):
    return [f for f in findings_of(made, Evaluator()) if f.kind == kind]


@pytest.mark.parametrize(
    ("values", "mends"), [({"looped": False}, True), ({"track": "live"}, False)]
)
def test_a_sound_that_does_not_come_back_is_named(values, mends):
    hears = {"layer": "sound", "values": {**values, "axis": [1, 0, 0]}}
    made = study(BALL, masked(hears))
    (finding,) = found(made, "loop_does_not_close")
    assert finding.layer == "l"
    assert (finding.fix is not None) == mends
    if finding.fix:
        read = [OPERATION.validate_python(each) for each in finding.fix.operations]
        mended = check_document(apply_edit(made.document, read)[0])
        assert found(mended, "loop_does_not_close") == []


def test_a_study_that_plays_one_way_need_not_close():
    made = document(BALL, twist(keys((0, 0.0), (20, 90.0))), masked({"layer": "sound"}))
    assert found(check_document(made), "loop_does_not_close")
    made["loop"]["one_way"] = True
    for kind in ("loop_does_not_close", "speed_jumps_at_seam", "frame_shown_twice"):
        assert found(check_document(made), kind) == []


def test_what_a_marker_does_is_told_of_the_marker():
    made = document(BALL)
    made["markers"] = [{"id": "m", "name": "M", "place": {"move": [keys((0, 0), (20, 1)), 0, 0]}}]
    (finding,) = found(check_document(made), "loop_does_not_close")
    assert finding.address == "/markers/m/place/move/0"
    read = [OPERATION.validate_python(each) for each in finding.fix.operations]
    assert found(check_document(apply_edit(made, read)[0]), "loop_does_not_close") == []


@pytest.mark.parametrize("rounds", ["subdivide", "smooth"])
@pytest.mark.parametrize("opens", ["shade", "split"])
def test_rounding_what_was_cut_apart_opens_it(rounds, opens):
    (finding,) = found(study(BALL, {"step": opens}, {"step": rounds}), "undone_by_a_later_step")
    assert finding.step == "s2"
    assert finding.fix.operations == [{"do": "move", "path": "/pieces/p/recipe/s2", "after": "s0"}]


def test_a_relief_as_narrow_as_the_faces_is_rounded_off_and_a_wide_one_is_not():
    narrow = {"step": "displace", "values": {"amount": 0.2, "size": 0.05}}
    wide = {"step": "displace", "values": {"amount": 0.2, "size": 1.5, "octaves": 1}}
    round_ = {"step": "subdivide", "values": {"way": "smooth"}}
    (finding,) = found(study(BALL, narrow, round_), "undone_by_a_later_step")
    assert "rounds off" in finding.title
    for steps in ((wide, round_), (round_, narrow)):
        assert found(study(BALL, *steps), "undone_by_a_later_step") == []


def test_a_piece_that_others_cannot_use_names_all_of_them():
    made = document(BALL)
    by_number = {"step": "blend", "values": {"piece": "p", "by": "number"}}
    users = [
        {
            "id": f"u{k}",
            "name": name,
            "recipe": [{"id": f"f{k}", **form}, {"id": f"b{k}", **by_number}],
        }
        for k, (name, form) in enumerate(
            [("First", {"step": "box"}), ("Second", {"step": "torus"}), ("Alike", BALL)]
        )
    ]
    study_of = check_document({**made, "pieces": [*made["pieces"], *users]})
    (found,) = [f for f in findings_of(study_of, Evaluator()) if f.kind == "breaks_its_users"]
    assert found.piece == "p"
    assert "breaks 2 uses" in found.title
    assert "Blend in “First”" in found.reason
    assert "Blend in “Second”" in found.reason
    assert "Alike" not in found.reason
