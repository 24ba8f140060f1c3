"""The API: studies, edits, files, and what is refused."""

import json
import threading

import numpy as np
import pytest

from tests.api.actions import AMOUNT, ANGLE, edit, frame_url, post, set_value
from tests.api.conftest import read_frame
from tests.conftest import ROOT, document, obj_text
from tests.waiting import until
from zygomorph.api.app import make_app
from zygomorph.api.document import openapi_text
from zygomorph.api.service import Service


def value(state, path):
    from zygomorph.core.document.edits import value_at

    return value_at(state["document"], path)


def test_the_committed_openapi_document_is_up_to_date():
    # The interface's types are generated from it; `python -m zygomorph.api.document` prints it.
    assert (ROOT / "web" / "openapi.json").read_text() == openapi_text()


def test_an_edit_is_stored_and_survives_a_restart(client, sample, tmp_path):
    answer = edit(client, sample, set_value(ANGLE, 12))
    assert answer.status_code == 200
    assert answer.json["revision"] == 1
    again = make_app(Service(tmp_path)).test_client()
    kept = again.get(f"/api/studies/{sample['id']}?window=w1").json
    assert value(kept, ANGLE) == 12
    assert kept["undo_label"] == "Edit"


def test_undo_and_redo_go_on_after_a_restart(client, sample, tmp_path):
    for amount in (0.2, 0.3, 0.4):
        sample = edit(client, sample, set_value(AMOUNT, amount)).json
    again = make_app(Service(tmp_path)).test_client()
    seen = [
        value(post(again, sample, way).json, AMOUNT)
        for way in ("undo", "undo", "redo", "undo", "undo")
    ]
    assert seen == [0.3, 0.2, 0.3, 0.2, 0.1]
    nothing = post(again, sample, "undo")
    assert nothing.status_code == 422
    assert "nothing to undo" in nothing.json["error"]["message"]
    for expected in (0.2, 0.3, 0.4):
        assert value(post(again, sample, "redo").json, AMOUNT) == expected


def test_a_new_edit_ends_what_could_be_redone(client, sample):
    edit(client, sample, set_value(AMOUNT, 0.2))
    state = post(client, sample, "undo").json
    assert state["redo_label"]
    assert edit(client, state, set_value(AMOUNT, 0.5)).json["redo_label"] is None


def test_undo_takes_back_only_this_windows_edits(client, sample):
    edit(client, sample, set_value(AMOUNT, 0.2), window="w1")
    edit(client, sample, set_value(ANGLE, 33), window="w2")
    state = post(client, sample, "undo", window="w1").json
    assert value(state, AMOUNT) == 0.1
    assert value(state, ANGLE) == 33


def test_edits_of_two_windows_are_merged_where_they_touch_different_parts(client, sample):
    assert edit(client, sample, set_value(AMOUNT, 0.2), window="w1").status_code == 200
    merged = edit(client, sample, set_value(ANGLE, 33), window="w2", revision=0)
    assert merged.status_code == 200
    assert value(merged.json, AMOUNT) == 0.2
    assert value(merged.json, ANGLE) == 33


def test_a_clash_shows_both_versions_and_stores_nothing(client, sample):
    edit(client, sample, set_value(AMOUNT, 0.2), window="w1")
    answer = edit(client, sample, set_value(AMOUNT, 0.9), window="w2", revision=0)
    assert answer.status_code == 409
    error = answer.json["error"]
    assert (error["kind"], error["path"], error["mine"], error["theirs"]) == (
        "clash",
        AMOUNT,
        0.9,
        0.2,
    )
    assert error["revision"] == 1
    assert value(client.get(f"/api/studies/{sample['id']}").json, AMOUNT) == 0.2
    # Seen and chosen, it is stored on the newest revision.
    assert edit(client, sample, set_value(AMOUNT, 0.9), window="w2", revision=1).status_code == 200


def test_an_edit_that_would_break_the_document_is_refused_with_its_path(client, sample):
    answer = edit(client, sample, set_value("/pieces/p/recipe/s0/values/radius", -4))
    assert answer.status_code == 422
    assert answer.json["error"]["problems"][0]["path"] == "/pieces/0/recipe/0/values/radius"
    assert client.get(f"/api/studies/{sample['id']}").json["revision"] == 0


def test_the_history_lists_every_edit(client, sample):
    edit(client, sample, set_value(AMOUNT, 0.2))
    post(client, sample, "undo")
    edits = client.get(f"/api/studies/{sample['id']}/history").json["edits"]
    assert [(e["kind"], e["undone"]) for e in edits] == [("edit", True), ("undo", False)]


