import logging
import os
import tempfile
import uuid
from pathlib import Path

import psycopg
import pytest
from hypothesis import HealthCheck, settings
from sqlalchemy import make_url

settings.register_profile("rhytonic", deadline=None, max_examples=26, derandomize=True, print_blob=True,
                          suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much,
                                                 HealthCheck.data_too_large])
settings.load_profile("rhytonic")


#: what a test of each folder takes, beside one of the core
WEIGHTS = {"browser": 25, "api": 6, "outside": 6, "launch": 10}


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items):
    """With several processes, each is handed as many tests as the others one after the other, and takes over from the end of the
    longest row once its own is done: so each row begins with what takes long, whole modules of it, and ends with what is short."""
    count = int(os.environ.get("PYTEST_XDIST_WORKER_COUNT", "1"))
    if count < 2 or len(items) < 100 * count:
        return
    modules = {}
    for item in items:
        modules.setdefault(item.path, []).append(item)
    long = sorted((path for path in modules if path.parent.name in WEIGHTS),
                  key=lambda path: (-WEIGHTS[path.parent.name] * len(modules[path]), path))
    rows, loads = [[] for _ in range(count)], [0] * count
    for path in long:
        least = loads.index(min(loads))
        rows[least] += modules[path]
        loads[least] += WEIGHTS[path.parent.name] * len(modules[path])
    short = [item for path, held in modules.items() if path.parent.name not in WEIGHTS for item in held]
    for i, row in enumerate(rows):
        size = (len(items) - sum(map(len, rows[:i]))) // (count - i)
        row += [short.pop() for _ in range(min(max(size - len(row), 0), len(short)))]
    items[:] = [item for row in rows for item in row] + short


def new_database(url, prefix):
    """An empty database of its own beside the one at ``url``; its URL."""
    place, name = make_url(url), f"{prefix}_{uuid.uuid4().hex[:8]}"
    with psycopg.connect(host=place.host, port=place.port, user=place.username, password=place.password, dbname=place.database,
                         autocommit=True) as connection:
        connection.execute(f'create database "{name}"')
    return place.set(database=name).render_as_string(hide_password=False)


@pytest.fixture(scope="session")
def database_url():
    """A migrated database of this process alone, in the cluster ``./rhytonic test`` started or in one made here."""
    from rhytonic.launch.cluster import Cluster
    from rhytonic.store.database import migrate

    given = os.environ.get("RHYTONIC_TEST_DATABASE_URL")
    if given:
        url = new_database(given, "test")
        migrate(url)
        yield url
        return
    folder = Path(tempfile.mkdtemp(prefix="rhytonic-pytest-", dir="/tmp"))
    folder.chmod(0o711)
    cluster = Cluster(folder, lasting=False)
    try:
        url = cluster.start()
        migrate(url)
        yield url
    finally:
        cluster.remove()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_call(item):
    """No test passes over a fault inside that was told as a refusal: those that bring one about say so by ``faults``."""
    seen = []

    class Seen(logging.Handler):
        def emit(self, record):
            if record.exc_info and "unforeseen" in record.getMessage():
                seen.append(record)

    log, handler = logging.getLogger("rhytonic"), Seen(logging.ERROR)
    log.addHandler(handler)
    try:
        result = yield
    finally:
        log.removeHandler(handler)
    if seen and item.get_closest_marker("faults") is None:
        raise seen[0].exc_info[1]
    return result
