"""What sticks to a surface: markers, pieces, cameras and lights that a place of a surface carries."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.conftest import document
from zygomorph.core.document.edits import Operation, apply_edit
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import DocumentError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.scene import plan_scene, view_at
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.inspect.attach import attach
from zygomorph.core.inspect.seam import seam
from zygomorph.core.transforms.world_transform import world_transform

HEIGHT, LENGTH = 0.2, 1.0
SHEET = {"step": "sheet", "values": {"width": 4.0, "depth": 4.0, "columns": 160, "rows": 160}}
RISE = {"signal": "cycle", "shape": "saw", "cycles": 1, "low": 0.0, "high": 1.0}


def wave(length=LENGTH, **values):
    own = {"amplitude": HEIGHT, "wavelength": length, "phase": RISE, **values}
    return {"step": "wave", "values": own}


def pond(*steps, at=(0.25, 0.0, 0.0), **parts):
    """A sheet with waves that run along x, and a marker over it."""
    made = document(SHEET, *(steps or (wave(),)))
    marker = {"id": "m", "name": "Buoy", "place": {"move": list(at)}}
    return Evaluator().with_geometry(check_document(made | {"markers": [marker], **parts}))


def edited(made, operations):
    read = TypeAdapter(list[Operation]).validate_python(operations)
    changed = apply_edit(dict(made.document), read)[0]
    return made.with_document(check_document(changed).document)


def stuck(made, path="/markers/m", smooth=0.0, frame=0.0):
    return edited(made, attach(made, path, "piece", "p", frame, True, smooth))


def place(made, frame, by="marker", name="m"):
    return world_transform(made, by, name).at(np.array([float(frame)]))


def surface_under(made, frame, x, z):
    """Height of the piece's surface over the nearest of its points."""
    mesh = made.meshes(made, "p", float(frame), False)[0]
    away = np.hypot(mesh.rest[:, 0] - x, mesh.rest[:, 2] - z)
    return mesh.points[away.argmin()]


@pytest.mark.parametrize("frame", [0, 3, 7.5, 18])
def test_a_marker_goes_where_its_place_of_the_surface_goes(frame):
    """It stands half a metre over a point of the sheet, and stays that far from it."""
    made = pond(at=(0.25, 0.5, 0.0))
    held = stuck(made, frame=0)
    away = place(held, frame)[:3, 3] - surface_under(held, frame, 0.25, 0.0)
    first = np.array([0.25, 0.5, 0.0]) - surface_under(held, 0, 0.25, 0.0)
    assert np.linalg.norm(away) == pytest.approx(np.linalg.norm(first), abs=2e-3)


def test_it_tilts_with_the_slope():
    """The slope of a sin(2πx/λ) is at most 2πa/λ (derived); over a loop a buoy shows all of it."""
    held = stuck(pond(wave(length=2.0)), smooth=0.05)
    ups = np.stack([place(held, frame)[:3, 1] for frame in range(24)])
    flat = np.arctan(2 * np.pi * HEIGHT / 2.0)
    start = np.arctan2(ups[:, 0], ups[:, 1])
    assert np.ptp(start) == pytest.approx(2 * flat, rel=0.02)
    assert np.abs(ups[:, 2]).max() < 1e-6


def test_waves_shorter_than_the_radius_are_hardly_felt():
    def swing(length):
        held = stuck(pond(wave(length=length)), smooth=1.0)
        return np.ptp([place(held, frame)[1, 3] for frame in range(24)])

    assert swing(0.25) < 0.05 * HEIGHT
    assert swing(8.0) > 0.9 * 2 * HEIGHT


