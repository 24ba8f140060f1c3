"""Frames and topologies over HTTP, as docs/wire.md describes them."""

import numpy as np
import pytest

from tests.api.actions import AMOUNT, edit, frame_url, set_value
from tests.api.conftest import read_frame
from tests.conftest import by_value, document, surface
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.decimation import left_of
from zygomorph.core.geometry.normals import point_normals


def test_a_frame_holds_the_evaluators_points_and_normals(client, sample):
    header, blocks = read_frame(client.get(frame_url(sample, 7, exact=True)).data)
    truth = Evaluator().evaluate(Study(sample["document"]), Request("p", 7))
    assert np.array_equal(blocks["exact"], truth.mesh.points)
    low, high = np.array(header["low"]), np.array(header["high"])
    decoded = low + blocks["points"][:, :3] / 65535 * (high - low)
    assert np.abs(decoded - truth.mesh.points).max() <= (high - low).max() / 65535
    u, v = (blocks["normals"] / 32767).T
    normal = np.stack([u, v, 1 - abs(u) - abs(v)], axis=1)
    fold = normal[:, 2] < 0
    normal[fold, :2] = (1 - np.abs(normal[fold, 1::-1])) * np.where(normal[fold, :2] >= 0, 1, -1)
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    assert np.einsum("ij,ij->i", normal, point_normals(truth.mesh)).min() > 0.99999


def topology_of(client, header):
    """What the frames that name a topology have in common."""
    return read_frame(client.get(f"/api/topologies/{header['topology']}").data)


def test_frames_name_a_topology_that_is_fetched_by_itself(client, sample):
    header, blocks = read_frame(client.get(frame_url(sample)).data)
    assert not {"triangles", "edges", "segments"} & blocks.keys()
    answer = client.get(f"/api/topologies/{header['topology']}")
    assert "immutable" in answer.headers["Cache-Control"]
    own, faces = read_frame(answer.data)
    assert own["topology"] == header["topology"]
    assert own["closed"] is True
    assert faces["triangles"].shape == (320, 3)
    assert faces["edges"].shape == (480, 2)
    later, _ = read_frame(client.get(frame_url(sample, 1)).data)
    assert later["topology"] == header["topology"]


def test_a_topology_that_is_not_known_says_what_brings_it_back(client):
    answer = client.get(f"/api/topologies/{'0' * 24}")
    assert answer.status_code == 404
    assert "Ask for the frame again" in answer.json["error"]["hint"]
    assert client.get("/api/topologies/nonsense").status_code == 422


def test_a_hexagon_is_a_fan(client):
    tiles = {"step": "tiling", "values": {"kind": "hexagon", "columns": 2, "rows": 2}}
    header, _ = frames_of(client, tiles)
    _, faces = topology_of(client, header)
    assert faces["triangles"][:4].tolist() == [[0, 1, 2], [0, 2, 3], [0, 3, 4], [0, 4, 5]]


def frames_of(client, *steps, **query):
    """Header and blocks of a frame of a new study, which is made of these steps."""
    state = client.post("/api/studies", json={"document": document(*steps)}).json
    return read_frame(client.get(frame_url(state, 0, **query)).data)


BOX = {"step": "box", "values": {"size": [0.4, 0.4, 0.4], "across": 1, "up": 1, "deep": 1}}


def row(count, **values):
    return {
        "step": "row",
        "values": {"count": count, "move": [1.0, 0.5, 0], "centred": False, **values},
    }


