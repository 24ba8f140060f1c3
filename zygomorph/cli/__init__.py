"""The ``zygomorph`` command."""

from __future__ import annotations

import argparse
import signal
import sys
import threading
from collections.abc import Sequence
from typing import Any

from zygomorph.cli.arguments import parser
from zygomorph.cli.serving import seed
from zygomorph.cli.stored import FAILED, WRONG_INPUT, WRONG_USAGE, Failed
from zygomorph.core.errors import DocumentError, StepError, ZygomorphError

__all__ = ["main", "seed"]


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
