"""Read a USD file in a process of its own, which a damaged file may end or hold up."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np

from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.polygons import Soup

# Reading takes about a second for ten megabytes; the rest is for slow machines.
SECONDS = 20.0
SECONDS_A_BYTE = 1e-6
# Address space of the process; a damaged file may announce any number of values.
BYTES = 12_000_000_000
TOLD = 3


def read_usd(data: bytes, ending: str) -> Soup:
    """All meshes and curves of the stage in one, where they stand in it at its first moment, in
    metres and with y up as the stage says; its points where it holds neither.

    Raises MeshFileError.
    """
    with tempfile.TemporaryDirectory(prefix="zygomorph-usd-") as folder:
        path = Path(folder) / f"stage.{ending}"
        path.write_bytes(data)
        found = Path(folder) / "found.npz"
        seconds = SECONDS + SECONDS_A_BYTE * len(data)
        # With several threads its library waits for itself on some damaged files.
        alone = {**os.environ, "PXR_WORK_THREAD_LIMIT": "1"}
        command = [sys.executable, "-m", "zygomorph.core.formats.usd_apart", str(path), str(found)]
        try:
            ended = subprocess.run(
                command,
                stdin=subprocess.DEVNULL,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                timeout=seconds,
                cwd=folder,
                env=alone,
            )
        except subprocess.TimeoutExpired as error:
            raise MeshFileError(
                f"The USD file could not be read within {seconds:.3g} seconds.",
                "It is damaged or very large; export the mesh alone.",
            ) from error
        if ended.returncode == TOLD:
            told = json.loads(ended.stdout)
            raise MeshFileError(told["message"], told["hint"])
        if ended.returncode != 0 or not found.exists():
            raise MeshFileError(
                "The USD file is damaged: reading it broke off.", "Export it again."
            )
        with np.load(found) as arrays:
            kept = dict(arrays)
    at_corners = {n.removeprefix("corner_"): v for n, v in kept.items() if n.startswith("corner_")}
    return Soup(
        kept["points"],
        kept["corners"],
        kept["face_starts"],
        at_corners,
        kept.get("parts"),
        kept["curve_points"],
        kept["curve_starts"],
    )


def main(path: Path, found: Path) -> int:
    """The work of the process: the file to arrays, or what is wrong with it as JSON."""
    import resource

    from zygomorph.core.formats.read_usd import read_stage

    resource.setrlimit(resource.RLIMIT_AS, (BYTES, BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    # What the library prints by itself is not the answer.
    answer = os.fdopen(os.dup(1), "w")
    os.dup2(2, 1)
    try:
        soup = read_stage(path)
    except MeshFileError as error:
        answer.write(json.dumps({"message": error.message, "hint": error.hint}))
        answer.close()
        return TOLD
    arrays = {f"corner_{name}": values for name, values in soup.at_corners.items()}
    if soup.parts is not None:
        arrays["parts"] = soup.parts
    np.savez(
        found,
        points=soup.points,
        corners=soup.corners,
        face_starts=soup.face_starts,
        curve_points=soup.curve_points,
        curve_starts=soup.curve_starts,
        **arrays,  # type: ignore[arg-type]
    )
    return 0


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1]), Path(sys.argv[2])))
