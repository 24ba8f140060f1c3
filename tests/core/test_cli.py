"""The command line, as a user calls it."""

import json
import signal
import subprocess
import sys
import time

import numpy as np
import pytest

from tests.conftest import ROOT, document
from zygomorph.cli import main
from zygomorph.cli.serving import seed
from zygomorph.core.document.beginnings import completed
from zygomorph.core.formats.read import read_here

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
    one_way = json.loads(example.read_text())["loop"].get("one_way", False)
    for piece in json.loads(capsys.readouterr().out)["pieces"]:
        if one_way:
            assert piece["state"] == "one way"
            continue
        assert piece["position_relative"] <= 1e-6
        # What moves in jumps, or has other points from frame to frame, has no speed to compare.
        none = "in jumps" in piece["note"] or "counts change" in piece["note"]
        assert none or piece["velocity_relative"] <= 2e-2


def test_deliver_writes_files(tmp_path, file, capsys):
    assert run(tmp_path, "deliver", file, "--as", "glb", "--out", tmp_path / "a.glb") == 0
    assert "error" in capsys.readouterr().out
    assert (
        run(tmp_path, "deliver", file, "--as", "stl", "--frames", "0-2", "--out", tmp_path / "s")
        == 0
    )
    assert len(list((tmp_path / "s").iterdir())) == 3
    assert run(tmp_path, "deliver", file, "--as", "json", "--out", tmp_path / "again.json") == 0
    assert json.loads((tmp_path / "again.json").read_text()) == completed(
        json.loads(file.read_text())
    )


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
    turning = {"angle": {"signal": "cycle", "high": 90}}
    step = {"step": "twist", "values": turning, "where": {"layers": [layer]}}
    file.write_text(json.dumps(document(BALL, step)))
    for command in (["evaluate", file, "--out", tmp_path / "x.ply"], ["seam", file]):
        assert run(tmp_path, *command) == 3
        assert "s1" in capsys.readouterr().err
    assert not (tmp_path / "x.ply").exists()


def test_check_names_the_step_that_cannot_work(tmp_path, file, capsys):
    layer = {"id": "m", "layer": "stored", "values": {"name": "none"}}
    file.write_text(json.dumps(document(BALL, {"step": "twist", "where": {"layers": [layer]}})))
    assert run(tmp_path, "check", file) == 1
    told = capsys.readouterr().err
    assert "piece p, step s1, frame 0" in told
    assert "'none'" in told


def test_check_lists_every_problem_of_a_document(tmp_path, file, capsys):
    wrong = document(
        {"step": "icosphere", "values": {"radius": "wide"}},
        {"step": "twist", "values": {"angel": 3}},
    )
    file.write_text(json.dumps(wrong | {"loop": {"frames": -1}}))
    assert run(tmp_path, "check", file) == 1
    told = capsys.readouterr().err
    for place in ("/recipe/0/values/radius", "/recipe/1/values/angel", "/loop/frames"):
        assert place in told


def test_a_file_wins_over_a_stored_study_of_its_name(tmp_path, capsys, monkeypatch):
    seed(tmp_path / "data")
    monkeypatch.chdir(tmp_path)
    (tmp_path / "Woven ring").write_text(json.dumps(document(BALL) | {"name": "A file"}))
    assert run(tmp_path, "check", "Woven ring") == 0
    assert "A file" in capsys.readouterr().out
    assert run(tmp_path, "check", "stored:Woven ring") == 0
    assert "Woven ring" in capsys.readouterr().out


def test_a_study_that_is_not_stored_is_answered_with_those_that_are(tmp_path, capsys):
    seed(tmp_path / "data")
    assert run(tmp_path, "seam", "woven rig") == 1
    assert "'Woven ring'" in capsys.readouterr().err


def test_evaluate_takes_the_first_piece_or_the_named_one(tmp_path, file, capsys):
    out = tmp_path / "a.npz"
    assert run(tmp_path, "evaluate", file, "--out", out) == 0
    assert run(tmp_path, "evaluate", file, "--piece", "q", "--out", out) == 1
    assert "'q'" in capsys.readouterr().err


