"""Compiles kernels for another process: a line in for each, a line out when it is done."""

from __future__ import annotations

import signal
import sys

from zygomorph.core.kernels.compiled import compile_named


def serve() -> None:
    """Compile what is asked for until nobody can ask any more."""
    # Ctrl-C is meant for whoever asks; this process ends with it.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    for line in sys.stdin:
        module, name, alone = line.split()
        try:
            compile_named(module, name, alone == "1")
            said = "done"
        except Exception as error:
            said = f"failed {type(error).__name__}"
        sys.stdout.write(f"{said}\n")
        sys.stdout.flush()


if __name__ == "__main__":
    serve()
