"""The ``zygomorph`` command."""

from __future__ import annotations

import argparse
import json
import signal
import sys
import threading
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

import platformdirs

from zygomorph.core.document.study import Study, parse_study
from zygomorph.core.errors import DocumentError, StepError, ZygomorphError

if TYPE_CHECKING:
    from zygomorph.core.kernels.compile_ahead import CompileAhead

DONE, WRONG_INPUT, WRONG_USAGE, FAILED = 0, 1, 2, 3
DEFAULT_PORT = 8473


def default_data() -> Path:
    return Path(platformdirs.user_data_dir("zygomorph", appauthor=False))


class Failed(ZygomorphError):
    """The work failed though the input was right."""


def _store(data: Path) -> tuple[Any, Any]:
    from zygomorph.store.assets import Assets
    from zygomorph.store.database import open_engine
    from zygomorph.store.studies import Studies

    engine = open_engine(data / "zygomorph.sqlite3")
    return Studies(engine), Assets(engine)


def load_study(name: str, data: Path) -> Study:
    """A file of that name wins; ``stored:NAME`` forces a stored study. Raises ZygomorphError."""
    forced = name.startswith("stored:")
    path = Path(name)
    if not forced and path.is_file():
        try:
            return parse_study(path.read_bytes())
        except OSError as error:
            raise ZygomorphError(f"{path} cannot be read: {error}.") from error
    if not forced and (path.suffix == ".json" or "/" in name):
        raise ZygomorphError(f"There is no file {name}.", "Give a file or the name of a study.")
    studies, assets = _store(data)
    return Study(studies.find(name.removeprefix("stored:")).document, assets.sound)


def _evaluator(data: Path) -> Any:
    from zygomorph.core.evaluation.evaluate import Evaluator

    _, assets = _store(data)
    return Evaluator(assets.mesh, image=assets.image)


def _piece(study: Study, wanted: str | None) -> str:
    if wanted is not None:
        return study.piece(wanted)["id"]
    if not study.pieces:
        raise ZygomorphError("The study has no piece.", "Add one.")
    return study.pieces[0]["id"]


def _print_json(value: Any) -> None:
    print(json.dumps(value, indent=1, ensure_ascii=False))


def _declare_kernels() -> None:
    """Import every module that has kernels."""
    import importlib
    import pkgutil

    import zygomorph.core
    from zygomorph.render import raster  # noqa: F401  has kernels too

    for module in pkgutil.walk_packages(zygomorph.core.__path__, "zygomorph.core."):
        importlib.import_module(module.name)


def _kernels_aside() -> CompileAhead | None:
    """Begin to compile in processes of their own, unless all kernels are there already."""
    from zygomorph.core.kernels.compile_ahead import CompileAhead
    from zygomorph.core.kernels.compiled import is_complete

    if is_complete():
        # Each is loaded when it is called first, which takes some milliseconds.
        return None
    _declare_kernels()

    def say(done: int, total: int) -> None:
        if done == total:
            print("This machine is ready: everything is compiled.", flush=True)

    print("The first start compiles for this machine, aside; it takes a minute or two.", flush=True)
    return CompileAhead(say)


def prepare(arguments: argparse.Namespace) -> int:
    """Compile all kernels, or those that nearly every study needs, with progress."""
    from zygomorph.core.kernels.compile_ahead import compile_first
    from zygomorph.core.kernels.compiled import compile_all

    _declare_kernels()

    def say(done: int, total: int, name: str) -> None:
        print(f"\rcompiling kernels {done}/{total}  {name:<40}", end="", flush=True)

    compile_some = compile_first if arguments.first else compile_all
    compile_some(None if arguments.quiet else say)
    if not arguments.quiet:
        print()
    return DONE


def serve(arguments: argparse.Namespace) -> int:
    from zygomorph.api.app import make_app
    from zygomorph.api.security import LOCAL_HOSTS
    from zygomorph.api.server import listening
    from zygomorph.api.service import Service
    from zygomorph.api.thumbnails import of_entry, of_study
    from zygomorph.core.values.entries import definitions

    compiling = _kernels_aside()
    service = Service(arguments.data, compiling=compiling)
    app = make_app(service, LOCAL_HOSTS | {arguments.host})

    def ask_for_thumbnails() -> None:
        """Asking for a picture's state has it drawn where it is not there yet."""
        for stored in service.studies.all():
            service.thumbnails.state(of_study(stored))
        for sort in ("step", "form"):
            for key in (k for k, d in definitions(sort).items() if not d.needs_file):
                service.thumbnails.state(of_entry(sort, key))

    try:
        server = listening(app, arguments.host, arguments.port)
    except (OSError, ValueError) as error:
        if compiling:
            compiling.close()
        # Of a host that nobody knows the server says only that something is wrong.
        reason = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
        raise Failed(
            f"{arguments.host}:{arguments.port} cannot be served: {reason.rstrip('.')}.",
            "Choose another with --port, or --host 127.0.0.1.",
        ) from error
    print(f"Zygomorph is ready at http://{arguments.host}:{server.effective_port}/", flush=True)
    threading.Thread(target=ask_for_thumbnails, daemon=True).start()
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        service.events.close()
        server.close()
        service.debounce.close()
        service.thumbnails.close()
        if compiling:
            compiling.close()
    return DONE


