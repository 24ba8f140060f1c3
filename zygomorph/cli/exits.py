"""The exit codes of the ``zygomorph`` command."""

DONE, WRONG_INPUT, WRONG_USAGE, FAILED = 0, 1, 2, 3