def test_copies_travel_as_one_base_and_a_table(client):
    header, blocks = frames_of(client, BOX, row(5, turn=[0, 30, 0], size=80.0))
    table, (base,) = header["copies"], header["copies"]["bases"]
    assert (table["count"], base["count"], base["points"]) == (5, 5, 24)
    assert (header["points"], header["faces"]) == (40, 30)
    assert blocks["0/points"].shape == (24, 4)
    assert "points" not in blocks
    rows = blocks["placements"].reshape(5, 3, 4) / 32767
    linear = rows[:, :, :3] * table["linear"]
    places = np.array(table["middle"]) + rows[:, :, 3] * np.array(table["half"])
    assert np.allclose(places, [[k, 0.5 * k, 0] for k in range(5)], atol=2e-4)
    for k in range(5):
        c, s = np.cos(np.radians(30 * k)), np.sin(np.radians(30 * k))
        expected = np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]]) * 0.8**k
        assert np.allclose(linear[k], expected, atol=2e-4)
    low, high = np.array(base["low"]), np.array(base["high"])
    decoded = low + blocks["0/points"][:, :3] / 65535 * (high - low)
    assert np.allclose(np.abs(decoded), 0.2, atol=1e-5)


def test_the_mask_of_copies_is_one_byte_each_and_that_of_their_base_one_a_point(client):
    front = {
        "id": "l",
        "layer": "linear",
        "profile": "hard",
        "values": {"direction": [1, 0, 0], "position": [2.1, 0, 0], "width": 0.001},
    }
    push = {"step": "inflate", "where": {"layers": [front]}}
    _, blocks = frames_of(client, BOX, row(5), push, mask_of="s2")
    assert blocks["copy_mask"].tolist() in ([255, 255, 255, 0, 0], [0, 0, 0, 255, 255])
    push = {"step": "inflate", "where": {"layers": [front], "moves": "bases"}}
    _, blocks = frames_of(client, BOX, row(5), push, mask_of="s2")
    assert blocks["0/mask"].shape == (24,)
    assert "copy_mask" not in blocks


def test_copies_are_coloured_by_height_in_the_viewer_and_by_displacement_here(client):
    header, blocks = frames_of(client, BOX, row(3))
    (channel,) = header["look"]["channels"]
    assert channel == {"on": "slope", "axis": [0, 1, 0], "low": -0.5, "high": 0.5}
    own = {"range": "set", "low": 0.0, "high": 1.0}
    look = surface((by_value("colour", "displacement", own),))
    lift = {"step": "inflate", "values": {"amount": 0.5}}
    state = client.post("/api/studies", json={"document": document(BOX, row(3), lift, looks=look)})
    header, blocks = read_frame(client.get(frame_url(state.json, 0)).data)
    assert header["look"]["channels"] == [{"on": "copies", "slot": 0}]
    assert blocks["copy_values"] / 65535 == pytest.approx([0.5] * 3, abs=1e-4)


def test_copies_of_curves_are_written_out_for_the_viewer(client):
    circle = {"step": "circle", "values": {"count": 5}}
    header, blocks = frames_of(client, circle, row(3))
    assert header["copies"] is None
    assert (header["points"], len(blocks["points"])) == (15, 15)
    _, curves = topology_of(client, header)
    assert len(curves["segments"]) == 15


def test_curves_are_sent_as_the_segments_that_join_their_points(client):
    header, blocks = frames_of(client, {"step": "circle", "values": {"count": 5}})
    assert (header["points"], header["faces"], header["curves"]) == (5, 0, 1)
    _, curves = topology_of(client, header)
    assert curves["segments"].tolist() == [[0, 1], [1, 2], [2, 3], [3, 4], [4, 0]]
    assert "normals" not in blocks


def test_loose_points_are_thinned_where_that_is_asked_for_and_faces_never(client):
    cloth = {"step": "cloth", "values": {"columns": 50, "rows": 40}}
    whole_header, whole = frames_of(client, cloth)
    header, thin = frames_of(client, cloth, stride=7)
    assert (whole_header["points"], whole_header["drawn"]) == (2000, 2000)
    assert (header["points"], header["drawn"]) == (2000, 286)
    assert np.array_equal(thin["points"], whole["points"][left_of(len(whole["points"]), 7)])
    header, blocks = frames_of(client, {"step": "icosphere"}, stride=7)
    assert header["drawn"] == header["points"] == len(blocks["points"])


