"""Prints the OpenAPI document, from which the interface's types are generated."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from zygomorph.api.app import make_app, openapi_document
from zygomorph.api.service import Service


def openapi_text() -> str:
    """The OpenAPI document as JSON, the same for the same models."""
    with tempfile.TemporaryDirectory() as folder:
        app = make_app(Service(Path(folder)))
        return json.dumps(openapi_document(app), indent=1, sort_keys=True, default=str) + "\n"


if __name__ == "__main__":
    print(openapi_text(), end="")
