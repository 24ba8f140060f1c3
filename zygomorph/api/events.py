"""Server-sent events: changes by other windows and progress of jobs."""

from __future__ import annotations

import json
import queue
import threading
from collections.abc import Iterator
from contextlib import suppress
from typing import Any

from zygomorph.api.server import STREAMS

HEARTBEAT_SECONDS = 10.0
MAX_STREAMS = STREAMS - 1


class Events:
    def __init__(self) -> None:
        self._streams: list[queue.Queue[str]] = []
        self._lock = threading.Lock()

    def publish(self, kind: str, data: dict[str, Any]) -> None:
        text = f"event: {kind}\ndata: {json.dumps(data)}\n\n"
        with self._lock:
            streams = list(self._streams)
        for stream in streams:
            try:
                stream.put_nowait(text)
            except queue.Full:
                # A window that does not read will load the study again when it comes back.
                continue

    def stream(self) -> Iterator[str]:
        """Events from now on, with a heartbeat. The oldest stream ends when there are too many,
        since each holds a thread of the server; its window connects again if it still wants."""
        own: queue.Queue[str] = queue.Queue(maxsize=256)
        with self._lock:
            self._streams.append(own)
            dropped = self._streams.pop(0) if len(self._streams) > MAX_STREAMS else None
        if dropped is not None:
            dropped.put("")
        try:
            yield "retry: 2000\n\nevent: hello\ndata: {}\n\n"
            while True:
                try:
                    text = own.get(timeout=HEARTBEAT_SECONDS)
                except queue.Empty:
                    text = ": still here\n\n"
                if not text:
                    return
                yield text
        finally:
            with self._lock:
                if own in self._streams:
                    self._streams.remove(own)

    def close(self) -> None:
        """End all streams, and so the threads that serve them."""
        with self._lock:
            streams = list(self._streams)
        for stream in streams:
            with suppress(queue.Full):
                stream.put_nowait("")
