"""Requests that are wrong, hostile or odd: each gets an answer that helps."""

import io
import json
import time
from itertools import pairwise

import numpy as np
import pytest
import soundfile

from tests.api.conftest import read_frame
from tests.conftest import document, obj_text
from zygomorph.core.document.schema import study_model

TRIANGLE = obj_text(np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0]]), np.array([[0, 1, 2]]))


def edits(state, *operations, **more):
    body = {"window": "w", "revision": state["revision"], "operations": list(operations)}
    return f"/api/studies/{state['id']}/edits", body | more


@pytest.mark.parametrize(
    ("host", "status"),
    [
        ("127.0.0.1:8473", 200),
        ("localhost", 200),
        ("[::1]:80", 200),
        ("studies.example", 403),
        ("127.0.0.1.studies.example:8473", 403),
        ("", 403),
    ],
)
def test_only_the_machines_own_names_are_served(client, host, status):
    # Against DNS rebinding: a page elsewhere whose name has been made to point here.
    assert client.get("/api/health", headers={"Host": host}).status_code == status


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 200),
        ({"Origin": "http://localhost"}, 200),
        ({"Origin": "http://localhost:81"}, 403),
        ({"Origin": "http://elsewhere.example"}, 403),
        ({"Origin": "null"}, 403),
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Sec-Fetch-Site": "same-site", "Sec-Fetch-Mode": "no-cors"}, 403),
        ({"Sec-Fetch-Site": "same-origin"}, 200),
    ],
)
def test_other_sites_cannot_ask(client, headers, status):
    assert client.get("/api/studies", headers=headers).status_code == status


def test_a_link_from_another_site_may_open_the_page_but_not_post(client):
    followed = {"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate"}
    assert client.get("/api/health", headers=followed).status_code == 200
    assert client.post("/api/studies", headers=followed, json={}).status_code == 403


def test_a_page_may_carry_its_own_styles_and_an_answer_may_not(client):
    page = client.get("/")
    policy = page.headers["Content-Security-Policy"]
    nonce = policy.split("'nonce-")[1].split("'")[0]
    assert f'"{nonce}"' in page.text
    assert nonce not in client.get("/").headers["Content-Security-Policy"]
    assert "nonce" not in client.get("/api/health").headers["Content-Security-Policy"]
    assert "unsafe" not in policy


@pytest.mark.parametrize("body", [b"", b"{", b"[]", b'"text"', b"\xff\xfe", b"null", b"{" * 5000])
def test_a_body_that_is_no_object_is_refused(client, sample, body):
    url, _ = edits(sample)
    answer = client.post(url, data=body, content_type="application/json")
    assert 400 <= answer.status_code < 500
    assert answer.json["error"]["message"]


@pytest.mark.parametrize(
    ("operation", "words"),
    [
        ({"do": "set", "path": "no/slash", "value": 1}, "path"),
        ({"do": "fly", "path": "/name"}, "/operations/0/do"),
        ({"do": "set", "path": "/pieces/q/name", "value": "x"}, "nothing at"),
        ({"do": "move", "path": "/pieces/p/recipe/s1", "after": "s9"}, "nothing at"),
        ({"do": "insert", "path": "/pieces/p/recipe", "item": {"step": "bend"}}, "id"),
        ({"do": "remove", "path": "/pieces/p/recipe/s0"}, "form"),
        ({"do": "set", "path": "/pieces/p/recipe/s1/values/angel", "value": 1}, "angel"),
        ({"do": "set", "path": "/loop/frames", "value": 0}, "frames"),
        ({"do": "set", "path": "/format", "value": "other"}, "format"),
    ],
)
def test_an_edit_that_cannot_be_says_why_and_changes_nothing(client, sample, operation, words):
    url, body = edits(sample, operation)
    answer = client.post(url, json=body)
    assert answer.status_code in (409, 422)
    assert words in answer.text
    state = client.get(f"/api/studies/{sample['id']}").json
    assert (state["revision"], state["document"]) == (sample["revision"], sample["document"])


def test_a_revision_of_the_future_is_refused(client, sample):
    url, body = edits(sample, {"do": "set", "path": "/name", "value": "x"}, revision=99)
    answer = client.post(url, json=body)
    assert answer.status_code == 422
    assert "newest is 0" in answer.json["error"]["message"]


def test_an_edit_of_many_operations_is_whole_or_not_at_all(client, sample):
    url, body = edits(
        sample,
        {"do": "set", "path": "/name", "value": "Changed"},
        {"do": "set", "path": "/pieces/p/recipe/s1/values/angle", "value": "wrong"},
    )
    assert client.post(url, json=body).status_code == 422
    assert client.get(f"/api/studies/{sample['id']}").json["document"]["name"] == "Test"


@pytest.mark.parametrize(
    "name", ["a/b.obj", "..\\..\\evil.obj", "/etc/passwd.obj", "x" * 300 + ".obj"]
)
def test_names_of_files_keep_no_folders(client, name):
    answer = client.post("/api/assets", query_string={"name": name}, data=TRIANGLE.encode())
    if answer.status_code == 201:
        assert "/" not in answer.json["filename"]
        assert "\\" not in answer.json["filename"]
    else:
        assert answer.status_code == 422


