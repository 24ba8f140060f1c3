"""Headless Chromium, which draws the stage's pictures for the command line."""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from zygomorph.core.errors import ZygomorphError

# As a browser draws without a graphics card: pages by the processor, and WebGL in software.
SOFTWARE = (
    "--no-sandbox",
    "--disable-gpu-compositing",
    "--use-gl=angle",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
)
# It asks nobody for anything, and goes on at full speed though nobody sees it.
QUIET = (
    "--headless",
    "--no-first-run",
    "--no-default-browser-check",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-extensions",
    "--disable-background-timer-throttling",
    "--disable-renderer-backgrounding",
    "--mute-audio",
)
NAMES = ("chromium", "chromium-browser", "google-chrome")


def chromium() -> str | None:
    """Path of the browser; None if none is installed. The variable CHROMIUM overrides it."""
    for name in (os.environ.get("CHROMIUM", ""), *NAMES):
        path = shutil.which(name) if name else None
        if path:
            return path
    return None


@contextmanager
def showing(address: str) -> Iterator[subprocess.Popen[bytes]]:
    """A context with Chromium showing a page.

    Raises ZygomorphError if it is not installed.
    """
    path = chromium()
    if path is None:
        raise ZygomorphError(
            "Pictures are drawn by a browser, and no Chromium is installed here.",
            "Install one (Debian: apt install chromium), name one in the variable CHROMIUM, or "
            "deliver from the window.",
        )
    with tempfile.TemporaryDirectory(prefix="zygomorph-", ignore_cleanup_errors=True) as own:
        profile = f"--user-data-dir={Path(own) / 'profile'}"
        process = subprocess.Popen(
            [path, *QUIET, *SOFTWARE, profile, address],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        try:
            yield process
        finally:
            process.terminate()
            try:
                process.wait(10)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()
