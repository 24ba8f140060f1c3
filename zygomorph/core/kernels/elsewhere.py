"""Has kernels compiled by another process, which is kept for the next.

A kernel that has just been compiled in a process may differ in the last bit from the same kernel
read back from the disk: the first run of a program would give other bytes than all later ones. So
code is always read from the disk, where another process has put it.
"""

from __future__ import annotations

import atexit
import subprocess
import sys
import threading

# What the process runs: see :mod:`zygomorph.core.kernels.compile_server`.
SERVER = "zygomorph.core.kernels.compile_server"


class Elsewhere:
    """The other process, begun when it is first asked."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[str] | None = None
        self._lock = threading.Lock()

    def compile(self, module: str, name: str, alone: bool) -> bool:
        """Whether the other process has compiled a kernel; it cannot where it does not find the
        module."""
        with self._lock:
            try:
                process = self._begun()
                assert process.stdin is not None and process.stdout is not None  # both are pipes
                process.stdin.write(f"{module} {name} {int(alone)}\n")
                process.stdin.flush()
                return process.stdout.readline() == "done\n"
            except OSError:
                # It was ended, or there is no room for another process.
                return False

    def _begun(self) -> subprocess.Popen[str]:
        if self._process is None or self._process.poll() is not None:
            self._process = subprocess.Popen(
                [sys.executable, "-m", SERVER],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                text=True,
            )
            # It ends when nobody can ask it any more, also where this process is killed.
            atexit.register(self.close)
        return self._process

    def close(self) -> None:
        """End the other process."""
        process, self._process = self._process, None
        if process is not None:
            process.terminate()
            process.wait()


ELSEWHERE = Elsewhere()
