"""The web server, and how it deals with connections."""

from __future__ import annotations

from typing import Any

from zygomorph.api.security import CLIP_LIMIT

# Threads that answer. Each window's stream of events holds one for as long as it is open; the
# others are there for work, however many windows there are (see events.MAX_STREAMS).
STREAMS = 24
WORKING = 24
CONNECTIONS = 1000
# Connections that one client may hold. A browser has six for each window; what holds many more has
# lost count of them.
MOST_OF_ONE = 300


def listening(app: Any, host: str, port: int) -> Any:
    """A server that has its address and runs when told to. Raises OSError or ValueError where the
    address cannot be had."""
    from waitress import create_server
    from waitress.server import BaseWSGIServer

    sockets: dict[int, Any] = {}
    server = create_server(
        app,
        map=sockets,
        host=host,
        port=port,
        threads=STREAMS + WORKING,
        send_bytes=1,
        max_request_body_size=CLIP_LIMIT + 1_000_000,
        ident="zygomorph",
        # A connection that says nothing is let go soon: a browser opens a new one at no cost.
        # Streams of events are kept awake by their heartbeat.
        channel_timeout=60,
        cleanup_interval=10,
        connection_limit=CONNECTIONS,
        asyncore_use_poll=True,
        # Read on while a request is worked on: so it is seen when a client leaves.
        channel_request_lookahead=1,
    )
    for each in list(sockets.values()):
        if isinstance(each, BaseWSGIServer):
            each.channel_class = _fair_channel()
    return server


def _fair_channel() -> Any:
    from waitress.channel import HTTPChannel

    class FairChannel(HTTPChannel):
        """A connection. Where its client has too many, the one that has been idle for longest is
        closed for it, or itself where all are at work."""

        def __init__(self, server: Any, sock: Any, addr: Any, adj: Any, map: Any = None) -> None:
            super().__init__(server, sock, addr, adj, map=map)
            of_client = [c for c in server.active_channels.values() if c.addr[0] == addr[0]]
            if len(of_client) <= MOST_OF_ONE:
                return
            idle = [c for c in of_client if not c.requests and c is not self]
            min(idle, key=lambda c: c.last_activity, default=self).handle_close()

    return FairChannel
