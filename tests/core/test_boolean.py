"""Boolean: what is kept, what is marked, what is refused; both pieces may move."""

import numpy as np
import pytest

from tests.conftest import volume
from tests.random_values import made_of
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 4}}
BOX = {"step": "box", "values": {"size": [1, 1, 1]}}
SHEET = {"step": "sheet", "values": {"width": 2.0, "depth": 2.0, "columns": 20, "rows": 20}}
PASSING = {"signal": "cycle", "shape": "saw", "low": -2.0, "high": 2.0}


def boolean(where=None, **values):
    step = {"step": "boolean", "values": {"piece": "o", "band": 0.1, **values}}
    return step | ({"where": {"layers": [where]}} if where else {})


def cutter(form=BOX, **place):
    return {"id": "o", "name": "Block", "place": place, "recipe": [{"id": "f", **form}]}


def made(*steps, other=None, frame=0.0):
    study = made_of(*steps, other=other or cutter(move=[0.5, 0.5, 0.5]))
    return Evaluator().evaluate(study, Request("p", frame)).mesh


def test_faces_that_the_cut_makes_are_marked_and_lie_on_the_other_piece():
    mesh = made(BALL, boolean())
    cut = mesh.get("face", MASK + "cut") == 1
    used = np.unique(mesh.topology.corners[cut[mesh.topology.corner_face]])
    # The block begins at 0 each way.
    assert cut.any()
    assert np.abs(mesh.points[used]).min(axis=1).max() < 1e-5
    assert mesh.topology.closed


def test_the_band_is_1_on_the_cut_and_0_away_from_it():
    mesh = made(BALL, boolean())
    band = mesh.get("point", MASK + "band")
    inside = mesh.points.min(axis=1)
    on_cut = (np.abs(inside) < 1e-5) & (np.linalg.norm(mesh.points, axis=1) > 0.49)
    assert band[on_cut] == pytest.approx(np.ones(on_cut.sum()), abs=0.1)
    assert band[np.linalg.norm(mesh.points + 0.5, axis=1) < 0.5].max() == 0
    half = np.abs(band - 0.5) < 0.05
    distance = np.abs(mesh.points[half]).min(axis=1)
    assert half.any()
    assert distance.max() < 0.11


def test_before_the_block_has_come_nothing_is_changed_exactly():
    whole = made(BALL)
    study = made_of(BALL, boolean(), other=cutter(move=[PASSING, 0, 0]))
    before = Evaluator().evaluate(study, Request("p", 0.0)).mesh
    assert before.points.tobytes() == whole.points.tobytes()
    assert before.topology.digest == whole.topology.digest
    assert before.get("face", MASK + "cut").max() == 0
    halfway = Evaluator().evaluate(study, Request("p", 12.0)).mesh
    assert volume(halfway) < 0.5 * volume(whole)


def test_where_the_block_is_nothing_is_left():
    assert (
        len(
            made(
                BALL, boolean(), other=cutter({"step": "box", "values": {"size": [3, 3, 3]}})
            ).points
        )
        == 0
    )


def test_polygons_that_are_not_cut_stay_what_they_are():
    mesh = made(BOX, boolean())
    assert (np.diff(mesh.topology.face_starts) == 4).sum() > 1500


def test_an_open_sheet_is_cut_as_a_surface():
    inside = made(SHEET, boolean(keep="inside"), other=cutter(move=[0.3, 0, 0.2]))
    outside = made(SHEET, boolean(), other=cutter(move=[0.3, 0, 0.2]))

    def area(mesh):
        corners = mesh.points.astype(float)[mesh.topology.drawn_triangles]
        sides = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        return np.linalg.norm(sides, axis=1).sum() / 2

    assert area(inside) == pytest.approx(1.0, rel=1e-4)
    assert area(outside) == pytest.approx(3.0, rel=1e-4)
    assert inside.points.min(axis=0) == pytest.approx([-0.2, 0, -0.3], abs=1e-4)
    assert inside.get("point", MASK + "band").max() > 0.99
    assert np.abs(inside.points[:, 1]).max() < 1e-6


def test_shards_are_cut_one_by_one_and_each_stays_closed():
    shards = {"step": "fracture", "values": {"count": 10, "gap": 0.0}}
    mesh = made(BOX, shards, boolean())
    assert mesh.topology.closed
    assert volume(mesh) == pytest.approx(1 - 0.125, rel=1e-5)
    assert 7 <= mesh.count("shard") <= 10
    right = {
        "id": "l",
        "layer": "linear",
        "profile": "hard",
        "values": {"direction": [1, 0, 0], "position": [0.1, 0, 0], "width": 0.001},
    }
    some = made(BOX, shards, boolean(right))
    assert 1 - 0.125 < volume(some) < 1