def test_final_quality_is_asked_for(tmp_path, file, capsys):
    ball = {"step": "icosphere", "values": {"halvings": {"draft": 1, "final": 3}}}
    file.write_text(json.dumps(document(ball)))
    for flags, points in (([], 42), (["--final"], 642)):
        assert run(tmp_path, "evaluate", file, *flags, "--out", tmp_path / "a.npz") == 0
        assert len(np.load(tmp_path / "a.npz")["points"]) == points
    capsys.readouterr()


def test_a_folder_that_cannot_be_written_ends_with_3_and_leaves_nothing(tmp_path, file, capsys):
    blocked = tmp_path / "file"
    blocked.write_text("x")
    assert run(tmp_path, "evaluate", file, "--out", blocked / "a.ply") == 3
    assert "failed" in capsys.readouterr().err
    assert blocked.read_text() == "x"


def test_a_part_of_the_frames_is_delivered_under_their_numbers(tmp_path, file, capsys):
    out = tmp_path / "frames"
    assert run(tmp_path, "deliver", file, "--as", "ply", "--frames", "7-9", "--out", out) == 0
    assert sorted(p.name for p in out.iterdir()) == ["p.0007.ply", "p.0008.ply", "p.0009.ply"]


def test_a_smaller_tolerance_needs_more_and_keeps_its_promise(tmp_path, file, capsys):
    moving = {"step": "displace", "values": {"evolve": {"signal": "cycle", "shape": "saw"}}}
    file.write_text(json.dumps(document(BALL, moving)))
    sizes = []
    for tolerance in ("0.05", "0.005"):
        out = tmp_path / f"{tolerance}.glb"
        arguments = ["--as", "glb", "--tolerance", tolerance, "--out", out]
        assert run(tmp_path, "deliver", file, *arguments) == 0
        told = capsys.readouterr().out
        assert float(told.split("(")[1].split("%")[0]) / 100 <= float(tolerance)
        sizes.append(out.stat().st_size)
    assert sizes[1] > sizes[0]


def test_numbers_of_a_glb_and_normals_of_usd_are_chosen(tmp_path, file, capsys):
    moving = {"step": "twist", "values": {"angle": {"signal": "cycle", "high": 40}}}
    file.write_text(json.dumps(document(BALL, moving)))
    size = {}
    for name, kind, *more in (
        ("plain", "glb"),
        ("compact", "glb", "--numbers", "compact"),
        ("bare", "usd"),
        ("normals", "usd", "--normals"),
    ):
        out = tmp_path / f"{name}.{kind}"
        assert run(tmp_path, "deliver", file, "--as", kind, *more, "--out", out) == 0
        size[name] = out.stat().st_size
    assert b"KHR_mesh_quantization" in (tmp_path / "compact.glb").read_bytes()
    assert b"KHR_mesh_quantization" not in (tmp_path / "plain.glb").read_bytes()
    assert size["normals"] > 1.3 * size["bare"]


def test_catalogue_reads_well_without_json(tmp_path, capsys):
    assert run(tmp_path, "catalogue") == 0
    told = capsys.readouterr().out
    assert "FORMS" in told
    assert "icosphere" in told


def test_bench_measures_only_what_is_asked_for(tmp_path, capsys, monkeypatch):
    from zygomorph.bench import figures
    from zygomorph.bench import run as bench

    measured = []

    def group(*names):
        def measure():
            measured.append(names)
            return [figures.result(name, 1.0, "ms", None) for name in names]

        return measure

    subjects = {"http": group("http_median", "http_p95"), "drag": group("drag_to_x")}
    monkeypatch.setattr(bench, "SUBJECTS", {"http": ("http_",), "drag": ("drag_to",)})
    monkeypatch.setattr(bench, "measured", lambda subject: subjects[subject]())
    assert [r["name"] for r in bench.run("http_p")] == ["http_p95", "cores"]
    assert [r["name"] for r in bench.run("drag_to_x")] == ["drag_to_x", "cores"]
    assert measured == [("http_median", "http_p95"), ("drag_to_x",)]
    assert len(bench.run()) == 4


