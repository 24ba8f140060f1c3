"""Connects to a Dask scheduler, and says in plain words why that fails."""

from __future__ import annotations

import asyncio
import logging
import socket
from typing import TYPE_CHECKING, Any

from zygomorph.core.errors import ZygomorphError

if TYPE_CHECKING:
    from distributed import Client

CONNECT_S = 10


def connected(address: str) -> Client:
    """A client of the scheduler at an address such as ``tcp://10.0.0.5:8786``.

    Raises ZygomorphError if no scheduler answers there.
    """
    from distributed import Client

    logging.getLogger("distributed").setLevel(logging.CRITICAL)
    try:
        # Asked first, because a Client waits for ever where something else answers, and one that
        # could not connect holds its thread for twenty seconds when it is collected.
        found = asyncio.run(_identity(address))
        if found.get("type") == "Scheduler":
            return Client(address, timeout=CONNECT_S, direct_to_workers=True, set_as_default=False)
        reason = f"a {str(found.get('type', 'program')).lower()} answers there"
    # What another program answers raises whatever its bytes mean to Dask: MemoryError, for one.
    except Exception as error:
        raise _unreachable(address, _reason(address, error)) from error
    raise _unreachable(address, reason)


async def _identity(address: str) -> dict[str, Any]:
    """What the server at an address says that it is."""
    from distributed.comm.core import connect

    async def asked() -> Any:
        comm = await connect(address, timeout=CONNECT_S / 2)
        try:
            await comm.write({"op": "identity", "reply": True})
            return await comm.read()
        finally:
            comm.abort()

    # Dask's own limit does not cover the handshake.
    answer = await asyncio.wait_for(asked(), CONNECT_S)
    return answer if isinstance(answer, dict) else {}


def _unreachable(address: str, reason: str) -> ZygomorphError:
    return ZygomorphError(
        f"The scheduler at {address} cannot be reached: {reason}.",
        "See that it runs and that its address is right, such as tcp://10.0.0.5:8786.",
    )


def _reason(address: str, error: Exception) -> str:
    if isinstance(error, ValueError) and str(error):
        return str(error)
    if isinstance(error, OSError | TimeoutError):
        return _refusal(address) or f"no scheduler answered within {CONNECT_S} s"
    return "what answers there is not a Dask scheduler"


def _refusal(address: str) -> str | None:
    """The operating system's message if the address takes no connection at all.

    Dask tries until its time is over and then often tells only that.
    """
    from distributed.comm.addressing import get_address_host_port

    try:
        with socket.create_connection(get_address_host_port(address), timeout=2):
            return None
    except OSError as error:
        return error.strerror.lower() if error.strerror else None