def test_a_cut_at_rest_bends_with_the_surface():
    twist = {"step": "twist", "values": {"angle": {"signal": "cycle", "low": 0.0, "high": 90.0}}}
    rest, now = ([BOX, twist, boolean(cut=cut)] for cut in ("rest", "now"))
    assert made(*rest).topology.digest == made(*rest, frame=6.0).topology.digest
    assert made(*now).topology.digest != made(*now, frame=6.0).topology.digest
    assert made(*rest, frame=6.0).topology.closed


def test_joined_pieces_are_one_closed_surface_with_the_marks_of_both():
    mesh = made(BALL, boolean(keep="join"))
    assert mesh.topology.closed
    assert volume(mesh) == pytest.approx(
        volume(made(BALL)) + 1 - volume(made(BALL, boolean(keep="inside"))), rel=1e-5
    )


def test_a_piece_without_an_inside_is_refused_with_what_helps():
    with pytest.raises(StepError, match="The other piece is open: 80 edges") as error:
        made(BALL, boolean(), other=cutter(SHEET))
    assert "Close it first" in error.value.hint
    with pytest.raises(StepError, match="is open"):
        made(SHEET, boolean(keep="join"))
    with pytest.raises(StepError, match="no shards"):
        made(BALL, boolean({"id": "l", "layer": "noise"}))


def test_the_heat_of_an_earlier_mask_follows_through_the_cut():
    front = {"layers": [{"id": "l", "layer": "linear", "values": {"direction": [0, 1, 0]}}]}
    study = made_of(
        BALL, {"id": "m", "step": "inflate", "values": {"amount": 0.0}, "where": front}, boolean()
    )
    found = Evaluator().evaluate(study, Request("p", 0.0, mask_of="m"))
    assert len(found.weights) == len(found.mesh.points)


def test_what_stands_still_is_cut_as_what_is_made_anew():
    moving = cutter(move=[PASSING, 0.3, 0.2])
    study, kept = made_of(BALL, boolean(), other=moving), Evaluator()
    for frame in (8.0, 11.0, 8.0):
        again = kept.evaluate(study, Request("p", frame)).mesh
        fresh = Evaluator().evaluate(study, Request("p", frame)).mesh
        assert again.points.tobytes() == fresh.points.tobytes()
        assert again.topology.digest == fresh.topology.digest


def edge_of(mesh):
    """(n, 3) points of the border of what a block left of a sheet, in the order of x."""
    rim = mesh.points[mesh.topology.edges[np.bincount(mesh.topology.side_edges) == 1].ravel()]
    inner = rim[(np.abs(rim[:, [0, 2]]) < 0.99).all(axis=1)]
    return inner[np.argsort(inner[:, 2])]


@pytest.mark.parametrize(("sampled", "flows"), [("piece", False), ("space", True)])
def test_a_block_whose_noise_is_sampled_in_space_has_an_edge_that_flows_as_it_moves(sampled, flows):
    keys = [{"frame": 0, "value": -3.1}, {"frame": 20, "value": 0.0}]
    block = cutter(move=[{"signal": "keys", "keys": keys}, 0, 0])
    block["recipe"] = [
        {"id": "f", "step": "box", "values": {"size": [2.4, 0.6, 2.6], "across": 40, "deep": 40}},
        {
            "id": "n",
            "step": "displace",
            "values": {"amount": 0.12, "size": 0.5, "sampled": sampled},
        },
    ]
    study, kept = made_of(SHEET, boolean(keep="outside"), other=block), Evaluator()
    whole = made(SHEET)
    before = kept.evaluate(study, Request("p", 0.0)).mesh
    assert before.points.tobytes() == whole.points.tobytes()
    assert len(kept.evaluate(study, Request("p", 20.0)).mesh.points) == 0
    profiles = []
    for frame in (10.0, 12.0):
        rim = edge_of(kept.evaluate(study, Request("p", frame)).mesh)
        x = np.interp(np.linspace(-0.9, 0.9, 40), rim[:, 2], rim[:, 0])
        profiles.append(x - x.mean())
    # The edge is ragged at both frames; in space its form changes on the way.
    assert min(np.ptp(p) for p in profiles) > 0.04
    change = float(np.abs(profiles[0] - profiles[1]).max())
    assert change > 0.03 if flows else change < 0.01
