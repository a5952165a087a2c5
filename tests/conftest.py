import os
import tempfile
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

settings.register_profile("rhytonic", deadline=None, max_examples=60, derandomize=True, print_blob=True,
                          suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much,
                                                 HealthCheck.data_too_large])
settings.load_profile("rhytonic")


@pytest.fixture(scope="session")
def database_url():
    """A migrated database of the tests' own: the one ``./rhytonic test`` made, or a cluster made here."""
    from rhytonic.launch.cluster import Cluster
    from rhytonic.store.database import migrate

    given = os.environ.get("RHYTONIC_TEST_DATABASE_URL")
    if given:
        migrate(given)
        yield given
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
