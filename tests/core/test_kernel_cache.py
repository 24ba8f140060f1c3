"""Compiled kernels never run older code: the cache notices edits of whatever takes part."""

from __future__ import annotations

import inspect
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from numba.core.dispatcher import Dispatcher

import zygomorph
from zygomorph.core.kernels.compiled import KERNELS, Kernel, _kernel_sources
from zygomorph.core.values.entries import definitions

PACKAGE = Path(zygomorph.__file__).parent
# The smoother profile of masks, whose curve is a helper in a file of its own.
SCRIPT = """
import numpy as np
from zygomorph.core.masking.blending import blend
half = np.full(1, 0.25, np.float32)
print(blend(np.ones(1, np.float32), half, profile="smoother")[0])
"""


def _said(folder: Path) -> float:
    environment = {k: v for k, v in os.environ.items() if not k.startswith("NUMBA")}
    environment |= {"PYTHONPATH": str(folder), "ZYGOMORPH_KERNEL_CACHE": str(folder / "cache")}
    # A process of its own in a folder of its own: the package there is the one that is imported.
    ran = subprocess.run(
        [sys.executable, "-c", SCRIPT],
        cwd=folder,
        env=environment,
        check=True,
        capture_output=True,
        text=True,
        timeout=120,
    )
    return float(ran.stdout)


def test_a_helper_that_is_edited_is_not_run_as_it_was(tmp_path):
    """6t⁵ - 15t⁴ + 10t³ at ¼ is 0.103516; a helper that returns t instead gives ¼."""
    shutil.copytree(
        PACKAGE, tmp_path / "zygomorph", ignore=shutil.ignore_patterns("web", "__pycache__")
    )
    assert _said(tmp_path) == pytest.approx(0.103516, abs=1e-6)
    helper = tmp_path / "zygomorph" / "core" / "kernels" / "noise" / "lattice.py"
    text = helper.read_text()
    body = text[text.index("def fade(") :].partition("\n\n\n")[0]
    returned = body[body.index("    return ") :]
    helper.write_text(text.replace(returned, "    return t", 1))
    assert _said(tmp_path) == pytest.approx(0.25, abs=1e-6)


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