def test_bench_prints_results_of_the_agreed_shape(tmp_path, capsys, monkeypatch):
    from zygomorph.bench import figures
    from zygomorph.bench import run as bench

    one = figures.result("noise_vs_c", 0.9, "×", 1.3, 1.0)
    monkeypatch.setattr(bench, "SUBJECTS", {"noise": ("noise_",)})
    monkeypatch.setattr(bench, "measured", lambda _: [one])
    assert run(tmp_path, "bench", "--json") == 0
    results = json.loads(capsys.readouterr().out)["results"]
    assert set(results[0]) == {"name", "value", "unit", "reference", "ratio", "goal", "met"}
    assert results[0]["met"] is True
    assert figures.result("x", 2.0, "ms", 1.0)["met"] is False
    assert figures.result("x", 2.0, "ms", None)["met"] is None


def test_a_still_glb_is_the_frame_with_what_other_pieces_and_time_do(tmp_path):
    floor = {"id": "floor", "name": "Floor", "recipe": [{"id": "s", "step": "sheet"}]}
    ball = [
        {"id": "b", "step": "icosphere", "values": {"halvings": 2}},
        {"id": "j", "step": "jitter", "values": {"amount": 0.2, "hold": 4}},
        {"id": "d", "step": "drape", "values": {"piece": "floor", "offset": 0.1}},
    ]
    study = document(BALL, frames=24)
    study["pieces"] = [{"id": "p", "name": "Ball", "recipe": ball}, floor]
    path = tmp_path / "study.json"
    path.write_text(json.dumps(study))
    for frame in (0, 7.5):
        for kind in ("npz", "glb"):
            out = tmp_path / f"out.{kind}"
            assert (
                run(tmp_path, "evaluate", path, "--frame", frame, "--piece", "p", "--out", out) == 0
            )
        points = np.load(tmp_path / "out.npz")["points"]
        read, _ = read_here((tmp_path / "out.glb").read_bytes(), "out.glb")
        assert len(read.points) == len(points)
        found = np.stack([read.points.min(axis=0), read.points.max(axis=0)])
        assert np.allclose(found, [points.min(axis=0), points.max(axis=0)], atol=2e-4)


@pytest.mark.parametrize(
    "arguments",
    [
        ("serve", "--port", "99999"),
        ("serve", "--port", "-1"),
        ("serve", "--port", "nan"),
        ("evaluate", "x.json", "--out", "x.ply", "--frame", "nan"),
        ("evaluate", "x.json", "--out", "x.ply", "--frame", "1e300"),
        ("deliver", "x.json", "--as", "glb", "--out", "x.glb", "--tolerance", "nan"),
        ("deliver", "x.json", "--as", "glb", "--out", "x.glb", "--tolerance", "0"),
        ("deliver", "x.json", "--as", "glb", "--out", "x.glb", "--tolerance", "-1"),
    ],
)
def test_a_number_out_of_bounds_is_wrong_usage(arguments, capsys):
    with pytest.raises(SystemExit) as ended:
        main(list(arguments))
    assert ended.value.code == 2
    assert " is from " in capsys.readouterr().err


def test_a_host_that_nobody_knows_is_said(tmp_path, capsys):
    assert run(tmp_path, "serve", "--host", "no-such-host.invalid", "--port", "0") == 3
    assert "no-such-host.invalid" in capsys.readouterr().err


@pytest.mark.thorough
@pytest.mark.parametrize("how", [signal.SIGTERM, signal.SIGINT])
def test_a_delivery_that_is_ended_leaves_no_half_file_and_says_how_far_it_came(tmp_path, how):
    path, out = tmp_path / "study.json", tmp_path / "frames"
    push = {"step": "displace", "values": {"travel": {"signal": "run"}}}
    path.write_text(json.dumps(document({"step": "icosphere"}, push, frames=5000)))
    command = [sys.executable, "-m", "zygomorph.cli", "--data", str(tmp_path / "data"), "deliver"]
    running = subprocess.Popen(
        [*command, str(path), "--as", "obj", "--out", str(out)],
        stderr=subprocess.PIPE,
        text=True,
        cwd=ROOT,
        # Whoever runs the tests in the background has them ignore Ctrl-C.
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
    )
    for _ in range(600):
        if out.exists() and len(list(out.glob("*.obj"))) > 3:
            break
        time.sleep(0.1)
    running.send_signal(how)
    _, said = running.communicate(timeout=30)
    assert running.returncode == 3
    assert "cut short after" in said
    assert "Traceback" not in said
    assert not list(out.glob("*.part"))
