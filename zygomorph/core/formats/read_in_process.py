"""Read files from elsewhere in a process of its own, which has little memory and little time.

A damaged file, or one that was made for it, may end the process that reads it, hold it up for ever,
or ask it for any amount of memory: libraries take what a file announces for granted. What was read
comes back as plain arrays, and errors as words.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from collections.abc import Mapping
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np

from zygomorph.core.animation.sound.errors import SoundFileError
from zygomorph.core.errors import MeshFileError, ZygomorphError
from zygomorph.core.formats.soup import Report
from zygomorph.core.geometry.image import ColourImage, HeightImage
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.values.sound.track import Track

# Reading takes about a second for ten megabytes; the rest is for slow machines.
SECONDS = 20.0
SECONDS_A_BYTE = 1e-6
# Memory beyond that of the program itself: text has a few bytes a number, which become eight, and
# are held two or three times while points are joined.
BYTES = 700_000_000
BYTES_A_BYTE = 24
# How the process ends where it has words for what is wrong.
TOLD = 3
ERRORS: Mapping[str, type[ZygomorphError]] = {
    "mesh": MeshFileError,
    "picture": MeshFileError,
    "film": MeshFileError,
    "sound": SoundFileError,
}
# Said of a film that lies as this program keeps it.
KEPT_FILM = "kept film"
_TOPOLOGY = ("corners", "face_starts", "curve_points", "curve_starts", "curve_closed")


def read_mesh(data: bytes, filename: str) -> tuple[Mesh, Report]:
    """Read a mesh file, or the outlines of a drawing, by its ending.

    Raises MeshFileError that says where the file is wrong and what helps.
    """
    arrays, told = _read("mesh", data, filename)
    named: dict[str, Any] = {name: arrays[name] for name in _TOPOLOGY}
    topology = Topology(len(arrays["points"]), **named)
    attributes: dict[str, dict[str, np.ndarray]] = {}
    for name, values in arrays.items():
        domain, _, own = name.partition("|")
        if own:
            attributes.setdefault(domain, {})[own] = values
    return Mesh(arrays["points"], topology, attributes), Report(**told)


def read_image(data: bytes) -> tuple[HeightImage, ColourImage]:
    """Read a picture as heights and as colours. Raises MeshFileError."""
    arrays, _ = _read("picture", data, "picture")
    return HeightImage(arrays["pixels"]), ColourImage(arrays["colours"])


def read_radiance(data: bytes) -> np.ndarray | None:
    """(rows, columns, 3) float32 of a picture that has more than colours; None of others. Raises
    MeshFileError."""
    arrays, _ = _read("picture", data, "picture")
    return arrays.get("radiance")


def read_film(data: bytes) -> tuple[bytes, dict[str, Any]]:
    """Read a film or a sequence of pictures: a ZIP of its pictures, and how many there are, their
    size and their rate. Raises MeshFileError."""
    arrays, told = _read("film", data, "film")
    return arrays["archive"].tobytes(), told


def read_kept_film(data: bytes, rate: Any) -> dict[str, Any]:
    """What is told of a film that this program keeps, where it comes from elsewhere.

    rate : what is said there of its pictures a second, which they do not tell themselves

    Raises MeshFileError.
    """
    _, told = _read("film", data, KEPT_FILM)
    known = isinstance(rate, int | float) and not isinstance(rate, bool) and 0 < rate <= 1000
    return told | {"rate": float(rate) if known else None}


def read_sound(data: bytes) -> Track:
    """Read a sound with all its channels in one. Raises SoundFileError."""
    arrays, told = _read("sound", data, "sound")
    return Track(arrays["samples"], told["rate"])


def _read(sort: str, data: bytes, filename: str) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """What the process makes of a file. Raises the error of its sort."""
    wrong = ERRORS[sort]
    # Only the ending matters, and only of the sorts that are known.
    ending = "".join(c for c in filename.rpartition(".")[2].lower() if c.isalnum())[:8]
    seconds = SECONDS + SECONDS_A_BYTE * len(data)
    with tempfile.TemporaryDirectory(prefix="zygomorph-read-") as folder:
        given, found = Path(folder) / f"given.{ending}", Path(folder) / "found.npz"
        given.write_bytes(data)
        # With several threads OpenUSD waits for itself on some damaged files, and linear algebra
        # takes address space for each.
        alone = {**os.environ, "PXR_WORK_THREAD_LIMIT": "1", "OPENBLAS_NUM_THREADS": "1"}
        room = BYTES + BYTES_A_BYTE * len(data)
        here = [str(given), str(found), filename[-255:], str(room), str(int(seconds) + 1)]
        try:
            ended = subprocess.run(
                [sys.executable, "-m", "zygomorph.core.formats.read_in_process", sort, *here],
                stdin=subprocess.DEVNULL,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                timeout=seconds,
                cwd=folder,
                env=alone,
            )
        except subprocess.TimeoutExpired as error:
            raise wrong(
                f"The file could not be read within {seconds:.3g} seconds.",
                "It is damaged or very large; export what you need of it alone.",
            ) from error
        if ended.returncode == TOLD:
            told = json.loads(ended.stdout)
            raise wrong(told["message"], told["hint"])
        if ended.returncode != 0 or not found.exists():
            raise wrong("The file is damaged: reading it broke off.", "Export it again.")
        with np.load(found) as arrays:
            return dict(arrays), json.loads(ended.stdout)


def _mesh(given: Path, filename: str) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    from zygomorph.core.formats.read import read_here

    mesh, report = read_here(given.read_bytes(), filename)
    arrays = {name: getattr(mesh.topology, name) for name in _TOPOLOGY}
    for domain, named in mesh.attributes.items():
        arrays |= {f"{domain}|{name}": values for name, values in named.items()}
    return {"points": mesh.points, **arrays}, asdict(report)


def _picture(given: Path, filename: str) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    from zygomorph.core.formats.read_hdr import as_shown, is_hdr, read_hdr
    from zygomorph.core.formats.read_image import heights_of, read_colours, read_image

    data = given.read_bytes()
    if is_hdr(data):
        light = read_hdr(data)
        shown = as_shown(light)
        return {"pixels": heights_of(shown), "colours": shown.pixels, "radiance": light}, {}
    return {"pixels": read_image(data).pixels, "colours": read_colours(data).pixels}, {}


def _film(given: Path, filename: str) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    from zygomorph.core.formats.read_film import read_film, read_kept

    found = read_kept(given) if filename == KEPT_FILM else read_film(given)
    (columns, rows), rate = found.size, found.rate
    told = {"frames": found.frames, "rate": rate, "width": columns, "height": rows}
    return {"archive": np.frombuffer(found.archive, np.uint8)}, told


def _sound(given: Path, filename: str) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    from zygomorph.core.formats.read_sound import read_sound

    track = read_sound(given.read_bytes())
    return {"samples": track.samples}, {"rate": track.rate}


WORK = {"mesh": _mesh, "picture": _picture, "film": _film, "sound": _sound}


def _prepare(sort: str, filename: str) -> None:
    """Load what reading takes, whose own memory is not the file's."""
    if sort == "sound":
        import soundfile  # noqa: F401
    elif sort == "picture":
        import zygomorph.core.formats.read_image
    elif sort == "film":
        import zygomorph.core.formats.read_film  # noqa: F401
    else:
        from zygomorph.core.formats.read import USD_ENDINGS

        if filename.lower().endswith(USD_ENDINGS):
            from pxr import Usd

            Usd.Stage.CreateInMemory()


def _limit(room: int, seconds: int) -> None:
    """Hold this process to so many bytes more than it has, and to so many seconds of work."""
    import resource

    taken = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (taken + room, taken + room))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def main(sort: str, given: str, found: str, filename: str, room: str, seconds: str) -> int:
    """The work of the process: the file to arrays, or what is wrong with it as JSON."""
    # What libraries print by themselves is not the answer.
    answer = os.fdopen(os.dup(1), "w")
    os.dup2(2, 1)
    try:
        _prepare(sort, filename)
        if sys.platform == "linux":
            _limit(int(room), int(seconds))
        arrays, told = WORK[sort](Path(given), filename)
        np.savez(found, **arrays)  # type: ignore[arg-type]
    except ZygomorphError as error:
        words = {"message": error.message, "hint": error.hint}
    except MemoryError:
        words = {
            "message": "The file asks for more memory than one of its size should need.",
            "hint": "It is damaged, or holds very much; export what you need of it alone.",
        }
    except RecursionError:
        words = {"message": "The file is nested too deeply.", "hint": "Flatten what it holds."}
    else:
        json.dump(told, answer)
        answer.close()
        return 0
    json.dump(words, answer)
    answer.close()
    return TOLD


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
