"""Compiled kernels: declared signatures, and a cache that notices edits.

Numba's own disk cache does not see that an imported helper has changed and would run the old
code, so the cache folder is keyed by a hash of every source file that takes part.
"""

from __future__ import annotations

import hashlib
import importlib
import os
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor, as_completed
from contextlib import suppress
from functools import cache
from multiprocessing import get_context
from pathlib import Path
from types import FunctionType
from typing import Any

from zygomorph.core.kernels.elsewhere import ELSEWHERE

PACKAGE_FOLDER = Path(__file__).parents[2]
# What the modules of kernels have in common, and their names leave out.
PACKAGE = "zygomorph.core."


@cache
def _kernel_sources() -> list[Path]:
    marker = b"zygomorph.core.kernels.compiled import"
    return sorted(p for p in PACKAGE_FOLDER.rglob("*.py") if marker in p.read_bytes())


def source_digest() -> str:
    """Hash of all files that hold kernels or helpers of kernels."""
    digest = hashlib.sha256(Path(__file__).read_bytes())
    for path in _kernel_sources():
        digest.update(path.name.encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


def _cache_folder() -> Path:
    base = os.environ.get("ZYGOMORPH_KERNEL_CACHE")
    if base is None:
        base = os.path.join(  # noqa: PTH118  Path.home() raises where there is no home
            os.environ.get("XDG_CACHE_HOME") or os.path.expanduser("~/.cache"),  # noqa: PTH111
            "zygomorph",
        )
    return Path(base) / f"kernels-{source_digest()}"


os.environ["NUMBA_CACHE_DIR"] = str(_cache_folder())
os.environ.setdefault("NUMBA_THREADING_LAYER", "omp")


def _prefer_wide_vectors() -> None:
    """Let LLVM use 512-bit registers where the machine has them.

    LLVM holds back to 256 bits on some server chips for fear of lower clocks; for these kernels
    the full width is about 1.6 times as fast (measured with `zygomorph bench`).
    """
    import llvmlite.binding as llvm

    features = llvm.get_host_cpu_features()
    if features.get("avx512f") and "NUMBA_CPU_FEATURES" not in os.environ:
        os.environ["NUMBA_CPU_NAME"] = llvm.get_host_cpu_name()
        os.environ["NUMBA_CPU_FEATURES"] = features.flatten() + ",-prefer-256-bit"


_prefer_wide_vectors()

import numba  # noqa: E402
from numba import types  # noqa: E402

# Whoever imported numba first had it read its settings before they were made above.
numba.config.reload_config()

CORES: int = numba.config.NUMBA_NUM_THREADS

# Inputs are declared read-only: a mutable array is accepted too, and one signature serves both.
F1 = types.Array(types.float32, 1, "C", readonly=True)
F2 = types.Array(types.float32, 2, "C", readonly=True)
I1 = types.Array(types.int32, 1, "C", readonly=True)
I2 = types.Array(types.int32, 2, "C", readonly=True)
D2 = types.Array(types.float64, 2, "C", readonly=True)
F1W = types.float32[::1]
F2W = types.float32[:, ::1]
I1W = types.int32[::1]
N1W = types.uint32[::1]
N2W = types.uint32[:, ::1]

# Points of a block stay in the first-level caches while one loop after the other passes over them.
BLOCK = 1024
# Work buffers are made once a chunk: freeing them after each block would give their pages back to
# the system, and taking them again costs as much as the work.
CHUNKS = 8

# Ends the name of what stands in for a kernel, in the names of files of the cache.
ALONE = "_alone"

# Becomes part of whatever loop it stands in, which would not be SIMD otherwise.
inline: Callable[[Callable], Callable] = numba.njit(
    inline="always", fastmath=True, error_model="numpy"
)
# Holds loops of its own over one block: called once for a thousand points it may be a call, which
# compiles several times as fast as a copy in every kernel.
per_block: Callable[[Callable], Callable] = numba.njit(
    fastmath=True, error_model="numpy", nogil=True
)


class Kernel:
    """A function compiled on its first call, or earlier by :func:`compile_all`."""

    def __init__(
        self, function: Callable, signature: Any, parallel: bool, fastmath: bool, first: int | None
    ) -> None:
        self.name = f"{function.__module__.removeprefix(PACKAGE)}.{function.__name__}"
        self.function = function
        self.first = first
        self.threaded = parallel
        self._signature = signature
        self._fastmath = fastmath
        self._compiled: Any = None
        self._alone: Any = None
        self._lock = threading.Lock()
        # Called while it is not compiled here: returns when code of it may be on disk, and whether
        # that is the whole of it.
        self.ahead: Callable[[Kernel], bool] | None = None

    def compile(self) -> Any:
        with self._lock:
            if self._compiled is None:
                self._have_on_disk(alone=False)
                self._compiled = self._made(self.function, self.threaded)
        return self._compiled

    def _have_on_disk(self, alone: bool) -> None:
        """Have it compiled by another process where its code is not on disk yet."""
        if not _compiles_for_others and not _is_on_disk(self.name, alone):
            ELSEWHERE.compile(self.function.__module__, self.name, alone)

    def compile_alone(self) -> Any:
        """The same on one thread, which compiles in half the time: it stands in meanwhile."""
        with self._lock:
            if self._alone is None:
                own = self.function
                copy = FunctionType(
                    own.__code__, own.__globals__, own.__name__, closure=own.__closure__
                )
                copy.__module__ = own.__module__
                # Numba's cache tells functions apart by this name, not by how they are compiled.
                copy.__qualname__ = own.__qualname__ + ALONE
                self._have_on_disk(alone=True)
                self._alone = self._made(copy, parallel=False)
        return self._alone

    def _made(self, function: Callable, parallel: bool) -> Any:
        return numba.njit(
            self._signature,
            parallel=parallel,
            fastmath=self._fastmath,
            error_model="numpy",
            nogil=True,
            cache=True,
        )(function)

    def _usable(self) -> Any:
        if self.ahead is None or self.ahead(self):
            return self.compile()
        return self.compile_alone()

    def __call__(self, *arguments: Any) -> Any:
        return (self._compiled or self._usable())(*arguments)


KERNELS: list[Kernel] = []
# Whether this process compiles what others load: see :mod:`zygomorph.core.kernels.elsewhere`.
_compiles_for_others = False


def kernel(
    signature: Any, *, parallel: bool = True, fastmath: bool = True, first: int | None = None
) -> Callable[[Callable], Kernel]:
    """Declare a compiled kernel.

    fastmath : must be off where NaN and infinity have to be seen
    first : of what nearly every study needs, its place in the order in which a frame asks for it;
        such kernels are compiled before all others
    """

    def declare(function: Callable) -> Kernel:
        made = Kernel(function, signature, parallel, fastmath, first)
        KERNELS.append(made)
        return made

    return declare


Progress = Callable[[int, int, str], None]


def compile_named(module: str, name: str, alone: bool = False) -> str:
    """Compile one kernel, whose code is then found on disk by every other process.

    alone : only what stands in for it, see :meth:`Kernel.compile_alone`
    """
    global _compiles_for_others
    _compiles_for_others = True
    importlib.import_module(module)
    found = next(each for each in KERNELS if each.name == name)
    _ = found.compile_alone() if alone else found.compile()
    with suppress(OSError):
        # Without room for the mark it is compiled again.
        mark_complete(_name_on_disk(name, alone))
    return name


def compile_side_by_side(kernels: Sequence[Kernel], progress: Progress | None = None) -> None:
    """Compile in a process for each core: numba compiles one thing at a time in each."""
    with ProcessPoolExecutor(CORES, get_context("spawn")) as pool:
        waiting = [pool.submit(compile_named, k.function.__module__, k.name) for k in kernels]
        for done, each in enumerate(as_completed(waiting), 1):
            name = each.result()
            if progress:
                progress(done, len(kernels), name)


def compile_all(progress: Progress | None = None) -> None:
    """Compile every declared kernel, calling ``progress(done, total, name)`` after each.

    What was compiled before with the same sources is only loaded.
    """
    if not is_complete() and CORES > 1:
        compile_side_by_side(KERNELS, progress)
    for each in KERNELS:
        each.compile()
    mark_complete()


def _name_on_disk(name: str, alone: bool) -> str:
    return f"{name}{ALONE if alone else ''}"


def _is_on_disk(name: str, alone: bool) -> bool:
    return is_complete() or is_complete(_name_on_disk(name, alone))


def _mark(of: str) -> Path:
    """Numba keeps code apart by the path of its source, so each checkout has a mark of its own."""
    place = hashlib.sha256(str(PACKAGE_FOLDER).encode()).hexdigest()[:16]
    return Path(os.environ["NUMBA_CACHE_DIR"]) / f"{of}-{place}"


def _stamp() -> str:
    """Numba compiles anew where a source has another time of change, even with the same text."""
    found = (path.stat() for path in _kernel_sources())
    return hashlib.sha256(repr([(s.st_mtime, s.st_size) for s in found]).encode()).hexdigest()


def is_complete(of: str = "complete") -> bool:
    """Whether all kernels, or those of a mark, were compiled before, with these very sources, and
    lie on disk."""
    mark = _mark(of)
    return mark.is_file() and mark.read_text() == _stamp()


def mark_complete(of: str = "complete") -> None:
    mark = _mark(of)
    mark.parent.mkdir(parents=True, exist_ok=True)
    mark.write_text(_stamp())


@inline
def first_of(chunk, blocks):  # type: ignore[no-untyped-def]
    """The first block of a chunk; the blocks are dealt out so that cores get equal shares."""
    return chunk * blocks // CHUNKS


@per_block
def load(values, lo, m, target):  # type: ignore[no-untyped-def]
    """Copy a block's part of a kernel value (length 1 or n) to ``target[:m]``.

    Inside hot loops a stride that is 0 or 1 at run time would keep LLVM from using SIMD.
    """
    if values.shape[0] == 1:
        value = values[0]
        for k in range(m):
            target[k] = value
    else:
        chosen = values[lo : lo + m]
        for k in range(m):
            target[k] = chosen[k]


@inline
def at(values, i):  # type: ignore[no-untyped-def]
    """The kernel value (length 1 or n) of element ``i``."""
    return values[0] if values.shape[0] == 1 else values[i]
