"""Parses the command line, runs the command and maps each kind of error to its exit code."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence

from zygomorph.cli.arguments import parser
from zygomorph.cli.exits import FAILED, WRONG_INPUT, WRONG_USAGE
from zygomorph.cli.stored import Failed
from zygomorph.core.errors import DocumentError, StepError, ZygomorphError


def dispatch(argv: Sequence[str] | None) -> int:
    """Run one command. ``None`` stands for the arguments of the process. Returns its exit code."""
    arguments = parser().parse_args(argv)
    try:
        code: int = arguments.work(arguments)
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
    return code