def test_a_study_that_is_not_there_is_named(client):
    answer = client.get("/api/studies/nowhere")
    assert answer.status_code == 404
    assert "'nowhere'" in answer.json["error"]["message"]


def test_a_removed_study_can_be_brought_back(client, sample):
    ids = lambda: [s["id"] for s in client.get("/api/studies").json["studies"]]  # noqa: E731
    client.delete(f"/api/studies/{sample['id']}")
    assert sample["id"] not in ids()
    client.post(f"/api/studies/{sample['id']}/restore")
    assert sample["id"] in ids()


def test_the_seam_is_told(client, sample):
    seams = client.get(f"/api/studies/{sample['id']}/seam").json["seams"]
    assert seams[0]["position_m"] == 0
    assert seams[0]["state"] in ("closed", "nearly", "open")


def test_a_mesh_is_brought_in_and_a_study_made_of_it(client, bunny):
    points, faces = bunny
    text = obj_text(points, faces)
    report = client.post("/api/assets?name=hare.obj", data=text).json
    assert report["faces"] == len(faces)
    assert report["open_edges"] == 0
    state = client.post("/api/studies", json={"asset": report["digest"], "name": "Hare"}).json
    header, _ = read_frame(client.get(frame_url(state)).data)
    assert header["points"] == report["points"]
    assert max(np.subtract(header["high"], header["low"])) == pytest.approx(1.2, rel=1e-4)


def test_a_damaged_mesh_is_explained_and_not_stored(client):
    answer = client.post("/api/assets?name=bad.obj", data="v 1 2\n")
    assert answer.status_code == 422
    assert "Line 1" in answer.json["error"]["message"]
    assert answer.json["error"]["kind"] == "mesh file"


def test_a_missing_mesh_names_the_step(client):
    made = document({"step": "imported", "values": {"mesh": "a" * 64}})
    state = client.post("/api/studies", json={"document": made}).json
    answer = client.get(frame_url(state))
    assert answer.json["error"]["step_id"] == "s0"


def wait_for(client, job):
    def asked():
        return client.get(f"/api/jobs/{job['id']}").json

    until(lambda: asked()["state"] not in ("waiting", "running"), asked)
    return asked()


@pytest.mark.parametrize("kind", ["glb", "obj"])
def test_a_delivery_tells_size_and_error_and_gives_the_file(client, sample, kind):
    body = {"study": sample["id"], "kind": kind, "frames": None if kind == "glb" else [0, 2]}
    job = wait_for(client, client.post("/api/deliveries", json=body).json)
    assert job["state"] == "done", job["message"]
    file = client.get(f"/api/jobs/{job['id']}/file")
    assert len(file.data) == job["size"]
    assert f"test{'.glb' if kind == 'glb' else '-obj.zip'}" in file.headers["Content-Disposition"]
    if kind == "glb":
        assert job["details"][0]["error_relative"] <= 1e-3


def test_a_delivery_can_be_cancelled(client, sample, service):
    gate = threading.Event()
    service.jobs.start("blocks", lambda job: gate.wait(10) and None)
    job = client.post("/api/deliveries", json={"study": sample["id"], "kind": "glb"}).json
    client.post(f"/api/jobs/{job['id']}/cancel")
    gate.set()
    assert wait_for(client, job)["state"] == "cancelled"
    assert client.get(f"/api/jobs/{job['id']}/file").status_code == 422


def test_a_failed_delivery_says_why(client):
    gone = {"step": "remove", "values": {"share": 100.0}}
    made = document({"step": "icosphere", "values": {"halvings": 1}}, gone)
    state = client.post("/api/studies", json={"document": made}).json
    job = wait_for(
        client, client.post("/api/deliveries", json={"study": state["id"], "kind": "glb"}).json
    )
    assert job["state"] == "failed"
    assert "no points at any frame" in job["message"]
    assert job["hint"]


def test_the_document_goes_out_and_comes_in_the_same(client, sample):
    text = client.get(f"/api/studies/{sample['id']}/document").data
    again = client.post("/api/studies", json={"document": json.loads(text)}).json
    assert again["document"] == sample["document"]


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Host": "evil.example"}, 403),
        ({"Host": "127.0.0.1:9999"}, 200),
        ({"Origin": "http://evil.example"}, 403),
        ({"Origin": "null"}, 403),
        ({"Origin": "http://localhost"}, 200),
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate"}, 200),
        ({"Sec-Fetch-Site": "same-origin"}, 200),
    ],
)
def test_only_this_machines_own_pages_are_served(client, headers, status):
    assert client.get("/api/studies", headers=headers).status_code == status