def seed(data: Path) -> int:
    """Store the demo studies that are not stored yet; returns how many were added."""
    from sqlalchemy import select
    from sqlalchemy.orm import Session

    from zygomorph.render.shipped import example_files
    from zygomorph.store.models import StudyRow

    studies, _ = _store(data)
    with Session(studies.engine) as session:
        known = set(session.scalars(select(StudyRow.name)))
    added = 0
    for path in example_files():
        study = parse_study(path.read_bytes())
        if study.name not in known:
            studies.create(dict(study.document))
            added += 1
    return added


def demo(arguments: argparse.Namespace) -> int:
    added = seed(arguments.data)
    print(f"{added} demo studies added" if added else "The demo studies are there already")
    return serve(arguments)


def catalogue(arguments: argparse.Namespace) -> int:
    from zygomorph.core.registry import describe_catalogue

    described = describe_catalogue()
    if arguments.json:
        _print_json(described)
        return DONE
    for sort in ("forms", "steps", "layers", "signals"):
        print(sort.upper())
        for entry in described[sort]:
            print(f"  {entry['key']:<12} {entry['help']}")
    return DONE


# Findings that are no matter of taste: something that the study names is not there.
ERRORS = frozenset({"link_to_nothing"})


def check(arguments: argparse.Namespace) -> int:
    """Whether the document is valid and every piece can be computed, at two frames; what was
    noticed is told."""
    from zygomorph.core.evaluation.evaluate import Request
    from zygomorph.core.inspect.findings.collect import findings_of

    study = load_study(arguments.study, arguments.data)
    evaluator = _evaluator(arguments.data)
    wrong = 0
    for piece in study.pieces:
        for frame in (0.0, study.loop.frames / 2):
            try:
                evaluator.evaluate(study, Request(piece["id"], frame))
            except StepError as error:
                wrong += 1
                place = f"piece {piece['id']}, step {error.step_id}, frame {frame:g}"
                print(f"{place}: {error}", file=sys.stderr)
                break
    if wrong:
        return WRONG_INPUT
    intended = set(study.document.get("intended", []))
    for each in findings_of(study, evaluator):
        place = f"piece {each.piece}" + (f", step {each.step}" if each.step else "")
        if each.kind in ERRORS:
            wrong += 1
            print(f"{place}: {each.title}. {each.reason}", file=sys.stderr)
        elif each.id not in intended:
            print(f"{place}: {each.title}. {each.reason}")
    if wrong:
        return WRONG_INPUT
    count = len(study.pieces)
    print(f"{study.name}: {count} piece{'' if count == 1 else 's'}, no error found")
    return DONE


def _evaluate(study: Study, piece: str, frame: float, final: bool, data: Path) -> Any:
    from zygomorph.core.evaluation.evaluate import Request

    return _evaluator(data).evaluate(study, Request(piece, frame, final))


def evaluate(arguments: argparse.Namespace) -> int:
    from zygomorph.core.formats.deliver import deliver_glb
    from zygomorph.core.formats.write import WRITERS
    from zygomorph.jobs.delivery import write_whole

    study = load_study(arguments.study, arguments.data)
    piece = _piece(study, arguments.piece)
    kind = arguments.out.suffix.lstrip(".").lower()
    if kind not in (*WRITERS, "glb"):
        print(
            f"--out must end in one of {', '.join('.' + k for k in (*WRITERS, 'glb'))}",
            file=sys.stderr,
        )
        return WRONG_USAGE
    result = _evaluate(study, piece, arguments.frame, arguments.final, arguments.data)
    if kind == "glb":
        whole = _evaluator(arguments.data)
        at = {"piece": piece, "still": arguments.frame, "final": arguments.final}
        data = deliver_glb(study, whole, **at).data
    else:
        data = WRITERS[kind](result.mesh)
    write_whole(arguments.out, data)
    points, faces = len(result.mesh.points), result.mesh.topology.face_count
    print(f"{arguments.out}: {points:,} points, {faces:,} faces, {len(data):,} bytes")
    return DONE


def seam(arguments: argparse.Namespace) -> int:
    from zygomorph.core.inspect.seam import seam_of_study

    study = load_study(arguments.study, arguments.data)
    found = [s.describe() for s in seam_of_study(study, _evaluator(arguments.data))]
    if arguments.json:
        _print_json({"study": study.name, "pieces": found})
        return DONE
    for each in found:
        position = "—" if each["position_m"] is None else f"{each['position_m']:.3g} m"
        velocity = each["velocity_relative"]
        speed = "undefined" if velocity is None else f"{velocity:.2%}"
        print(
            f"{each['piece']}: {each['state']}, position {position}, velocity {speed} "
            f"{each['note']}".rstrip()
        )
    return DONE


