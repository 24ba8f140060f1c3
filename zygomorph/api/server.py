"""The web server, and how it deals with connections."""

from __future__ import annotations

from typing import Any


def listening(app: Any, host: str, port: int) -> Any:
    """A server that has its address and runs when told to. Raises OSError or ValueError where the
    address cannot be had."""
    from waitress import create_server

    return create_server(
        app,
        host=host,
        port=port,
        threads=32,
        send_bytes=1,
        max_request_body_size=300_000_000,
        ident="zygomorph",
        # A connection that says nothing is let go soon: a browser opens a new one at no cost.
        # Streams of events are kept awake by their heartbeat.
        channel_timeout=60,
        cleanup_interval=10,
        connection_limit=1000,
        asyncore_use_poll=True,
        # Read on while a request is worked on: so it is seen when a client leaves.
        channel_request_lookahead=1,
    )
