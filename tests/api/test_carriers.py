"""Markers through the API: their places, and the edits that attach and let go."""

import pytest

from tests.conftest import document

SLIDE = {
    "signal": "keys",
    "keys": [
        {"frame": 0, "value": 0.0, "ease": "linear"},
        {"frame": 12, "value": 3.0, "ease": "linear"},
    ],
}


@pytest.fixture
def marked(client):
    made = document({"step": "box"}, {"step": "bend"}, place={"move": [0, 1.0, 0]})
    made["markers"] = [
        {"id": "m", "name": "M", "place": {"move": [SLIDE, 0.0, 0.0]}},
        {"id": "n", "name": "N"},
    ]
    return client.post("/api/studies", json={"document": made}).get_json()


def attach(client, study, path, carrier, frame=12.0):
    body = {"path": path, "carrier": carrier, "frame": frame}
    return client.post(f"/api/studies/{study['id']}/attach", json=body)


def edited(client, study, operations):
    body = {
        "window": "w",
        "revision": study["revision"],
        "label": "Attach",
        "operations": operations,
    }
    return client.post(f"/api/studies/{study['id']}/edits", json=body)


def test_a_study_tells_where_its_markers_are(marked):
    moving, still = marked["markers"]
    assert (len(moving["places"]), len(still["places"])) == (25, 1)
    assert moving["places"][12][12:15] == [3.0, 0.0, 0.0]
    assert [lane["path"] for lane in moving["lanes"]] == ["place/move/0"]
    assert moving["bases"] == []


def test_a_piece_is_attached_keeps_its_place_and_is_let_go(client, marked):
    carrier = {"by": "marker", "id": "m"}
    operations = attach(client, marked, "/pieces/p", carrier).get_json()["operations"]
    held = edited(client, marked, operations).get_json()
    motion = held["motion"][0]
    assert len(motion["places"]) == len(motion["bases"]) == 25
    assert motion["places"][12][12:15] == pytest.approx([0, 1.0, 0])
    assert motion["places"][0][12:15] == pytest.approx([-3.0, 1.0, 0])
    assert motion["key"] != marked["motion"][0]["key"]
    free = attach(client, held, "/pieces/p", None, 0.0).get_json()["operations"]
    freed = edited(client, held, free).get_json()
    assert freed["motion"][0]["places"] == [pytest.approx(motion["places"][0])]
    assert freed["motion"][0]["bases"] == []


def test_a_step_may_be_carried_and_a_form_may_not(client, marked):
    carrier = {"by": "piece", "id": "p"}
    fine = attach(client, marked, "/pieces/p/recipe/s1", carrier).get_json()["operations"]
    assert edited(client, marked, fine).status_code == 200
    form = attach(client, marked, "/pieces/p/recipe/s0", carrier).get_json()["operations"]
    refused = edited(client, marked, form)
    assert refused.status_code == 422
    assert "/pieces/0/recipe/0/carried" in str(refused.get_json())


@pytest.mark.parametrize(
    ("path", "carrier", "says"),
    [
        ("/pieces/p", {"by": "marker", "id": "gone"}, "no marker"),
        ("/pieces/p", {"by": "layer", "id": "a"}, "no layer"),
        ("/pieces/gone", {"by": "marker", "id": "m"}, "nothing at"),
        ("/loop/frames", None, "can be carried"),
        ("/pieces/p/recipe/s1/values/angle", None, "nothing at"),
    ],
)
def test_what_cannot_be_attached_is_explained(client, marked, path, carrier, says):
    answer = attach(client, marked, path, carrier)
    assert 400 <= answer.status_code < 500
    assert says in answer.get_json()["error"]["message"]


def test_two_markers_do_not_carry_each_other(client, marked):
    one = attach(client, marked, "/markers/n", {"by": "marker", "id": "m"}).get_json()
    held = edited(client, marked, one["operations"]).get_json()
    other = attach(client, held, "/markers/m", {"by": "marker", "id": "n"})
    assert other.status_code == 422
    assert "“M” would then move itself" in other.get_json()["error"]["message"]
    # Who does not ask how is refused as well.
    by = {"do": "set", "path": "/markers/m/carried", "value": {"by": "marker", "id": "n"}}
    refused = edited(client, held, [by])
    assert refused.status_code == 422
    assert "carry itself" in str(refused.get_json())


def test_what_is_carried_is_told_where_its_values_have_come_to(client, marked):
    carrier = {"by": "marker", "id": "m"}
    path = "/pieces/p/recipe/s1"
    attached = attach(client, marked, path, carrier, 0.0).get_json()["operations"]
    motion = edited(client, marked, attached).get_json()["motion"][0]
    # The piece stands one metre up; the marker has come three metres along x.
    assert motion["held"][path][0][12:15] == pytest.approx([0, 1.0, 0])
    assert motion["held"][path][12][12:15] == pytest.approx([3.0, 1.0, 0])
    assert motion["carriers"] == ["/markers/m"]
    assert motion["moves"]


def test_a_marker_is_removed_and_lets_go(client, marked):
    carried = attach(client, marked, "/pieces/p", {"by": "marker", "id": "m"}).get_json()
    held = edited(client, marked, carried["operations"]).get_json()
    body = {"path": "/markers/m", "frame": 12.0}
    answer = client.post(f"/api/studies/{held['id']}/removal", json=body)
    operations = answer.get_json()["operations"]
    left = edited(client, held, operations).get_json()
    assert [m["id"] for m in left["markers"]] == ["n"]
    assert left["motion"][0]["places"] == [pytest.approx(held["motion"][0]["places"][12])]
