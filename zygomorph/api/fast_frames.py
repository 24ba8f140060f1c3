"""A short way for frames, in front of the web framework.

A frame that is asked for by its content key needs no routing, no request object and no response
object; without them it is on its way half a millisecond earlier. The checks and the headers are
the same. Whatever is not plain, a wrong query, a key that is not in memory, an error, goes the
long way and is answered there.
"""

from __future__ import annotations

import re
import time as clock
from collections.abc import Callable, Iterable, Mapping
from typing import TYPE_CHECKING, Any
from urllib.parse import parse_qsl

from pydantic import ValidationError

from zygomorph.api.frames import MEDIA_TYPE, FrameOptions
from zygomorph.api.security import PLAIN_HEADERS, Asked, policy, refusal
from zygomorph.api.service import Service
from zygomorph.api.shapes import FrameQuery
from zygomorph.core.errors import Cancelled, ZygomorphError

if TYPE_CHECKING:
    from _typeshed.wsgi import StartResponse, WSGIApplication

IMMUTABLE = "private, max-age=31536000, immutable"
_ADDRESS = re.compile(r"/api/studies/([\w-]+)/pieces/([\w-]+)/frame")
_HEADERS = [
    ("Content-Type", MEDIA_TYPE),
    ("Cache-Control", IMMUTABLE),
    ("Content-Security-Policy", policy()),
    *PLAIN_HEADERS.items(),
]


class InPlace:
    """Bytes read as a file, of which no copy is made."""

    def __init__(self, data: memoryview) -> None:
        self._data = data
        self._at = 0

    def read(self, count: int = -1) -> memoryview:
        end = len(self._data) if count < 0 else min(self._at + count, len(self._data))
        part = self._data[self._at : end]
        self._at = end
        return part

    def tell(self) -> int:
        return self._at

    def seek(self, to: int, whence: int = 0) -> int:
        self._at = (0, self._at, len(self._data))[whence] + to
        return self._at

    def close(self) -> None:
        self._data = memoryview(b"")


def as_file(environ: Mapping[str, Any], data: memoryview) -> Iterable[bytes]:
    """Bytes as a file that the server reads in place, instead of copying them to its buffers."""
    wrap = environ.get("wsgi.file_wrapper")
    return [bytes(data)] if wrap is None else wrap(InPlace(data), len(data))


def has_left(environ: Mapping[str, Any]) -> Callable[[], bool]:
    """Says whether who asked has closed the connection, so that nobody reads the answer."""
    left: Callable[[], bool] = environ.get("waitress.client_disconnected", lambda: False)
    return left


def timing(started: float) -> str:
    """How long a frame took here, waiting for its turn included, as browsers read it (W3C Server
    Timing). started : seconds by the clock for durations"""
    return f"frame;dur={(clock.perf_counter() - started) * 1000:.2f}"


class FastFrames:
    """Answers what it can, and hands on the rest."""

    def __init__(self, app: WSGIApplication, service: Service, hosts: frozenset[str]) -> None:
        self._app = app
        self._service = service
        self._hosts = hosts

    def __call__(
        self, environ: dict[str, Any], start_response: StartResponse, /
    ) -> Iterable[bytes]:
        started = clock.perf_counter()
        data = self._frame(environ)
        if data is None:
            return self._app(environ, start_response)
        own = [("Content-Length", str(len(data))), ("Server-Timing", timing(started))]
        start_response("200 OK", [*_HEADERS, *own])
        return as_file(environ, data)

    def _frame(self, environ: dict[str, Any]) -> memoryview | None:
        found = _ADDRESS.fullmatch(environ["PATH_INFO"])
        if found is None or environ["REQUEST_METHOD"] != "GET":
            return None
        if refusal(Asked.of(environ), self._hosts) is not None:
            return None
        try:
            query = FrameQuery.model_validate(dict(parse_qsl(environ["QUERY_STRING"])))
            study = self._service.known_study(query.key)
            if study is None:
                return None
            return self._service.frame(
                study,
                found[2],
                FrameOptions.of(query),
                query.mask_of,
                query.many,
                has_left(environ),
                found[1],
            )
        except (ValidationError, ZygomorphError, Cancelled):
            return None