@settings(max_examples=15, deadline=None)
@given(
    st.tuples(*[st.floats(-170, 170)] * 3),
    st.tuples(*[st.floats(-2, 2)] * 3),
    st.sampled_from([0.0, 0.3]),
)
def test_on_a_surface_that_moves_as_a_whole_it_moves_with_it(turn, move, smooth):
    """A rigid motion carries all that is attached to it rigidly (derived)."""
    ends = [{"signal": "keys", "keys": _line(value)} for value in (*turn, *move)]
    step = {"step": "place", "values": {"turn": ends[:3], "move": ends[3:]}}
    made = pond(step, at=(0.4, 0.3, 0.2))
    held = stuck(made, smooth=smooth)
    mesh = held.meshes(held, "p", 24.0, False)[0]
    # The motion of the sheet by three of its points that are not in one line.
    three = mesh.rest[[0, 160, -1]].astype(float), mesh.points[[0, 160, -1]].astype(float)
    frames = [_frame_of(*each) for each in three]
    motion = frames[1] @ np.linalg.inv(frames[0])
    assert place(held, 24.0)[:3] == pytest.approx((motion @ place(held, 0.0))[:3], abs=2e-4)


def _line(value):
    return [{"frame": 0, "value": 0.0, "ease": "linear"}, {"frame": 24, "value": value}]


def _frame_of(a, b, c):
    along = (b - a) / np.linalg.norm(b - a)
    normal = np.cross(along, c - a)
    normal /= np.linalg.norm(normal)
    frame = np.eye(4)
    frame[:3, 0], frame[:3, 1], frame[:3, 2] = along, normal, np.cross(along, normal)
    frame[:3, 3] = a
    return frame


def test_another_radius_keeps_the_place_it_has_now():
    held = stuck(pond(at=(0.25, 0.5, 0.1)))
    before = place(held, 9.0)
    again = stuck(held, smooth=0.4, frame=9.0)
    assert place(again, 9.0) == pytest.approx(before, abs=1e-6)
    kept = [each.document["markers"][0]["carried"]["at_rest"] for each in (held, again)]
    assert kept[0] == kept[1]


def test_a_piece_and_a_camera_stick_too():
    boat = document({"step": "box"})["pieces"][0] | {"id": "b", "name": "Boat"}
    made = pond()
    both = {**made.document, "pieces": [*made.document["pieces"], boat]}
    made = made.with_document(check_document(both).document)
    held = stuck(made, "/pieces/b", smooth=0.2)
    drawn = held.meshes(held, "b", 6.0, False)
    assert drawn[1][1, 3] == pytest.approx(place(held, 6.0, "piece", "b")[1, 3])
    assert drawn[1][1, 3] != pytest.approx(held.meshes(held, "b", 0.0, False)[1][1, 3], abs=0.05)
    camera = made.document["cameras"][0]["id"]
    seen = stuck(made, f"/cameras/{camera}")
    before, after = (view_at(seen, np.array([f])).position for f in (0.0, 6.0))
    assert np.linalg.norm(after - before) > 0.05


def test_a_light_on_a_marker_that_sticks_goes_along():
    lamp = {"id": "l", "name": "Lamp", "light": "point", "values": {"position": [0.25, 0.4, 0.0]}}
    made = stuck(pond(lights=[lamp]))
    made = edited(made, attach(made, "/lights/l", "marker", "m", 0.0))
    lit = [plan_scene(made).at(np.array([f])).lamps["l"][0].position for f in (0.0, 9.0)]
    moved = place(made, 9.0) @ np.linalg.inv(place(made, 0.0))
    assert lit[1] == pytest.approx(transformed(lit[0][None], moved)[0], abs=1e-5)
    assert np.linalg.norm(lit[1] - lit[0]) > 0.05


def test_what_floats_on_a_loop_closes():
    boat = document({"step": "box"})["pieces"][0] | {
        "id": "b",
        "name": "Boat",
        "carried": {"by": "marker", "id": "m"},
    }
    made = stuck(pond())
    both = check_document({**made.document, "pieces": [*made.document["pieces"], boat]})
    found = seam(made.with_document(both.document), "b", Evaluator())
    assert (found.state, found.position_relative) == ("closed", pytest.approx(0, abs=1e-6))


