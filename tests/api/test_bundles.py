"""Studies with all they use, out of one store and into another."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile

import numpy as np
import pytest
from PIL import Image

from tests.api.conftest import read_frame
from tests.conftest import document, obj_text
from zygomorph.api.app import make_app
from zygomorph.api.service import Service
from zygomorph.cli import main
from zygomorph.core.formats.bundle import BundledFile, write_bundle
from zygomorph.core.formats.wav import wav_of
from zygomorph.core.values.sound.track import Track
from zygomorph.jobs.queue.cluster import ClusterSettings

TETRAHEDRON = obj_text(
    np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]]),
    np.array([[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]]),
).encode()


@pytest.fixture
def elsewhere(tmp_path_factory):
    """A program that has none of it."""
    cluster = ClusterSettings(workers=1, apart=False)
    made = Service(tmp_path_factory.mktemp("other"), most_thumbnails=1, cluster=cluster)
    yield make_app(made).test_client()
    made.queue.close()


def picture(level: int, kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (8, 6), (level, 90, 30)).save(out, kind)
    return out.getvalue()


def film() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for k in range(3):
            archive.writestr(f"p_{k}.png", picture(60 * k))
    return out.getvalue()


def brought_in(client, route, name, data):
    answer = client.post(f"/api/{route}?name={name}", data=data)
    assert answer.status_code == 201, answer.text
    return answer.json["digest"]


@pytest.fixture
def rich(client):
    """A study that uses a mesh, a picture, a film and a sound, and a preset that it was made of."""
    mesh = brought_in(client, "assets", "tetra.obj", TETRAHEDRON)
    relief = brought_in(client, "images", "relief.png", picture(40))
    moving = brought_in(client, "films", "moving.zip", film())
    wave = np.sin(np.linspace(0, 900, 8000)).astype(np.float32)
    beat = brought_in(client, "sounds", "beat.wav", wav_of(Track(wave, 8000), 0, 1))
    made = document(
        {"step": "imported", "values": {"mesh": mesh}},
        {"step": "relief", "values": {"picture": relief}},
        {"step": "relief", "values": {"picture": moving}},
        {
            "id": "t",
            "step": "twist",
            "values": {"angle": {"signal": "sound", "track": "file", "file": beat, "high": 40}},
            "group": "g",
        },
    )
    made["pieces"][0]["groups"] = [{"id": "g", "name": "Turn"}]
    answer = client.post("/api/studies", json={"document": made})
    assert answer.status_code == 201, answer.text
    kept = client.post(
        "/api/presets", json={"study": answer.json["id"], "piece": "p", "group": "g"}
    )
    assert kept.status_code == 201, kept.text
    return answer.json | {"digests": {mesh, relief, moving, beat}}


def frame(client, study):
    [piece] = client.get(f"/api/studies/{study}").json["motion"]
    answer = client.get(f"/api/studies/{study}/pieces/p/frame?key={piece['key']}&frame=5")
    assert answer.status_code == 200, answer.text
    return answer


def test_a_study_with_all_it_uses_looks_the_same_where_none_of_it_was(client, elsewhere, rich):
    data = client.get(f"/api/studies/{rich['id']}/bundle").data
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        names = set(archive.namelist())
    assert names >= {f"files/{digest}" for digest in rich["digests"]}
    answer = elsewhere.post("/api/bundles?name=rich.zip", data=data)
    assert answer.status_code == 201, answer.text
    [told] = answer.json["brought"]
    assert (told["missing"], told["presets"], told["error"]) == (0, 1, None)
    there = elsewhere.get(f"/api/studies/{told['id']}").json
    assert there["document"] == rich["document"]
    here, gone_there = (
        read_frame(frame(client, rich["id"]).data)[1],
        read_frame(frame(elsewhere, told["id"]).data)[1],
    )
    assert here.keys() == gone_there.keys()
    for name, values in here.items():
        assert np.array_equal(values, gone_there[name]), name
    # What was read of each file is told there as here.
    for digest in rich["digests"]:
        assert elsewhere.application.extensions["zygomorph"].assets.told(digest) == (
            client.application.extensions["zygomorph"].assets.told(digest)
        )
    # Again: the files are there already, and the preset too.
    again = elsewhere.post("/api/bundles?name=rich.zip", data=data).json["brought"][0]
    assert (again["presets"], len(elsewhere.get("/api/presets").json["presets"])) == (0, 1)


def test_all_studies_go_out_and_one_that_is_wrong_does_not_hold_up_the_others(
    client, elsewhere, rich, sample
):
    data = client.get("/api/bundles").data
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        studies = {name: archive.read(name) for name in archive.namelist()}
    assert len(studies) == 2
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, study in {"0.zip": b"PK\x03\x04 cut off", **studies}.items():
            archive.writestr(name, study)
    answer = elsewhere.post("/api/bundles?name=all.zip", data=out.getvalue())
    assert answer.status_code == 201
    wrong, *right = answer.json["brought"]
    assert "Save it again" in wrong["error"] and wrong["id"] is None
    assert all(each["id"] for each in right) and len(right) == 2


def hostile(data: bytes, filename: str, report: dict) -> bytes:
    digest = hashlib.sha256(data).hexdigest()
    made = document({"step": "imported", "values": {"mesh": digest}})
    return write_bundle(made, [BundledFile(digest, filename, data, report)])


@pytest.mark.parametrize(
    ("data", "filename", "report", "said"),
    [
        (b"v 0 0 nan\n", "a.obj", {}, "Line 1"),
        (b"no picture", "a.png", {"width": 9, "height": 9}, "picture"),
        (b"no sound", "a.wav", {"seconds": 1}, ""),
        (b"PK\x05\x06" + bytes(18), "a.mp4", {"frames": 1_000_000_000}, "film"),
        (film(), "a.mp4", {"frames": 3}, "film"),
    ],
)
def test_a_file_that_is_not_what_it_is_said_to_be_is_refused_and_nothing_is_kept(
    elsewhere, data, filename, report, said
):
    bundle = hostile(data, filename, report)
    answer = elsewhere.post("/api/bundles?name=x.zip", data=bundle)
    assert answer.status_code == 422, answer.text
    assert said in answer.json["error"]["message"]
    assert elsewhere.get("/api/studies").json["studies"] == []
    assert not elsewhere.application.extensions["zygomorph"].assets.told(
        hashlib.sha256(data).hexdigest()
    )


def test_a_kept_film_tells_its_own_size_whatever_is_said(client, elsewhere):
    digest = brought_in(client, "films", "moving.zip", film())
    own = client.application.extensions["zygomorph"].assets
    [kept] = own.bundled([digest])
    said = {"frames": 999, "rate": "fast", "width": 1, "height": 1}
    other = elsewhere.application.extensions["zygomorph"].assets
    other.add_bundled(BundledFile(kept.digest, kept.filename, kept.data, said))
    assert other.told(digest)["read"] == {"frames": 3, "rate": None, "width": 8, "height": 6}


def test_a_file_that_is_nowhere_is_told_of(elsewhere):
    made = document({"step": "imported", "values": {"mesh": "0" * 64}})
    answer = elsewhere.post("/api/bundles?name=x.zip", data=write_bundle(made, []))
    assert answer.json["brought"][0]["missing"] == 1


def test_the_command_line_saves_a_folder_of_studies_and_brings_it_in(
    tmp_path, client, rich, sample, capsys
):
    here, there = tmp_path, tmp_path / "there"
    folder = tmp_path / "saved"
    assert main(["--data", str(here), "export", str(folder)]) == 0
    names = sorted(path.name for path in folder.iterdir())
    assert len(names) == 2
    (folder / "damaged.json").write_text("{")
    (folder / ".hidden.json").write_text("{")
    assert main(["--data", str(there), "import", str(folder)]) == 1
    said = capsys.readouterr()
    assert "damaged.json" in said.err and "hidden" not in said.err
    out = tmp_path / "out.json"
    name = rich["document"]["name"]
    assert main(["--data", str(there), "deliver", name, "--as", "json", "--out", str(out)]) == 0
    assert json.loads(out.read_text()) in (rich["document"], sample["document"])
    again = tmp_path / "again.zip"
    assert main(["--data", str(there), "deliver", name, "--as", "bundle", "--out", str(again)]) == 0
    assert again.read_bytes() in [(folder / each).read_bytes() for each in names]
    # A bundle is no document.
    assert main(["--data", str(there), "check", str(again)]) == 1
    assert "zygomorph import" in capsys.readouterr().err