def _frame_range(text: str | None, frames: int) -> range:
    if text is None:
        return range(frames)
    try:
        first, _, last = text.partition("-")
        found = range(int(first), int(last or first) + 1)
    except ValueError:
        found = range(0)
    if len(found) == 0:
        raise argparse.ArgumentTypeError(f"--frames takes A-B, not {text!r}")
    return found


def deliver(arguments: argparse.Namespace) -> int:
    from zygomorph.core.formats.deliver import SEQUENCES, deliver_glb, deliver_sequence, deliver_usd
    from zygomorph.jobs.delivery import write_whole

    study = load_study(arguments.study, arguments.data)
    frames = _frame_range(arguments.frames, study.loop.frames)
    show = sys.stderr.isatty()

    def progress(share: float, what: str) -> None:
        if show:
            print(f"\r{share:4.0%} {what:<40}", end="", file=sys.stderr, flush=True)

    evaluator = _evaluator(arguments.data)
    common = {"final": arguments.final, "piece": arguments.piece, "progress": progress}
    if arguments.kind == "glb":
        made = deliver_glb(
            study,
            evaluator,
            tolerance=arguments.tolerance,
            numbers=arguments.numbers,
            copies_as=arguments.copies,
            **common,
        )
        write_whole(arguments.out, made.data)
        for each in made.details:
            print(
                f"{each['name']}: {each['shapes']} shapes by {each['method']}, "
                f"error {each['error_m']:.3g} m ({each['error_relative']:.3%})"
            )
        print(f"{arguments.out}: {len(made.data):,} bytes")
    elif arguments.kind == "usd":
        chosen = {"normals": arguments.normals, "colours": not arguments.no_colours}
        data = deliver_usd(study, evaluator, **chosen, **common)
        write_whole(arguments.out, data)
        print(f"{arguments.out}: {len(data):,} bytes")
    elif arguments.kind in SEQUENCES:
        arguments.out.mkdir(parents=True, exist_ok=True)
        count = 0
        try:
            for name, data in deliver_sequence(study, evaluator, arguments.kind, frames, **common):
                write_whole(arguments.out / name, data)
                count += 1
        except BaseException:
            print(f"{arguments.out}: cut short after {count} files", file=sys.stderr)
            raise
        print(f"{arguments.out}: {count} files")
    else:
        write_whole(
            arguments.out,
            (json.dumps(study.document, indent=1, ensure_ascii=False) + "\n").encode(),
        )
        print(f"{arguments.out}: the study itself")
    return DONE


def bench(arguments: argparse.Namespace) -> int:
    from zygomorph.bench.run import run

    results = run(arguments.only)
    if arguments.json:
        _print_json({"results": results})
    else:
        for each in results:
            met = {True: "met", False: "NOT met", None: ""}[each["met"]]
            goal = "" if each["goal"] is None else f"goal {each['goal']:g}"
            print(f"{each['name']:<34}{each['value']:>12.4g} {each['unit']:<6} {goal:<14}{met}")
    return DONE


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
        "--as", dest="kind", required=True, choices=["glb", "usd", "obj", "ply", "stl", "json"]
    )
    taken.add_argument("--out", type=Path, required=True)
    taken.add_argument("--frames", help="A-B, both included")
    taken.add_argument("--piece")
    taken.add_argument("--final", action="store_true")
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
    timing = command("bench", bench, "measure speed against references")
    timing.add_argument("--json", action="store_true")
    timing.add_argument("--only", help="only figures whose name begins like this")
    return top


def _stop(_signal: int, _frame: Any) -> None:
    raise KeyboardInterrupt


def main(argv: Sequence[str] | None = None) -> int:
    arguments = parser().parse_args(argv)
    # Ended from outside as by the keyboard, so that nothing half written stays.
    if threading.current_thread() is threading.main_thread():
        signal.signal(signal.SIGTERM, _stop)
    try:
        return arguments.work(arguments)
    except KeyboardInterrupt:
        print("Stopped.", file=sys.stderr)
        return FAILED
    except argparse.ArgumentTypeError as error:
        print(str(error), file=sys.stderr)
        return WRONG_USAGE
    except DocumentError as error:
        for path, message in error.problems:
            print(f"{path or '/'}: {message}", file=sys.stderr)
        return WRONG_INPUT
    except StepError as error:
        print(f"step {error.step_id}: {error}", file=sys.stderr)
        return FAILED
    except Failed as error:
        print(str(error), file=sys.stderr)
        return FAILED
    except ZygomorphError as error:
        print(str(error), file=sys.stderr)
        return WRONG_INPUT
    except OSError as error:
        print(f"The work failed: {error}", file=sys.stderr)
        return FAILED


if __name__ == "__main__":
    sys.exit(main())
