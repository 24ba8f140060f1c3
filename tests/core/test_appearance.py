"""Looks on a mesh: what goes by value, how looks are blended, and what copies take."""

import numpy as np
import pytest
from scipy.spatial import cKDTree

from tests.api.conftest import read_frame
from tests.conftest import by_height, by_value, document, study, surface
from zygomorph.api.frames import FrameOptions, pack_frame
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import DocumentError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.evaluation.shading import MOST_ON_POINTS, Faults
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.library.looks.surface import DEFINITION
from zygomorph.core.shared.material import Material
from zygomorph.core.values.gradients import gradient_table, parse_hex, to_linear

BALL = {"step": "icosphere", "values": {"halvings": 2, "radius": 0.5}}
CUBE = {"step": "box", "values": {"across": 4, "up": 4, "deep": 4}}
RED, BLUE = (to_linear(parse_hex(each)) for each in ("#ff0000", "#0000ff"))


def drawn(*steps, frame=0.0, **piece):
    made = study(*steps, **piece)
    return Evaluator().drawn(made, Request("p", frame))


def colours(found):
    return found.appearance.colours(len(found.result.mesh.points))


def layer(key, own=None, **more):
    return {"id": "l", "layer": key, "values": own or {}, **more}


def covered(first, second, *layers, blended="points"):
    """A look of one colour, and one of another that covers it by a mask."""
    over = {"id": "over", "look": "surface", "values": second}
    return [
        *surface(**first),
        {**over, "where": {"layers": list(layers), "blended": blended}},
    ]


def test_a_new_piece_is_coloured_by_its_height_through_a_gradient():
    found = drawn(BALL)
    table = to_linear(gradient_table("petal")[:, :3] / 255.0)
    share = found.result.mesh.points[:, 1] + 0.5
    wanted = table[np.round(np.clip(share, 0, 1) * (len(table) - 1)).astype(int)]
    assert colours(found) == pytest.approx(wanted, abs=1e-6)


@pytest.mark.parametrize("axis", [[0, 1, 0], [1, 0, 0], [0.6, 0.0, -0.8]])
def test_any_axis_colours_as_height_does(axis):
    own = {"range": "set", "bottom": -0.5, "top": 0.5, "axis": axis}
    (channel,) = drawn(
        BALL, looks=surface((by_value("colour", "height", own),))
    ).appearance.channels
    mesh = drawn(BALL).result.mesh
    assert channel.shares() == pytest.approx(np.clip(mesh.points @ axis + 0.5, 0, 1), abs=1e-6)


def test_what_needs_no_mask_is_the_same_as_the_mask_gives():
    """The short way of a height, and the long one that a profile makes it take."""
    short = by_height(-0.4, 0.3)
    long = by_height(-0.4, 0.3)
    long["where"]["layers"] += [layer("linear", {"width": 0.001}, strength=0.0) | {"id": "m"}]
    found = [drawn(BALL, looks=surface((each,))).appearance.channels[0] for each in (short, long)]
    assert found[0].shares() == pytest.approx(found[1].shares(), abs=1e-5)


def test_displacement_is_the_distance_from_the_rest_shape():
    up = {"step": "place", "values": {"move": [0, 0.3, 0.4], "turn": [0, 0, 0]}}
    own = {"range": "set", "low": 0.0, "high": 1.0}
    found = drawn(BALL, up, looks=surface((by_value("colour", "displacement", own),)))
    assert found.appearance.channels[0].shares() == pytest.approx(0.5, abs=1e-5)


def test_a_level_tile_has_no_tilt_light_and_a_tilted_one_by_its_angle():
    own = {"most": 90.0}
    for turn in (0.0, 30.0, 75.0):
        step = {"step": "place", "values": {"turn": [turn, 0.0, 0.0]}}
        sheet = {"step": "sheet", "values": {"columns": 2, "rows": 2}}
        found = drawn(sheet, step, looks=surface((by_value("glow", "tilt", own, high=100.0),)))
        lit = found.appearance.amounts(len(found.result.mesh.points), "glow")
        assert lit == pytest.approx(turn / 90, abs=1e-4)


