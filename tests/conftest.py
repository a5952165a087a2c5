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