def carried_wave(made):
    """A second piece with rings about the marker, by which its mesh depends on it."""
    rings = {"id": "r1", "step": "rings", "carried": {"by": "marker", "id": "m"}}
    plate = document(SHEET, {k: v for k, v in rings.items() if k != "id"})["pieces"][0]
    plate |= {"id": "q", "name": "Plate"}
    both = {**made.document, "pieces": [*made.document["pieces"], plate]}
    return made.with_document(check_document(both).document)


def test_a_change_of_the_surface_is_a_change_of_what_hangs_on_it():
    """Frames are kept for ever by their keys, and states by theirs."""
    made = carried_wave(stuck(pond()))
    steeper = edited(
        made, [{"do": "set", "path": "/pieces/p/recipe/s1/values/amplitude", "value": 0.4}]
    )
    renamed = edited(made, [{"do": "set", "path": "/pieces/p/name", "value": "Lake"}])
    assert piece_key(made, "q", False) != piece_key(steeper, "q", False)
    assert piece_key(made, "q", False) == piece_key(renamed, "q", False)
    # One evaluator that has made the first does not give it for the second.
    own = Evaluator()
    shown = [
        own.evaluate(own.with_geometry(each), Request("q", 6.0)).mesh.points
        for each in (made, steeper)
    ]
    fresh = Evaluator()
    alone = fresh.evaluate(fresh.with_geometry(steeper), Request("q", 6.0)).mesh.points
    assert not np.array_equal(*shown) and np.array_equal(shown[1], alone)


@pytest.mark.parametrize("how", ["step", "place"])
def test_a_surface_does_not_hang_on_what_sticks_to_it(how):
    made = stuck(pond())
    path = "/pieces/p/recipe/s1/carried" if how == "step" else "/pieces/p/carried"
    with pytest.raises(DocumentError, match="carry itself"):
        edited(made, [{"do": "set", "path": path, "value": {"by": "marker", "id": "m"}}])


def test_pieces_that_use_the_surface_are_gone_through_for_circles():
    """A drapes on B, whose step a marker carries that sticks to A."""
    made = carried_wave(stuck(pond()))
    drape = {"id": "d1", "step": "drape", "values": {"piece": "q"}}
    with pytest.raises(DocumentError, match="carry itself"):
        edited(made, [{"do": "insert", "path": "/pieces/p/recipe", "after": "s1", "item": drape}])


def test_a_surface_that_is_gone_or_broken_carries_as_a_whole():
    made = stuck(pond(at=(0.25, 0.5, 0.0)))
    lost = made.with_document({**made.document, "pieces": []})
    assert place(lost, 6.0) == pytest.approx(place(lost, 0.0))
    unmade = replace(made, surfaces=check_document(made.document).surfaces)
    assert np.isfinite(place(unmade, 6.0)).all()


def test_what_would_close_a_circle_is_refused_by_its_name():
    made = stuck(pond())
    with pytest.raises(ZygomorphError, match="“Buoy” would then move itself") as raised:
        attach(made, "/pieces/p/recipe/s1", "marker", "m", 0.0)
    assert "let go" in raised.value.hint
    # The other way round: first the step, then the surface.
    first = edited(pond(), attach(pond(), "/pieces/p/recipe/s1", "marker", "m", 0.0))
    with pytest.raises(ZygomorphError, match="“Buoy” would then move itself"):
        attach(first, "/markers/m", "piece", "p", 0.0, True)


def test_only_the_surface_of_a_piece_is_stuck_to():
    made = pond()
    more = {"id": "n", "name": "Other", "place": {"move": [0.0, 0.0, 0.0]}}
    both = {**made.document, "markers": [*made.document["markers"], more]}
    made = made.with_document(check_document(both).document)
    with pytest.raises(ZygomorphError, match="Only a piece has a surface"):
        attach(made, "/markers/m", "marker", "n", 0.0, True)
    with pytest.raises(ZygomorphError, match="marker stick there"):
        attach(made, "/pieces/p/recipe/s1", "piece", "p", 0.0, True)