def test_several_layers_multiply_as_those_of_a_mask_do():
    by = by_height(-0.5, 0.5)
    own = {"range": "set", "bottom": -0.5, "top": 0.5, "axis": [1, 0, 0]}
    by["where"]["layers"].append(layer("height", own, profile="linear") | {"id": "m"})
    (channel,) = drawn(BALL, looks=surface((by,))).appearance.channels
    points = drawn(BALL).result.mesh.points
    wanted = (points[:, 1] + 0.5) * (points[:, 0] + 0.5)
    assert channel.shares() == pytest.approx(wanted, abs=1e-5)


def test_an_amount_by_value_goes_from_one_end_of_its_range_to_the_other():
    by = {**by_height(-0.5, 0.5), "id": "roughness", "values": {"low": 10.0, "high": 90.0}}
    found = drawn(BALL, looks=surface((by,)))
    points = found.result.mesh.points
    rough = found.appearance.amounts(len(points), "roughness")
    assert rough == pytest.approx(0.5 + 0.8 * points[:, 1], abs=1e-5)


def test_every_amount_of_the_surface_reaches_its_material():
    values = {"metal": 40.0, "glass": 30.0, "coat": 20.0, "sheen": 10.0, "opacity": 70.0}
    values |= {"glow": 250.0, "roughness": 5.0, "size": 0.02}
    found = drawn(BALL, looks=surface(**values)).appearance.material
    assert (found.metal, found.glass, found.coat, found.sheen) == (0.4, 0.3, 0.2, 0.1)
    assert (found.opacity, found.glow, found.roughness, found.size) == (0.7, 2.5, 0.05, 0.02)
    pixels = drawn(BALL, looks=surface(size_in="pixels", pixels=3.0)).appearance.material
    assert (pixels.size, pixels.on_screen) == (3.0, True)


def test_what_may_go_by_value_is_known_to_renderers():
    amounts = {DEFINITION.amount(n)[0] for n, v in DEFINITION.values.items() if v.by} - {
        "colour",
        "glow_colour",
    }
    assert amounts == {
        "roughness",
        "metal",
        "opacity",
        "glow",
        "glass",
        "coat",
        "sheen",
        "size",
    }


def test_a_look_covers_what_is_under_it_by_its_mask():
    front = layer("linear", {"direction": [1, 0, 0], "width": 0.5}, profile="linear")
    found = drawn(CUBE, looks=covered({"colour": "#ff0000"}, {"colour": "#0000ff"}, front))
    points = found.result.mesh.points
    share = np.clip(0.5 + points[:, :1] / 0.5, 0, 1)
    assert colours(found) == pytest.approx(RED + share * (BLUE - RED), abs=1e-5)


def test_a_look_that_is_off_covers_nothing_and_the_next_is_everywhere():
    looks = covered({"colour": "#ff0000"}, {"colour": "#0000ff"}, layer("ball", {"radius": 0.01}))
    looks[0]["on"] = False
    assert np.unique(colours(drawn(CUBE, looks=looks)), axis=0) == pytest.approx(BLUE[None])
    looks[1]["on"] = False
    assert np.unique(colours(drawn(CUBE, looks=looks)), axis=0) == pytest.approx(RED[None])


def test_whole_faces_end_sharply_and_keep_the_normals():
    """No point has a colour between two, and the surface is lit as if it were not cut."""
    half = layer("linear", {"direction": [1, 0, 0], "width": 0.001}, profile="hard")
    looks = covered({"colour": "#ff0000"}, {"colour": "#0000ff"}, half, blended="faces")
    ball = {"step": "icosphere", "values": {"halvings": 3}}
    found, plain = drawn(ball, looks=looks), drawn(ball)
    pure = np.unique(np.round(colours(found), 6), axis=0)
    assert pure == pytest.approx(np.stack([BLUE, RED]), abs=1e-6)
    assert len(found.result.mesh.points) > len(plain.result.mesh.points)
    faces = found.result.mesh.topology.face_count
    assert faces == plain.result.mesh.topology.face_count
    made, whole = found.result.mesh, plain.result.mesh
    _, nearest = cKDTree(whole.points).query(made.points)
    assert point_normals(made) == pytest.approx(point_normals(whole)[nearest], abs=1e-5)