def test_the_same_file_is_stored_once(client):
    one = client.post("/api/assets", query_string={"name": "a.obj"}, data=TRIANGLE.encode()).json
    two = client.post("/api/assets", query_string={"name": "b.obj"}, data=TRIANGLE.encode()).json
    assert one["digest"] == two["digest"]
    assert (one["points"], one["faces"], one["open_edges"]) == (3, 1, 3)


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("frame=nan", "frame"),
        ("frame=inf", "frame"),
        ("frame=abc", "frame"),
        ("quality=fine", "quality"),
    ],
)
def test_a_frame_that_is_no_number_is_refused(client, sample, query, words):
    key = sample["motion"][0]["key"]
    url = f"/api/studies/{sample['id']}/pieces/p/frame?key={key}&{query}"
    answer = client.get(url if "frame" in query else url + "&frame=0")
    assert answer.status_code == 422
    assert words in answer.text


def test_a_frame_between_frames_is_computed_there(client, sample):
    key = sample["motion"][0]["key"]

    def points(frame):
        url = f"/api/studies/{sample['id']}/pieces/p/frame?key={key}&frame={frame}&exact=true"
        return read_frame(client.get(url).data)[1]["exact"]

    before, between, after = points(3), points(3.5), points(4)
    assert not np.array_equal(between, before)
    assert np.allclose(between, (before + after) / 2, atol=2e-2)


def test_a_mask_of_a_step_that_is_not_there_is_an_error(client, sample):
    key = sample["motion"][0]["key"]
    url = f"/api/studies/{sample['id']}/pieces/p/frame?key={key}&frame=0&mask_of=s9"
    answer = client.get(url)
    assert answer.status_code == 422
    assert "no step 's9'" in answer.json["error"]["message"]


def test_suggestions_suit_the_size_of_what_the_step_will_act_on(client):
    def suggested(radius):
        ball = {"step": "icosphere", "values": {"radius": radius, "halvings": 1}}
        state = client.post("/api/studies", json={"document": document(ball)}).json
        url = f"/api/studies/{state['id']}/pieces/p/suggest"
        body = {"sort": "step", "key": "displace", "after": None}
        return client.post(url, json=body).json["values"]

    small, large = suggested(0.1), suggested(10.0)
    assert large["amount"] == pytest.approx(100 * small["amount"], rel=0.1)


def test_what_is_not_in_the_catalogue_cannot_be_suggested(client, sample):
    url = f"/api/studies/{sample['id']}/pieces/p/suggest"
    answer = client.post(url, json={"sort": "step", "key": "dissolve_all", "after": None})
    assert answer.status_code == 422
    assert "Known: " in answer.json["error"]["hint"]


def test_the_schema_is_served_and_is_that_of_the_models(client):
    assert client.get("/api/schema").json == json.loads(
        json.dumps(study_model().model_json_schema())
    )


def test_a_new_study_of_a_form_that_is_not_there(client):
    assert client.post("/api/studies", json={"form": "teapot"}).status_code == 422
    answer = client.post("/api/studies", json={"form": "imported"})
    assert answer.status_code == 422
    assert "file" in answer.json["error"]["message"]


def test_an_address_that_is_not_there_is_json_under_api_and_the_page_elsewhere(client):
    missing = client.get("/api/nothing")
    assert missing.status_code in (404, 422)
    assert missing.json["error"]["message"]
    assert client.get("/study/anything").mimetype == "text/html"
    assert client.get("/assets/../../pyproject.toml").status_code == 404


def test_a_job_that_is_not_there_says_so(client):
    for answer in (client.get("/api/jobs/none"), client.post("/api/jobs/none/cancel")):
        assert answer.status_code == 422
        assert "no job" in answer.json["error"]["message"]


def formula_study(client) -> str:
    steps = [{"step": "icosphere"}, {"step": "formula", "values": {"a": 0.5}}]
    return client.post("/api/studies", json={"document": document(*steps)}).json["id"]


def check(client, study: str, text: str, step: str = "s1"):
    return client.post(
        f"/api/studies/{study}/pieces/p/formula", json={"step": step, "text": text, "frame": 6}
    )


def test_a_formula_is_plotted_along_the_points(client):
    plot = check(client, formula_study(client), "i * a + f").json["plot"]
    assert plot["count"] == 10_242
    assert plot["undefined"] == 0
    assert plot["low"][0] == 6
    assert plot["high"][-1] == 10_241 * 0.5 + 6
    assert len(plot["low"]) == len(plot["high"]) == 160


def test_a_plot_counts_what_is_undefined(client):
    plot = check(client, formula_study(client), "log(-1)").json["plot"]
    assert plot["undefined"] == 10_242
    assert set(plot["high"]) == {0}


