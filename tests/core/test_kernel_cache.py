"""Compiled kernels never run older code: the cache notices edits of whatever takes part."""

from __future__ import annotations

import inspect
import os
import shutil
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from numba.core.dispatcher import Dispatcher

import zygomorph
from zygomorph.core.kernels.compiled import KERNELS, Kernel, _kernel_sources
from zygomorph.core.kernels.elsewhere import SERVER
from zygomorph.core.values.entries import definitions

PACKAGE = Path(zygomorph.__file__).parent
# The smoother profile of masks, whose curve is a helper in a file of its own.
SCRIPT = """
import numpy as np
from zygomorph.core.masking.blending import blend
half = np.full(1, 0.25, np.float32)
print(blend(np.ones(1, np.float32), half, profile="smoother")[0])
"""


# Bends of random points, as the bytes that they come to.
BENDS = """
import hashlib
import numpy as np
from zygomorph.core.kernels.deform.bend import bend
points = np.random.default_rng(0).normal(size=(5000, 3)).astype("f4")
out, one = np.empty_like(points), np.ones(1, "f4")
bend(points, np.eye(3, dtype="f4"), np.zeros(3, "f4"), -one, one, 2 * one, one, out)
assert np.abs(out - points).max() > 0.1
print(hashlib.sha256(out.tobytes()).hexdigest())
"""


def _said(folder: Path, script: str, package: Path) -> str:
    """What a script says that is run by a process of its own, with kernels in a folder of its
    own."""
    environment = {k: v for k, v in os.environ.items() if not k.startswith("NUMBA")}
    environment |= {"PYTHONPATH": str(package), "ZYGOMORPH_KERNEL_CACHE": str(folder / "cache")}
    ran = subprocess.run(
        [sys.executable, "-c", script],
        cwd=folder,
        env=environment,
        check=True,
        capture_output=True,
        text=True,
        timeout=120,
    )
    return ran.stdout.strip()


@pytest.mark.thorough
def test_the_first_run_gives_the_bytes_of_all_later_ones(tmp_path):
    """Compiled by the process that first needs it, a kernel differs in its last bit."""
    first, *later = (_said(tmp_path, BENDS, PACKAGE.parent) for _ in range(3))
    assert set(later) == {first}


@pytest.mark.thorough
def test_a_helper_that_is_edited_is_not_run_as_it_was(tmp_path):
    """6t⁵ - 15t⁴ + 10t³ at ¼ is 0.103516; a helper that returns t instead gives ¼."""
    shutil.copytree(
        PACKAGE, tmp_path / "zygomorph", ignore=shutil.ignore_patterns("web", "__pycache__")
    )
    assert float(_said(tmp_path, SCRIPT, tmp_path)) == pytest.approx(0.103516, abs=1e-6)
    helper = tmp_path / "zygomorph" / "core" / "kernels" / "noise" / "lattice.py"
    text = helper.read_text()
    body = text[text.index("def fade(") :].partition("\n\n\n")[0]
    returned = body[body.index("    return ") :]
    helper.write_text(text.replace(returned, "    return t", 1))
    assert float(_said(tmp_path, SCRIPT, tmp_path)) == pytest.approx(0.25, abs=1e-6)


def _helpers(function: object, seen: set[object]) -> set[object]:
    """The compiled helpers that a function calls, directly or through others."""
    known = getattr(function, "__globals__", {})
    for name in function.__code__.co_names:  # type: ignore[attr-defined]
        helper = known.get(name)
        if isinstance(helper, Dispatcher) and helper not in seen:
            seen.add(helper)
            _helpers(helper.py_func, seen)
    return seen


def test_every_source_of_a_kernel_is_part_of_the_key():
    assert definitions("step") and definitions("layer")
    sources = {path.resolve() for path in _kernel_sources()}
    sources.add(Path(inspect.getfile(Kernel)).resolve())
    found = 0
    for kernel in KERNELS:
        functions = [kernel.function, *(h.py_func for h in _helpers(kernel.function, set()))]
        for function in functions:
            found += 1
            assert Path(inspect.getfile(function)).resolve() in sources
    assert found > len(KERNELS) + 50


def test_ctrl_c_does_not_end_the_process_that_compiles(tmp_path):
    """It is in the terminal's group of processes too, and would say a traceback."""
    process = subprocess.Popen(
        [sys.executable, "-m", SERVER],
        env=os.environ | {"ZYGOMORPH_KERNEL_CACHE": str(tmp_path)},
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
    )
    assert process.stdin is not None and process.stdout is not None
    for _ in range(2):
        process.stdin.write("no.such.module name 0\n")
        process.stdin.flush()
        assert process.stdout.readline().startswith("failed ModuleNotFoundError")
        process.send_signal(signal.SIGINT)
    # With nobody to ask it any more it ends by itself.
    _, complaint = process.communicate(timeout=20)
    assert (process.returncode, complaint) == (0, "")