def test_the_mask_of_loose_points_is_thinned_with_them(client):
    cloth = {"step": "cloth", "values": {"columns": 30, "rows": 30}}
    layer = {"id": "l", "layer": "ball", "values": {"radius": 0.4}}
    push = {"step": "inflate", "where": {"layers": [layer]}}
    _, whole = frames_of(client, cloth, push, mask_of="s1")
    _, thin = frames_of(client, cloth, push, mask_of="s1", stride=4)
    assert np.array_equal(thin["mask"], whole["mask"][left_of(len(whole["mask"]), 4)])
    assert 0 < whole["mask"].mean() < 255


def test_a_frames_address_is_immutable_and_changes_with_the_piece(client, sample):
    answer = client.get(frame_url(sample))
    assert "immutable" in answer.headers["Cache-Control"]
    changed = edit(client, sample, set_value(AMOUNT, 0.3)).json
    assert changed["motion"][0]["key"] != sample["motion"][0]["key"]
    renamed = edit(client, changed, set_value("/name", "Other")).json
    assert renamed["motion"][0]["key"] == changed["motion"][0]["key"]


def test_an_unknown_key_is_refused(client, sample):
    answer = client.get(frame_url(sample).replace(sample["motion"][0]["key"], "0" * 24))
    assert answer.status_code == 422
    assert "changed" in answer.json["error"]["message"]


def preview(client, state, sequence, *operations, frame=0.0, **more):
    body = {"window": "w1", "sequence": sequence, "frame": frame, "operations": list(operations)}
    return client.post(f"/api/studies/{state['id']}/pieces/p/preview", json=body | more)


def test_a_preview_shows_a_change_that_is_not_stored(client, sample):
    plain, _ = read_frame(preview(client, sample, 1).data)
    changed, _ = read_frame(preview(client, sample, 2, set_value(AMOUNT, 0.9)).data)
    assert changed["key"] != plain["key"]
    assert client.get(f"/api/studies/{sample['id']}").json["revision"] == 0


def test_the_latest_preview_wins(client, sample):
    assert preview(client, sample, 10).status_code == 200
    assert preview(client, sample, 9).status_code == 204


def test_a_mask_is_sent_as_heat(client, sample):
    layer = {"id": "m", "layer": "linear", "profile": "hard"}
    insert = {"do": "insert", "path": "/pieces/p/recipe/s2/where/layers", "item": layer}
    state = edit(client, sample, insert).json
    _, blocks = read_frame(client.get(frame_url(state, mask_of="s2")).data)
    assert set(np.unique(blocks["mask"])) == {0, 255}


def test_a_step_that_fails_is_named(client, sample):
    layer = {"id": "m", "layer": "stored", "values": {"name": "none"}}
    insert = {"do": "insert", "path": "/pieces/p/recipe/s2/where/layers", "item": layer}
    answer = preview(client, sample, 1, insert)
    assert answer.status_code == 422
    assert answer.json["error"]["step_id"] == "s2"


def test_shards_are_told_apart_by_colours_or_by_pulling_them_apart(client):
    steps = [
        {"step": "icosphere", "values": {"halvings": 2}},
        {"step": "fracture", "values": {"count": 8, "gap": 0.0}},
    ]
    made = client.post("/api/studies", json={"document": document(*steps)}).json
    plain, coloured, apart = (
        read_frame(client.get(frame_url(made, 0, exact=True, shards=shown)).data)
        for shown in ("as they are", "coloured", "apart")
    )
    assert plain[0]["shards"] == coloured[0]["shards"] == 8
    assert np.array_equal(plain[1]["exact"], coloured[1]["exact"])
    # A hue of its own for each: as many numbers at the points as there are shards.
    assert len(np.unique(coloured[1]["points"][:, 3])) == 8
    assert not np.array_equal(plain[1]["gradients"], coloured[1]["gradients"])
    span = [np.ptp(blocks["exact"], axis=0).min() for _, blocks in (plain, apart)]
    assert span[1] > 1.2 * span[0]
    answer = client.get(frame_url(made, 0, shards="melted"))
    assert answer.status_code == 422
