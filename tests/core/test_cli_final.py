"""Final pictures and jobs from the command line."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from tests.conftest import document
from tests.jobs.conftest import TURNING
from tests.jobs.test_kills import free_port, running
from tests.waiting import until
from zygomorph.cli import main
from zygomorph.core.formats.clips import facts_of
from zygomorph.core.formats.stills import read_png

SMALL = ["--size", "32x18", "--samples", "2", "--final"]
ZYGOMORPH = Path(sys.executable).with_name("zygomorph")


@pytest.fixture
def given(tmp_path) -> list[str]:
    """A study, and where its data are."""
    study = tmp_path / "study.json"
    study.write_text(json.dumps(document(*TURNING, frames=20)))
    return [str(study), "--data", str(tmp_path / "data")]


def begun(*command: object) -> subprocess.Popen[str]:
    """The command as a process of its own, which Ctrl-C reaches also where these tests run in the
    background, whose children inherit that it is ignored."""
    return subprocess.Popen(
        [str(each) for each in (ZYGOMORPH, *command)],
        stderr=subprocess.PIPE,
        text=True,
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
    )


def test_a_final_still_is_drawn_without_a_browser(given, tmp_path, capsys, monkeypatch):
    monkeypatch.setattr("zygomorph.jobs.chromium.chromium", lambda: None)
    out = tmp_path / "still.png"
    asked = ["--as", "still", "--frames", "3-3", "--out", str(out), *SMALL]
    assert main(["deliver", *given, *asked]) == 0
    assert read_png(out).shape == (18, 32, 4)
    assert "32 × 18" in capsys.readouterr().out
    assert not (tmp_path / "still.png.job").exists()


def test_final_pictures_are_drawn_without_llvm(given, tmp_path):
    """By Mitsuba's scalar variant, also on the workers of the queue."""
    asked = ["--as", "png", "--frames", "0-1", "--out", tmp_path / "frames", *SMALL]
    found = subprocess.run(
        [str(each) for each in (ZYGOMORPH, "deliver", *given, *asked)],
        capture_output=True,
        text=True,
        env={**os.environ, "DRJIT_LIBLLVM_PATH": ""},
        timeout=200,
    )
    assert found.returncode == 0, found.stderr
    pictures = [read_png(path) for path in sorted((tmp_path / "frames").iterdir())]
    assert len(pictures) == 2
    # Something is seen of the study on its backdrop.
    assert all(np.ptp(picture[..., :3]) > 30 for picture in pictures)


def test_what_was_stopped_goes_on_where_it_was(given, tmp_path, capsys):
    out = tmp_path / "clip.mp4"
    asked = ["deliver", *given, "--as", "mp4", "--out", str(out), *SMALL, "--samples", "32"]
    process = begun(*asked)
    frames = tmp_path / "clip.mp4.job"
    until(lambda: len(list(frames.glob("*/frames/*.png"))) > 2)
    process.send_signal(signal.SIGINT)
    _, said = process.communicate(timeout=60)
    assert process.returncode == 3
    assert "--resume goes on with it" in said
    kept = {path: path.stat().st_mtime_ns for path in frames.glob("*/frames/*.png")}
    assert 2 < len(kept) < 20
    assert not out.exists()
    # Nothing is begun over by mistake, and nothing is mixed.
    assert main(asked) == 1
    assert "not finished" in capsys.readouterr().err
    assert main([*asked, "--resume", "--transparent"]) == 1
    assert "ordered otherwise" in capsys.readouterr().err
    assert main([*asked, "--resume"]) == 0
    assert facts_of(out).frames == 20


def test_a_cluster_that_cannot_be_reached_is_told(given, tmp_path):
    out = tmp_path / "clip.mp4"
    address = f"tcp://127.0.0.1:{free_port()}"
    asked = ["--as", "mp4", "--out", out, *SMALL, "--scheduler", address]
    process = begun("deliver", *given, *asked)
    assert process.stderr is not None
    told = next(line for line in process.stderr if "cannot be reached" in line)
    assert address in told
    assert "Trying again" in told
    assert process.poll() is None
    process.send_signal(signal.SIGINT)
    _, said = process.communicate(timeout=60)
    assert process.returncode == 3
    assert said.splitlines()[-1] == "Stopped."


def test_ctrl_c_while_the_program_is_loaded_ends_it_without_a_traceback():
    """Ctrl-C comes when NumPy is about to be imported, which every command needs first."""
    loading = """
import os, signal, sys

class Interrupting:
    def find_spec(self, name, path=None, target=None):
        if name == "numpy":
            os.kill(os.getpid(), signal.SIGINT)

signal.signal(signal.SIGINT, signal.default_int_handler)
sys.meta_path.insert(0, Interrupting())
from zygomorph.cli import main
sys.exit(main(["catalogue"]))
"""
    found = subprocess.run([sys.executable, "-c", loading], capture_output=True, text=True)
    assert (found.returncode, found.stderr, found.stdout) == (3, "Stopped.\n", "")


def test_a_worker_of_another_version_is_refused_with_both_versions(tmp_path):
    from distributed import Client

    port = free_port()
    address = f"tcp://127.0.0.1:{port}"
    scheduler = [Path(sys.executable).with_name("dask"), "scheduler", "--host", "127.0.0.1"]
    with running(*scheduler, "--port", port, "--no-dashboard", "--no-jupyter"):
        with Client(address, timeout=30, set_as_default=False) as client:
            client.set_metadata(["zygomorph-program"], "9.9 (abc, llvm)")
        found = subprocess.run(
            [ZYGOMORPH, "worker", address], capture_output=True, text=True, timeout=60
        )
    assert found.returncode == 3
    assert "9.9 (abc, llvm)" in found.stderr
    assert "this is 0.1.0" in found.stderr


def test_meshes_are_made_by_the_queue_where_it_is_to_go_on(given, tmp_path):
    out, direct = tmp_path / "queued", tmp_path / "direct"
    asked = ["--as", "ply", "--frames", "0-3"]
    assert main(["deliver", *given, *asked, "--out", str(out), "--resume"]) == 0
    assert main(["deliver", *given, *asked, "--out", str(direct)]) == 0
    made, wanted = ({p.name: p.read_bytes() for p in f.iterdir()} for f in (out, direct))
    assert made == wanted