def test_every_answer_has_a_strict_content_policy(client):
    policy = client.get("/api/studies").headers["Content-Security-Policy"]
    assert "default-src 'self'" in policy
    assert "script-src 'self';" in policy
    assert "unsafe" not in policy
    assert "frame-ancestors 'self'" in policy


def test_a_body_over_the_limit_is_refused(client):
    answer = client.post("/api/studies", data=b" " * 10_000_001, content_type="application/json")
    assert answer.status_code == 413


@pytest.mark.parametrize("body", [b"{", b"[]", b"null", b'{"name": 5}', b'{"nome": "x"}', b"\xff"])
def test_a_wrong_body_is_explained(client, body):
    answer = client.post("/api/studies", data=body, content_type="application/json")
    assert answer.status_code in (400, 415, 422)
    assert answer.json["error"]["message"]


def test_the_thumbnail_moves(client, sample):
    import io

    from PIL import Image

    picture = Image.open(io.BytesIO(client.get(f"/api/studies/{sample['id']}/thumbnail.webp").data))
    assert picture.n_frames > 1
    first = np.asarray(picture.convert("RGB")).astype(int)
    picture.seek(picture.n_frames // 2)
    assert np.abs(np.asarray(picture.convert("RGB")).astype(int) - first).max() > 20


def test_events_tell_of_changes(service, client, sample):
    stream = service.events.stream()
    assert "hello" in next(stream)
    edit(client, sample, set_value(AMOUNT, 0.2))
    told = next(stream)
    assert told.startswith("event: study")
    assert '"revision": 1' in told
    stream.close()


def test_a_mesh_that_was_brought_in_is_looked_over_and_repaired(client):
    """A cube of which one side is missing and one is turned over; in centimetres."""
    text = "".join(f"v {x} {y} {z}\n" for x in (0, 10) for y in (0, 10) for z in (0, 10))
    text += "f 1 2 4 3\nf 5 7 8 6\nf 1 5 6 2\nf 3 4 8 7\nf 5 7 3 1\n"
    report = client.post("/api/assets?name=cube.obj", data=text).json
    made = document(
        {"step": "imported", "values": {"mesh": report["digest"], "fit": False, "unit": "cm"}}
    )
    state = client.post("/api/studies", json={"document": made}).json
    address = f"/api/studies/{state['id']}/pieces/p/import"
    found = client.get(address).json
    assert found["filename"] == "cube.obj"
    assert (found["read"]["points"], found["read"]["faces"]) == (8, 5)
    # A side as large as the cube itself may be meant to be open.
    now = found["now"]
    assert (now["holes"], now["rims"], now["open_edges"]) == (0, 1, 4)
    assert found["now"]["size"] == pytest.approx([0.1] * 3)
    offered = {r["key"]: r for r in found["repairs"]}
    assert offered["turn"]["action"] == "Turn 1 face outward"
    assert offered["rim-0"]["problem"].startswith("A rim of 4 sides, 0.4 m around")
    assert offered["rim-0"]["minor"]
    operations = [
        {"do": "set", "path": f"/pieces/p/recipe/s0/values/{name}", "value": value}
        for repair in offered.values()
        for name, value in repair["values"].items()
    ]
    body = {"window": "w", "revision": state["revision"], "operations": operations}
    assert client.post(f"/api/studies/{state['id']}/edits", json=body).status_code == 200
    found = client.get(address).json
    assert found["repairs"] == []
    assert found["now"]["faces"] == 6
    assert found["now"]["open_edges"] == 0
    plain = client.post("/api/studies", json={"form": "icosphere"}).json
    answer = client.get(f"/api/studies/{plain['id']}/pieces/piece/import")
    assert answer.status_code == 422
    assert "not brought in" in answer.json["error"]["message"]


def test_a_note_is_kept_and_makes_no_frame_anew(client, sample):
    path = f"/pieces/{sample['document']['pieces'][0]['id']}/recipe"
    step = sample["document"]["pieces"][0]["recipe"][0]["id"]
    operation = {"do": "set", "path": f"{path}/{step}/note", "value": "why it is here"}
    body = {"window": "w", "revision": sample["revision"], "operations": [operation]}
    changed = client.post(f"/api/studies/{sample['id']}/edits", json=body).json
    assert changed["document"]["pieces"][0]["recipe"][0]["note"] == "why it is here"
    assert changed["motion"][0]["key"] == sample["motion"][0]["key"]
    operation["value"] = "x" * 2001
    body = {"window": "w", "revision": changed["revision"], "operations": [operation]}
    answer = client.post(f"/api/studies/{sample['id']}/edits", json=body)
    assert answer.status_code == 422
    assert "note" in str(answer.json["error"])
