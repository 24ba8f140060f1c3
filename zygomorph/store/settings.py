"""What is chosen for the program as a whole, in a file beside the studies."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any


class Settings:
    """Values by their names. A file that cannot be read has none."""

    def __init__(self, path: Path) -> None:
        self._path = path

    def get(self, name: str) -> Any:
        return self._all().get(name)

    def put(self, name: str, value: Any) -> None:
        """Raises OSError, and then keeps what was."""
        told = self._all() | {name: value}
        partial = self._path.with_name(self._path.name + ".part")
        partial.write_text(json.dumps(told, indent=1))
        partial.replace(self._path)

    def _all(self) -> dict[str, Any]:
        try:
            found = json.loads(self._path.read_text())
        except (OSError, ValueError):
            return {}
        return found if isinstance(found, dict) else {}