def test_a_wrong_formula_is_answered_with_its_place(client):
    problem = check(client, formula_study(client), "x + tua").json["problem"]
    assert (problem["column"], problem["length"]) == (4, 3)
    assert "tau" in problem["hint"]


def test_a_step_that_is_no_formula_has_no_plot(client):
    for step in ("s0", "elsewhere"):
        answer = check(client, formula_study(client), "x", step)
        assert answer.status_code == 422
        assert "formula" in answer.json["error"]["message"]


def test_an_empty_document_is_an_error_and_no_default_study(client):
    before = len(client.get("/api/studies").json["studies"])
    answer = client.post("/api/studies", json={"document": {}})
    assert answer.status_code == 422
    assert len(client.get("/api/studies").json["studies"]) == before


def test_very_many_unknown_keys_are_refused_soon(client):
    wrong = document({"step": "icosphere", "values": {f"k{n}": 0 for n in range(100_000)}})
    started = time.monotonic()
    answer = client.post("/api/studies", json={"document": wrong})
    assert answer.status_code == 422
    assert time.monotonic() - started < 10


def test_a_sound_may_be_larger_than_a_document(client):
    # 60 seconds of 16 bits and two channels are 10.6 MB.
    rate, seconds = 44_100, 60
    data = io.BytesIO()
    soundfile.write(data, np.zeros((rate * seconds, 2), np.int16), rate, format="WAV")
    assert len(data.getvalue()) > 10_000_000
    answer = client.post("/api/sounds?name=long.wav", data=data.getvalue())
    assert answer.status_code == 201, answer.text
    assert answer.json["seconds"] == pytest.approx(seconds, abs=0.1)


def test_a_mesh_with_a_line_beside_it_stays_a_mesh(client):
    lines = TRIANGLE + "v 2 0 0\nv 3 0 0\nl 4 5\n"
    brought = client.post("/api/assets?name=both.obj", data=lines.encode()).json
    assert brought["form"] == "imported"
    study = client.post("/api/studies", json={"asset": brought["digest"]}).json
    piece = study["motion"][0]
    frame = client.get(f"/api/studies/{study['id']}/pieces/{piece['id']}/frame?key={piece['key']}")
    assert frame.status_code == 200
    header, _ = read_frame(frame.data)
    assert (header["faces"], header["curves"]) == (1, 1)


def test_a_very_long_loop_with_many_markers_is_told_at_some_frames(client):
    moving = {"move": [{"signal": "run"}, 0, 0]}
    made = document({"step": "icosphere", "values": {"halvings": 1}})
    made["loop"] = {"frames": 100_000, "rate": 24}
    made["markers"] = [{"id": f"m{k}", "name": f"M{k}", "place": moving} for k in range(20)]
    state = client.post("/api/studies", json={"document": made}).json
    places = [marker["places"] for marker in state["markers"]]
    assert sum(len(each) for each in places) <= 40_000
    # From the beginning of the loop to its end, evenly.
    x = [row[12] for row in places[0]]
    assert x[0] == pytest.approx(0)
    steps = [b - a for a, b in pairwise(x)]
    assert max(steps) == pytest.approx(min(steps), abs=1e-5)


def test_a_sound_is_heard_by_parts_and_by_ranges_of_bytes(client):
    address = "/api/sounds/night/part.wav?begin=1&seconds=2"
    whole = client.get(address)
    assert whole.status_code == 200
    assert whole.data[:4] == b"RIFF"
    assert whole.headers["Accept-Ranges"] == "bytes"
    part = client.get(address, headers={"Range": "bytes=44-143"})
    assert part.status_code == 206
    assert part.data == whole.data[44:144]
    assert client.get("/api/sounds/nothing/part.wav?seconds=1").status_code == 422
    for wrong in ("seconds=0", "seconds=1e9", "seconds=nan", "begin=-1&seconds=1"):
        assert client.get(f"/api/sounds/night/part.wav?{wrong}").status_code == 422


def test_an_address_that_is_not_there_is_told(client):
    for address in ("/api/nothing", "/api/studies/abc/old", "/api/"):
        answer = client.get(address)
        assert answer.status_code == 404
        assert "There is no /api/" in answer.json["error"]["message"]


@pytest.mark.parametrize("levels", [70, 900, 100_000])
@pytest.mark.parametrize("sort", ["list", "object"])
def test_json_that_is_nested_too_deeply_is_told(client, sample, levels, sort):
    begin, end = ("[", "]") if sort == "list" else ('{"a":', "}")
    deep = begin * levels + "1" + end * levels
    operation = f'{{"do":"set","path":"/note","value":{deep}}}'
    bodies = {
        "/api/studies": [deep, f'{{"document":{deep}}}'],
        f"/api/studies/{sample['id']}/edits": [
            f'{{"window":"w","revision":{sample["revision"]},"operations":[{operation}]}}'
        ],
        "/api/presets": [deep],
    }
    for address, texts in bodies.items():
        for text in texts:
            answer = client.post(address, data=text, content_type="application/json")
            assert answer.status_code == 422
            assert "nested" in answer.json["error"]["message"]
