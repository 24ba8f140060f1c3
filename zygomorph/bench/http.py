"""Frames from the real server to a client."""

from __future__ import annotations

import http.client
import json
import os
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from urllib.parse import urlsplit

import numpy as np

from zygomorph.bench.figures import Result, result, timed
from zygomorph.bench.sample import sample_study


@contextmanager
def served(**environment: str) -> Iterator[http.client.HTTPConnection]:
    """A connection to the real server, in a process of its own, on a folder of its own.

    environment : variables that it gets besides those of this process
    """
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "zygomorph.cli", "--data", folder, "serve", "--port", "0"]
        process = subprocess.Popen(
            command, stdout=subprocess.PIPE, text=True, env=os.environ | environment
        )
        try:
            assert process.stdout is not None
            address = next(line for line in process.stdout if "http://" in line)
            connection = http.client.HTTPConnection(urlsplit(address.split()[-1]).netloc)
            yield connection
            connection.close()
        finally:
            process.terminate()
            process.wait()


def bench_http() -> list[Result]:
    """The sample study's frames from the server to a Python client's buffer."""
    with served() as connection:

        def ask(method: str, path: str, body: str | None = None) -> bytes:
            connection.request(method, path, body, {"Content-Type": "application/json"})
            answer = connection.getresponse()
            data = answer.read()
            if answer.status >= 300:
                raise RuntimeError(data[:200])
            return data

        document = json.dumps({"document": sample_study().document})
        state = json.loads(ask("POST", "/api/studies", document))
        base = f"/api/studies/{state['id']}/pieces/ball/frame?key={state['motion'][0]['key']}"

        def fetch(frame: int) -> bytes:
            return ask("GET", f"{base}&frame={frame}")

        for frame in range(22):
            fetch(frame)
        # Each frame is asked for once, so that none comes from the server's own cache.
        times = [timed(lambda f=f: fetch(f)) * 1000 for f in range(22, 222)]  # type: ignore[misc]
    return [
        result("http_frame_ms_median", float(np.median(times)), "ms", 5.0),
        result("http_frame_ms_p95", float(np.percentile(times, 95)), "ms", 12.0),
    ]
