"""The command line, as a user calls it."""

import json

import numpy as np
import pytest

from tests.conftest import ROOT, document
from zygomorph.cli import main, seed

BALL = {"step": "icosphere", "values": {"halvings": 2}}


@pytest.fixture
def file(tmp_path):
    path = tmp_path / "study.json"
    path.write_text(json.dumps(document(BALL, {"step": "twist"})))
    return path


def run(tmp_path, *arguments):
    return main(["--data", str(tmp_path / "data"), *map(str, arguments)])


def test_catalogue_prints_json(tmp_path, capsys):
    assert run(tmp_path, "catalogue", "--json") == 0
    assert {"forms", "steps", "layers", "signals"} <= set(json.loads(capsys.readouterr().out))


@pytest.mark.parametrize("kind", ["npz", "ply", "obj", "stl", "glb"])
def test_evaluate_writes_a_frame(tmp_path, file, kind, capsys):
    out = tmp_path / f"out.{kind}"
    assert run(tmp_path, "evaluate", file, "--frame", 3, "--piece", "p", "--out", out) == 0
    assert out.stat().st_size > 500
    assert "162 points" in capsys.readouterr().out
    if kind == "npz":
        assert np.load(out)["points"].shape == (162, 3)


def test_seam_prints_json_and_an_open_study_is_reported(tmp_path, file, capsys):
    assert run(tmp_path, "seam", file, "--json") == 0
    assert json.loads(capsys.readouterr().out)["pieces"][0]["state"] == "closed"
    jump = {"signal": "keys", "keys": [{"frame": 0, "value": 0}, {"frame": 24, "value": 90}]}
    file.write_text(json.dumps(document(BALL, {"step": "twist", "values": {"angle": jump}})))
    assert run(tmp_path, "seam", file, "--json") == 0
    assert json.loads(capsys.readouterr().out)["pieces"][0]["state"] == "open"


@pytest.mark.parametrize(
    "example", sorted((ROOT / "examples").glob("*.json")), ids=lambda p: p.stem
)
def test_the_seam_of_every_demo_study_is_closed(tmp_path, example, capsys):
    assert run(tmp_path, "seam", example, "--json") == 0
    for piece in json.loads(capsys.readouterr().out)["pieces"]:
        assert piece["position_relative"] <= 1e-6
        assert piece["velocity_relative"] <= 2e-2


def test_deliver_writes_files(tmp_path, file, capsys):
    assert run(tmp_path, "deliver", file, "--as", "glb", "--out", tmp_path / "a.glb") == 0
    assert "error" in capsys.readouterr().out
    assert (
        run(tmp_path, "deliver", file, "--as", "stl", "--frames", "0-2", "--out", tmp_path / "s")
        == 0
    )
    assert len(list((tmp_path / "s").iterdir())) == 3
    assert run(tmp_path, "deliver", file, "--as", "json", "--out", tmp_path / "again.json") == 0
    assert json.loads((tmp_path / "again.json").read_text()) == json.loads(file.read_text())


def test_a_stored_study_is_found_by_name(tmp_path, capsys):
    assert seed(tmp_path / "data") >= 3
    assert seed(tmp_path / "data") == 0
    assert run(tmp_path, "check", "woven ring") == 0
    assert run(tmp_path, "check", "stored:Woven ring") == 0


def test_wrong_input_ends_with_1_and_says_where(tmp_path, file, capsys):
    file.write_text(json.dumps(document({"step": "icosphere", "values": {"radios": 1}})))
    assert run(tmp_path, "check", file) == 1
    assert "/pieces/0/recipe/0/values/radios" in capsys.readouterr().err
    assert run(tmp_path, "check", "no such study") == 1
    assert "no such study" in capsys.readouterr().err
    assert run(tmp_path, "check", tmp_path / "missing.json") == 1
    assert "missing.json" in capsys.readouterr().err


def test_wrong_usage_ends_with_2(tmp_path, file, capsys):
    assert run(tmp_path, "evaluate", file, "--out", "x.txt") == 2
    assert run(tmp_path, "deliver", file, "--as", "obj", "--frames", "9-2", "--out", "x") == 2
    with pytest.raises(SystemExit) as stopped:
        run(tmp_path, "dance")
    assert stopped.value.code == 2


def test_work_that_fails_ends_with_3(tmp_path, file, capsys):
    layer = {"id": "m", "layer": "stored", "values": {"name": "none"}}
    file.write_text(json.dumps(document(BALL, {"step": "twist", "where": {"layers": [layer]}})))
    assert run(tmp_path, "check", file) == 3
    assert "s1" in capsys.readouterr().err
