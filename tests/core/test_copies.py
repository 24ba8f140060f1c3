"""Copies: where they are, what deformers, masks and formulas do to them, and when they are real."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from tests.conftest import study
from zygomorph.core.budget import budget
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import MASK
from zygomorph.core.inspect.formula_plot import plot_formula
from zygomorph.core.inspect.picking import Ray, pick
from zygomorph.core.inspect.seam import seam
from zygomorph.core.inspect.table import table_of

BOX = {"step": "box", "values": {"size": [0.4, 0.4, 0.4], "across": 1, "up": 1, "deep": 1}}
CYCLE = {"signal": "cycle", "shape": "sine", "low": -0.5, "high": 0.5}


def row(count=5, **values):
    own = {"count": count, "move": [1.0, 0.0, 0.0], "centred": False, **values}
    return {"step": "row", "values": own}


def found(*steps, frame=0.0, evaluator=None, **request):
    document = study(*steps, frames=24)
    return (evaluator or Evaluator()).evaluate(document, Request("p", frame, **request))


def copies(*steps, **more):
    table = found(*steps, **more).geometry.copies
    assert table is not None
    return table


def layer(**values):
    return {"id": "l", "layer": "linear", "profile": "hard", "values": values}


LEFT = layer(direction=[-1, 0, 0], position=[2, 0, 0], width=0.001)


def test_a_row_is_one_mesh_and_a_table():
    result = found(BOX, row(5))
    geometry = result.geometry
    assert len(geometry.bases) == 1
    assert geometry.copies.centres[:, 0].tolist() == [0, 1, 2, 3, 4]
    assert (geometry.point_count, geometry.face_count, result.whole) == (40, 30, 40)
    assert result.low == pytest.approx([-0.2, -0.2, -0.2])
    assert result.high == pytest.approx([4.2, 0.2, 0.2])
    report = result.steps[-1]
    assert (report.points, report.faces, report.copies) == (40, 30, 5)


def test_moves_turns_and_sizes_add_up():
    made = copies(BOX, row(4, move=[0, 0.5, 0], turn=[0, 30, 0], size=50.0)).placements
    for k in range(4):
        expected = Rotation.from_euler("xyz", [0, 30 * k, 0], degrees=True).as_matrix() * 0.5**k
        assert np.allclose(made[k, :, :3], expected, atol=1e-6)
        assert np.allclose(made[k, :, 3], [0, 0.5 * k, 0], atol=1e-6)


@settings(max_examples=25)
@given(
    st.integers(1, 40),
    st.lists(st.floats(-1, 1), min_size=3, max_size=3),
    st.lists(st.floats(-90, 90), min_size=3, max_size=3),
    st.floats(80, 120),
)
def test_a_chain_is_the_same_step_again_and_again(count, move, turn, size):
    made = copies(BOX, row(count, move=move, turn=turn, size=size, way="chain")).placements
    step = np.eye(4)
    step[:3, :3] = Rotation.from_euler("xyz", turn, degrees=True).as_matrix() * size / 100
    step[:3, 3] = move
    at = np.eye(4)
    for k in range(count):
        assert np.allclose(made[k], at[:3], atol=1e-3 * max(1, np.abs(at).max()))
        at = at @ step


def test_a_centred_row_has_its_middle_at_the_origin():
    assert copies(BOX, row(4, centred=True)).centres[:, 0].tolist() == [-1.5, -0.5, 0.5, 1.5]


def test_a_chain_that_goes_round_is_centred_on_its_middle():
    turned = row(12, turn=[0, 30, 0], way="chain", centred=True)
    away = np.linalg.norm(copies(BOX, turned).centres, axis=1)
    # The corners of a polygon of twelve sides of 1 m (textbook).
    assert away == pytest.approx(0.5 / np.sin(np.pi / 12), abs=1e-4)


def test_written_out_it_is_the_meshes_one_after_the_other():
    mesh = found(BOX, row(3, turn=[0, 45, 0], size=50.0)).mesh
    base = found(BOX).mesh
    made = copies(BOX, row(3, turn=[0, 45, 0], size=50.0)).placements
    expected = [base.points @ p[:, :3].T + p[:, 3] for p in made]
    assert np.allclose(mesh.points, np.concatenate(expected), atol=1e-6)
    assert mesh.topology.closed
    assert mesh.topology.face_count == 18
    assert mesh.get("face", "shard").tolist() == np.repeat([0, 1, 2], 6).tolist()
    assert mesh.get("corner", "uv").shape == (72, 2)


def test_copies_of_copies_are_a_grid():
    made = copies(BOX, row(3), row(4, move=[0, 0, 2.0]))
    assert len(made) == 12
    expected = [[x, 0, z] for z in (0, 2, 4, 6) for x in (0, 1, 2)]
    assert made.centres.tolist() == expected
    assert made.ids.tolist() == list(range(12))


def test_a_twist_carries_copies_as_wholes():
    twist = {"step": "twist", "values": {"angle": 90.0, "axis": [1, 0, 0]}}
    before, after = (
        copies(BOX, row(5, move=[1, 0.3, 0])),
        copies(BOX, row(5, move=[1, 0.3, 0]), twist),
    )
    assert np.abs(after.centres - before.centres).max() > 0.1
    assert np.array_equal(after.placements[:, :, :3], before.placements[:, :, :3])
    # What becomes of the centres is what becomes of points.
    from_points = found(
        {"step": "line", "values": {"begin": [0, 0, 0], "end": [4, 1.2, 0], "count": 5}}, twist
    ).mesh.points
    assert np.allclose(after.centres, from_points, atol=1e-5)


def test_tilted_they_lean_as_the_wave_slopes():
    wave = {
        "step": "wave",
        "values": {"amplitude": 0.2, "wavelength": 4.0, "direction": [1, 0, 0]},
        "where": {"moves": "tilted"},
    }
    made = copies(BOX, row(9, move=[0.5, 0, 0]), wave)
    linear = made.placements[:, :, :3]
    assert np.allclose(np.linalg.det(linear), 1, atol=1e-4)
    assert np.allclose(linear @ linear.transpose(0, 2, 1), np.eye(3), atol=1e-4)
    up = linear[:, :, 1]
    height = made.centres[:, 1]
    slope = np.gradient(height, made.centres[:, 0])
    assert np.allclose(-up[1:-1, 0] / up[1:-1, 1], slope[1:-1], atol=0.08)


def test_place_turns_and_sizes_each_with_the_row():
    place = {"step": "place", "values": {"turn": [0, 90, 0], "scale": [2, 2, 2], "centre": [0] * 3}}
    made = copies(BOX, row(3), place)
    assert np.allclose(made.centres, [[0, 0, 0], [0, 0, -2], [0, 0, -4]], atol=1e-5)
    turned = Rotation.from_euler("y", 90, degrees=True).as_matrix() * 2
    assert np.allclose(made.placements[:, :, :3], turned, atol=1e-4)


def test_a_step_may_act_on_what_is_copied():
    inflate = {"step": "inflate", "values": {"amount": 0.1}, "where": {"moves": "bases"}}
    one, other = found(BOX, row()), found(BOX, row(), inflate)
    assert np.array_equal(one.geometry.copies.placements, other.geometry.copies.placements)
    alone = found(BOX, {"step": "inflate", "values": {"amount": 0.1}}).mesh
    assert np.array_equal(other.geometry.mesh.points, alone.points)


def test_on_points_a_bend_goes_through_all_copies_and_makes_them_real():
    bend = {"step": "bend", "values": {"angle": 90.0}, "where": {"moves": "points"}}
    geometry = found(BOX, row(), bend).geometry
    assert geometry.copies is None
    assert geometry.point_count == 40


def test_beyond_the_budget_it_says_the_count_and_the_way_out():
    bend = {"step": "bend", "where": {"moves": "points"}}
    with budget(20_000_000), pytest.raises(StepError) as error:
        found({"step": "icosphere", "values": {"halvings": 3}}, row(1000), bend)
    assert "642,000 points" in error.value.message
    assert "as wholes" in error.value.hint
    with budget(20_000_000), pytest.raises(StepError, match="1,000,000 copies"):
        found(BOX, row(1_000_000))


def test_subdivided_copies_stay_copies():
    geometry = found(BOX, row(), {"step": "subdivide"}).geometry
    assert len(geometry.copies) == 5
    assert geometry.mesh.topology.face_count == 24


def test_a_mask_is_read_on_copies():
    push = {"step": "inflate", "values": {"amount": 1.0}, "where": {"layers": [LEFT]}}
    result = found(BOX, row(), push, mask_of="s2")
    assert result.weighed == "copies"
    assert result.weights.round().tolist() == [1, 1, 0.5, 0, 0] or len(result.weights) == 5
    heights = result.geometry.copies.centres[:, 1]
    assert np.allclose(heights, result.weights)


def test_where_the_mask_of_a_row_is_nothing_copies_have_no_size():
    made = copies(BOX, row() | {"where": {"layers": [LEFT]}})
    sizes = np.linalg.norm(made.placements[:, :, 0], axis=1)
    assert sizes[:2].tolist() == [1, 1]
    assert sizes[3:].tolist() == [0, 0]
    # Where they stand stays, so that counts do not change while a front passes.
    assert made.centres[:, 0].tolist() == [0, 1, 2, 3, 4]


def test_masks_stored_on_copies_are_found_by_later_steps_and_by_their_points():
    store = {
        "step": "inflate",
        "values": {"amount": 0.0},
        "where": {"layers": [LEFT], "store": "m"},
    }
    use = {"id": "u", "layer": "stored", "values": {"name": "m"}}
    lift = {"step": "inflate", "values": {"amount": 1.0}, "where": {"layers": [use]}}
    made = copies(BOX, row(), store, lift)
    assert np.allclose(made.centres[:, 1], made.attributes[MASK + "m"])
    real = found(BOX, row(), store).mesh.get("point", MASK + "m")
    assert np.array_equal(
        real.reshape(5, 8), np.repeat(made.attributes[MASK + "m"], 8).reshape(5, 8)
    )


def test_values_are_spread_and_staggered_over_copies():
    spread = {"by": "order", "over": "copies", "to": {"value": 1.0}}
    lift = {
        "step": "inflate",
        "values": {"amount": {"signal": "hold", "value": 0.0, "spread": spread}},
    }
    assert copies(BOX, row(), lift).centres[:, 1] == pytest.approx([0, 0.25, 0.5, 0.75, 1.0])
    late = {**CYCLE, "stagger": {"by": "order", "over": "copies", "delay": 0.5}}
    lift = {"step": "inflate", "values": {"amount": late}}
    heights = copies(BOX, row(), lift).centres[:, 1]
    # The last is half a loop later than the first.
    later = copies(BOX, row(), lift, frame=12.0).centres[:, 1]
    assert heights[-1] == pytest.approx(later[0], abs=1e-6)


@pytest.mark.parametrize("elements", ["points", "copies", "shards"])
def test_a_formula_counts_copies(elements):
    lift = {
        "step": "formula",
        "values": {"writes": "offset", "elements": elements, "offset": "i / n"},
    }
    assert copies(BOX, row(), lift).centres[:, 1] == pytest.approx([0, 0.2, 0.4, 0.6, 0.8])


def test_a_formula_sizes_and_turns_each_copy():
    size = {"step": "formula", "values": {"writes": "size", "of": "copies", "size": "1 + i"}}
    made = copies(BOX, row(4), size)
    assert np.linalg.norm(made.placements[:, :, 1], axis=1) == pytest.approx([1, 2, 3, 4], rel=1e-4)
    assert made.centres[:, 0] == pytest.approx([0, 1, 2, 3])
    turn = {"step": "formula", "values": {"writes": "turn", "of": "copies", "turn": "90 * i"}}
    made = copies(BOX, row(4), turn)
    for k in range(4):
        expected = Rotation.from_euler("y", 90 * k, degrees=True).as_matrix()
        assert np.allclose(made.placements[k, :, :3], expected, atol=1e-3)


def test_copies_asked_for_where_there_are_none_are_explained():
    read = {**LEFT, "read": "copies"}
    with pytest.raises(StepError, match="no copies here"):
        found(BOX, {"step": "inflate", "where": {"layers": [read]}})


def test_a_remembering_mask_works_on_copies():
    across = {
        "signal": "keys",
        "keys": [{"frame": 0, "value": -1, "ease": "linear"}, {"frame": 24, "value": 5}],
    }
    ball = {
        "id": "b",
        "layer": "ball",
        "profile": "hard",
        "memory": "stays",
        "values": {"centre": [across, 0, 0], "radius": 0.4, "softness": 0.01},
    }
    lift = {"step": "inflate", "values": {"amount": 1.0}, "where": {"layers": [ball]}}
    assert copies(BOX, row(), lift, frame=12.0).centres[:, 1] == pytest.approx([1, 1, 1, 0, 0])


def test_another_piece_takes_copies_as_they_are():
    document = study({"step": "piece", "values": {"piece": "o"}}).document
    other = {"id": "o", "name": "Other", "recipe": [{"id": "f", **BOX}, {"id": "r", **row()}]}
    from zygomorph.core.document.study import check_document

    whole = check_document({**document, "pieces": [*document["pieces"], other]})
    geometry = Evaluator().evaluate(whole, Request("p")).geometry
    assert len(geometry.copies) == 5


def test_the_seam_of_a_row_that_moves_is_closed_and_of_one_that_does_not_return_open():
    turning = {"signal": "cycle", "shape": "saw", "low": 0, "high": 360}
    assert (
        seam(study(BOX, row(turn=[0, turning, 0]), frames=24), "p", Evaluator()).state == "closed"
    )
    short = {"signal": "cycle", "shape": "saw", "low": 0, "high": 300}
    assert seam(study(BOX, row(turn=[0, short, 0]), frames=24), "p", Evaluator()).state == "open"


def test_all_things_of_a_geometry_are_in_its_box():
    result = found(BOX, row(7, turn=[10, 20, 30], size=90.0, way="chain"))
    points = result.mesh.points
    assert (points >= result.low - 1e-5).all()
    assert (points <= result.high + 1e-5).all()


def test_some_copies_stand_for_all():
    geometry = found(BOX, row(1000)).geometry
    some = geometry.some(800)
    assert isinstance(some, Geometry)
    assert some.point_count <= 800
    assert some.copies.centres[[0, -1], 0].tolist() == [0, 999]


def test_the_table_has_a_row_for_each_copy():
    geometry = found(BOX, row(3, turn=[0, 40, 0], size=50.0)).geometry
    columns = table_of(geometry, "copy").columns
    assert columns["x"].values.tolist() == [0, 1, 2]
    assert columns["size y"].values == pytest.approx([1, 0.5, 0.25])
    assert columns["turn y"].values == pytest.approx([0, 40, 80], abs=1e-3)
    assert columns["moved"].values.tolist() == [0, 0, 0]
    assert len(table_of(geometry, "point")) == 24
    assert len(table_of(found(BOX).geometry, "copy")) == 0


def test_copies_are_picked_by_their_surface():
    document = study(
        BOX,
        row(5),
        {
            "step": "inflate",
            "where": {
                "layers": [{"id": "l", "layer": "picked", "values": {"of": "copies", "picked": []}}]
            },
        },
    )
    ray = Ray(np.array([2.05, 5.0, 0.02]), np.array([0.0, -1.0, 0.0]))
    runs, count = pick(Evaluator(), document, "p", "s2", "copies", ray)
    assert (runs, count) == ([[2, 1]], 1)
    picked = {"id": "l", "layer": "picked", "values": {"of": "copies", "picked": runs}}
    lift = {"step": "inflate", "values": {"amount": 1.0}, "where": {"layers": [picked]}}
    assert copies(BOX, row(), lift).centres[:, 1] == pytest.approx([0, 0, 1, 0, 0])


def test_the_plot_of_a_formula_is_over_copies():
    values = {"writes": "offset", "elements": "copies", "offset": "i"}
    document = study(BOX, row(5), {"step": "formula", "values": values})
    plot = plot_formula(Evaluator(), document, "p", "s2", "i / n", 0.0)
    assert plot.count == 5


def test_the_mask_of_a_row_remembers_on_the_copies_that_it_makes():
    keys = [{"frame": 0, "value": -1, "ease": "linear"}, {"frame": 24, "value": 5}]
    ball = {
        "id": "b",
        "layer": "ball",
        "profile": "hard",
        "memory": "stays",
        "values": {
            "centre": [{"signal": "keys", "keys": keys}, 0, 0],
            "radius": 0.4,
            "softness": 0.01,
        },
    }
    evaluator = Evaluator()
    made = copies(BOX, row() | {"where": {"layers": [ball]}}, frame=12.0, evaluator=evaluator)
    assert made.placements[:, 0, 0] == pytest.approx([1, 1, 1, 0, 0])
    # With more of them, closer together, others have been reached.
    closer = row(9, move=[0.5, 0, 0]) | {"where": {"layers": [ball]}}
    made = copies(BOX, closer, frame=12.0, evaluator=evaluator)
    assert made.placements[:, 0, 0] == pytest.approx([1, 1, 1, 1, 1, 0, 0, 0, 0])