def test_a_mask_that_a_step_stored_is_read_and_one_that_none_stored_is_told():
    shove = {
        "step": "inflate",
        "values": {"amount": 0.1},
        "where": {"store": "hot", "layers": [layer("linear", {"width": 0.5})]},
    }
    looks = covered({"colour": "#ff0000"}, {"colour": "#0000ff"}, layer("stored", {"name": "hot"}))
    assert len(np.unique(colours(drawn(CUBE, shove, looks=looks)), axis=0)) > 2
    made = study(CUBE, looks=looks)
    evaluator, faults = Evaluator(), Faults()
    geometry = evaluator.evaluate(made, Request("p")).geometry
    shown = evaluator.appearance(made, Request("p"), geometry, faults)
    # The look is left out, the rest is drawn.
    assert len(shown.looks) == 1
    ((address, message, hint),) = faults.told
    assert address == "looks/over"
    assert "hot" in message
    assert hint


def test_a_value_may_move_and_its_frames_are_other_frames():
    cycle = {"signal": "cycle", "low": 0.0, "high": 100.0, "cycles": 1}
    made = study(BALL, looks=surface(roughness=cycle))
    assert any(look.moves for look in plan_piece(made, "p").looks)
    rough = [
        Evaluator().drawn(made, Request("p", frame)).appearance.material.roughness
        for frame in (0.0, 6.0, 12.0, 24.0)
    ]
    assert len(set(np.round(rough, 3))) >= 3
    assert rough[0] == pytest.approx(rough[3])


def test_another_piece_near_by_colours_and_is_part_of_the_frames_name():
    near = by_value("colour", "distance", {"piece": "o", "near": 0.0, "far": 1.0})
    made = document(CUBE, looks=surface((near,)))
    made["pieces"].append({"id": "o", "name": "O", "recipe": [{"id": "f", **BALL}]})
    made["pieces"][1]["place"] = {"move": [1.0, 0, 0]}
    one = check_document(made)
    other = {**made, "pieces": [made["pieces"][0], {**made["pieces"][1], "place": {}}]}
    two = check_document(other)
    assert piece_key(one, "p", False) != piece_key(two, "p", False)
    # What a look reads makes no circle: the other may be draped over this one.
    onto = {"id": "d", "step": "drape", "values": {"piece": "p"}}
    made["pieces"][1]["recipe"].append(onto)
    found = Evaluator().drawn(check_document(made), Request("p")).appearance.channels[0]
    assert found.shares().max() > found.shares().min()


def test_copies_have_a_value_each_or_that_of_each_of_their_points():
    row = {"step": "row", "values": {"count": 5, "move": [0.0, 1.0, 0.0]}}
    by_order = by_value("colour", "order", {"way": "rises"})
    found = drawn(CUBE, row, looks=surface((by_order,)))
    header, blocks = read_frame(pack_frame("p", found, FrameOptions(0.0)))
    assert header["look"]["channels"] == [{"on": "copies", "slot": 0}]
    assert blocks["copy_values"] / 65535 == pytest.approx([0, 0.25, 0.5, 0.75, 1], abs=1e-4)
    tall = drawn(CUBE, row, looks=surface((by_height(-2.0, 2.0),)))
    header, _ = read_frame(pack_frame("p", tall, FrameOptions(0.0)))
    assert header["look"]["channels"][0]["on"] == "slope"
    # Files have one colour for each copy: that of the place where it is.
    of_copies = tall.appearance.of_copies()
    assert of_copies.channels[0].shares() == pytest.approx([0, 0.25, 0.5, 0.75, 1], abs=1e-5)


