"""The arguments of the ``zygomorph`` command."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import Any

from zygomorph.cli.exchanging import bring_in, export
from zygomorph.cli.files import deliver, evaluate
from zygomorph.cli.pictures import PICTURES, size_of
from zygomorph.cli.serving import demo, prepare, serve
from zygomorph.cli.stored import default_data
from zygomorph.cli.telling import bench, catalogue, check, seam
from zygomorph.cli.working import worker
from zygomorph.render.final.settings import LAYERS

DEFAULT_PORT = 8473


def _between(low: float, high: float, what: str, kind: type = float) -> Callable[[str], Any]:
    """A number of the command line within bounds that are told."""

    def read(text: str) -> Any:
        try:
            value = kind(text)
        except ValueError:
            value = float("nan")
        if not low <= value <= high:
            raise argparse.ArgumentTypeError(f"{what} is from {low:g} to {high:g}, not {text!r}")
        return value

    return read


def parser() -> argparse.ArgumentParser:
    top = argparse.ArgumentParser(prog="zygomorph", description="Procedural surface animation.")
    top.add_argument("--data", type=Path, default=default_data(), help="folder of the studies")
    commands = top.add_subparsers(dest="command", required=True, metavar="COMMAND")

    def command(name: str, work: Callable[[argparse.Namespace], int], help: str) -> Any:
        made = commands.add_parser(name, help=help)
        made.set_defaults(work=work)
        made.add_argument(
            "--data", type=Path, default=argparse.SUPPRESS, help="folder of the studies"
        )
        return made

    for name, work, help in (
        ("demo", demo, "add the demo studies if absent, and serve"),
        ("serve", serve, "serve the studies"),
    ):
        served = command(name, work, help)
        served.add_argument("--host", default="127.0.0.1")
        port = _between(0, 65535, "a port", int)
        served.add_argument("--port", type=port, default=DEFAULT_PORT)
        served.add_argument(
            "--scheduler", help="of a Dask cluster that works on deliveries, an address"
        )
    compiles = command("prepare", prepare, "compile all kernels now")
    compiles.add_argument("--first", action="store_true", help="only what most studies need")
    compiles.add_argument("--quiet", action="store_true")
    command("catalogue", catalogue, "all forms, steps, layers and signals").add_argument(
        "--json", action="store_true"
    )
    command("check", check, "check a study").add_argument("study")
    one = command("evaluate", evaluate, "one frame of a piece to a file")
    one.add_argument("study")
    one.add_argument("--frame", type=_between(-1e6, 1e6, "a frame"), default=0.0)
    one.add_argument("--piece")
    one.add_argument("--final", action="store_true")
    one.add_argument("--out", type=Path, required=True)
    closing = command("seam", seam, "how well the loop closes")
    closing.add_argument("study")
    closing.add_argument("--json", action="store_true")
    taken = command("deliver", deliver, "deliver a study")
    taken.add_argument("study")
    taken.add_argument(
        "--as",
        dest="kind",
        required=True,
        choices=["glb", "usd", "model-page", "obj", "ply", "stl", "json", "bundle", *PICTURES],
    )
    taken.add_argument("--out", type=Path, required=True)
    taken.add_argument("--frames", help="A-B, both included")
    taken.add_argument("--piece")
    taken.add_argument(
        "--final",
        action="store_true",
        help="at final quality; pictures are then drawn by path tracing",
    )
    tolerance = _between(1e-6, 1.0, "a tolerance")
    taken.add_argument("--tolerance", type=tolerance, help="largest error as a share of the size")
    taken.add_argument(
        "--numbers",
        choices=["plain", "compact"],
        default="plain",
        help="of a GLB: 32-bit floats that all readers take, or half as large for readers of "
        "KHR_mesh_quantization",
    )
    taken.add_argument(
        "--copies",
        choices=["nodes", "instances"],
        default="nodes",
        help="of a GLB: a node for each copy, or all that stand still as instances in one node, "
        "for readers of EXT_mesh_gpu_instancing",
    )
    taken.add_argument("--normals", action="store_true", help="write normals to USD as well")
    taken.add_argument("--no-colours", action="store_true", help="write no colours to USD")
    drawn = taken.add_argument_group("pictures", f"of {', '.join(PICTURES)}")
    drawn.add_argument("--size", type=size_of, help="WIDTHxHEIGHT in pixels, 1280x720 by default")
    drawn.add_argument("--camera", help="name of a camera, the study's by default")
    drawn.add_argument(
        "--samples",
        type=_between(1, 16_384, "samples", int),
        help="pictures, or paths of light, that each pixel is the mean of: 4 as the stage draws, "
        "64 by path tracing",
    )
    drawn.add_argument(
        "--drawn",
        choices=["stage", "traced"],
        help="as the stage does, by a browser, or by path tracing; traced with --final",
    )
    drawn.add_argument(
        "--bounces",
        type=_between(1, 64, "bounces", int),
        default=8,
        help="how often light is thrown on at most, by path tracing",
    )
    drawn.add_argument(
        "--clamp",
        type=_between(0, 1e6, "a clamp"),
        default=10.0,
        help="the most light that one path may bring; 0 for any",
    )
    drawn.add_argument(
        "--layers",
        default="",
        help=f"of a traced png or exr, with commas: {', '.join(LAYERS)}, and masks",
    )
    drawn.add_argument("--keep-noise", action="store_true", help="of path tracing")
    drawn.add_argument("--blur", action="store_true", help="motion blur, by the camera's shutter")
    drawn.add_argument("--step", type=_between(1, 1000, "a step", int), default=1)
    drawn.add_argument("--rate", type=_between(0.5, 240, "a rate"), help="pictures a second")
    drawn.add_argument("--repeats", type=_between(1, 200, "repeats", int), default=1)
    drawn.add_argument("--transparent", action="store_true", help="without the backdrop")
    drawn.add_argument("--pixels", choices=["yuv420p", "yuv444p", "yuv420p10le", "yuva420p"])
    drawn.add_argument("--effort", choices=["small", "good", "best"], default="good")
    drawn.add_argument(
        "--count", type=_between(2, 64, "a count", int), default=12, help="pictures on a sheet"
    )
    shared = taken.add_argument_group("jobs")
    shared.add_argument("--scheduler", help="of a Dask cluster that makes the frames, an address")
    shared.add_argument(
        "--resume", action="store_true", help="go on with what an earlier run did not finish"
    )
    brought = command("import", bring_in, "bring in studies with all they use")
    brought.add_argument(
        "paths", nargs="+", type=Path, help="bundles, documents, ZIPs of such, or folders"
    )
    saved = command("export", export, "save studies with all they use, each as one ZIP")
    saved.add_argument("folder", type=Path)
    saved.add_argument("studies", nargs="*", help="ids or names; all by default")
    joined = command("worker", worker, "lend this machine to a cluster")
    joined.add_argument("address", help="of its scheduler, such as tcp://10.0.0.5:8786")
    joined.add_argument(
        "--cores", type=_between(1, 4096, "cores", int), help="for each frame; all by default"
    )
    timing = command("bench", bench, "measure speed against references")
    timing.add_argument("--json", action="store_true")
    timing.add_argument("--only", help="only figures whose name begins like this")
    return top
