"""The whole product on a database of its own, for as long as it is measured."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from rhytonic.launch.cluster import Cluster, free_port
from rhytonic.launch.demo import serve, wait_for


@contextmanager
def served(lasting: bool = True) -> Iterator[tuple[int, subprocess.Popen[bytes], Cluster]]:
    """Port, server and database; all gone afterwards.

    Args:
        lasting: whether the database writes what it keeps to disk at once, as one that people work with does.
    """
    folder = Path(tempfile.mkdtemp(prefix="rhytonic-bench-", dir="/tmp"))
    folder.chmod(0o711)
    cluster = Cluster(folder, lasting=lasting)
    port = free_port()
    server = serve(cluster.start(), port)
    try:
        wait_for(f"http://127.0.0.1:{port}", server)
        yield port, server, cluster
    finally:
        server.terminate()
        server.wait(15)
        cluster.remove()
        shutil.rmtree(folder, ignore_errors=True)