def test_what_faces_the_viewer_is_sent_to_be_found_by_the_viewer():
    facing = layer("facing", {"against": "viewer", "angle": 90.0}, profile="linear")
    opacity = {"id": "opacity", "values": {"low": 10.0, "high": 90.0}}
    opacity["where"] = {"layers": [facing, layer("noise") | {"id": "n"}]}
    found = drawn(BALL, looks=surface((opacity,)))
    header, blocks = read_frame(pack_frame("p", found, FrameOptions(0.0)))
    below, seen = header["look"]["channels"]
    # The one that goes by the view is last: multiplied, it is the same.
    assert below == {"on": "points", "slot": 0}
    assert (seen["on"], seen["below"], seen["mode"]) == ("facing", 0, "multiply")
    assert seen["low"] == pytest.approx(0.0, abs=1e-6)
    assert blocks["tables"][0].tolist() == pytest.approx(np.linspace(0, 255, 64), abs=1)
    # The camera is not part of its name then.
    near = {"id": "c", "name": "C", "camera": "perspective", "values": {"position": [0, 0, 9]}}
    made = document(BALL, looks=surface((opacity,)))
    here, there = (check_document(made | more) for more in ({}, {"cameras": [near]}))
    assert piece_key(here, "p", False) == piece_key(there, "p", False)


def test_more_than_a_viewer_takes_is_left_out_and_told():
    by = [by_height(-0.5, 0.5)]
    names = ["roughness", "metal", "glow", "glass", "opacity", "coat", "sheen", "size"]
    by += [{**by_height(-0.5, 0.5), "id": name, "values": {}} for name in names]
    looks = [*surface(tuple(by)), *covered({}, {}, layer("linear"))[1:]]
    made, faults = study(BALL, looks=looks), Faults()
    evaluator = Evaluator()
    geometry = evaluator.evaluate(made, Request("p")).geometry
    shown = evaluator.appearance(made, Request("p"), geometry, faults)
    assert sum(channel.on == "points" for channel in shown.channels) == MOST_ON_POINTS
    assert len(faults.told) == 1


def test_further_channels_are_columns_of_bytes():
    by = (by_height(-0.5, 0.5), {**by_height(0.5, -0.5), "id": "metal", "values": {}})
    found = drawn(BALL, looks=surface(by))
    header, blocks = read_frame(pack_frame("p", found, FrameOptions(0.0)))
    assert [channel["slot"] for channel in header["look"]["channels"]] == [0, 1]
    assert blocks["channels"].shape == (162, 4)
    rising = blocks["points"][:, 3] / 65535
    assert blocks["channels"][:, 0] / 255 == pytest.approx(1 - rising, abs=3e-3)
    assert not blocks["channels"][:, 1:].any()


def test_a_plain_material_is_that_of_the_default_look():
    plain = drawn(BALL, looks=surface()).appearance.material
    assert plain == Material(glow_colour="#ffb45c", tint_depth=0.5)


def test_speed_is_that_of_the_points_on_the_stage():
    """1 m in 24 frames at 24 a second is 1 m/s, whether the piece moves or its points do."""
    way = {"signal": "keys", "keys": [{"frame": 0, "value": 0.0}, {"frame": 24, "value": 1.0}]}
    looks = surface((by_value("colour", "speed", {"low": 0.0, "high": 2.0}),))
    moved = study(BALL, looks=looks, place={"move": [way, 0, 0]})
    pushed = study(BALL, {"step": "place", "values": {"move": [way, 0, 0]}}, looks=looks)
    for made in (moved, pushed):
        (channel,) = Evaluator().drawn(made, Request("p", 12.0)).appearance.channels
        assert channel.shares() == pytest.approx(0.5, abs=1e-3)
        assert any(look.moves for look in plan_piece(made, "p").looks)
    still = Evaluator().drawn(study(BALL, looks=looks), Request("p", 12.0))
    assert not still.appearance.channels[0].shares().any()


def test_speed_is_known_to_looks_only():
    mask = {"layers": [layer("speed")]}
    with pytest.raises(DocumentError) as caught:
        study(BALL, {"step": "inflate", "where": mask})
    assert "/pieces/0/recipe/1/where/layers/0" in caught.value.problems[0][0]
