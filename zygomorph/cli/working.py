"""The command that lends this machine to a cluster."""

from __future__ import annotations

import argparse
import asyncio
import os

from zygomorph.cli.exits import DONE
from zygomorph.cli.stored import Failed


def worker(arguments: argparse.Namespace) -> int:
    """Join a cluster and work until it ends, or this is stopped."""
    from zygomorph.jobs.queue.cluster import program_of_cluster
    from zygomorph.jobs.queue.making import CORES_NAMED
    from zygomorph.jobs.queue.program_version import program_version
    from zygomorph.render.final.engine import llvm_library

    cores = arguments.cores or os.cpu_count() or 1
    for name in (CORES_NAMED, "OMP_NUM_THREADS", "OIDN_NUM_THREADS"):
        os.environ[name] = str(cores)
    wanted = program_of_cluster(arguments.address)
    own = program_version()
    if wanted is not None and wanted != own:
        raise Failed(
            f"The frames of this cluster are made by version {wanted}; this is {own}.",
            "Install the same version on both machines, and LLVM 19 on both or neither.",
        )
    renderer = "LLVM 19" if llvm_library() else "no LLVM 19, so final pictures take longer"
    print(f"Working for {arguments.address} with {cores} cores ({renderer})", flush=True)
    asyncio.run(_work(arguments.address))
    return DONE


async def _work(address: str) -> None:
    from distributed import Nanny

    # A frame that ends its process is not the end of this one.
    async with Nanny(address, nthreads=1, memory_limit=0) as nanny:
        await nanny.finished()
