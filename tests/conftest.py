"""Settings and fixtures every layer shares."""

import pytest
from hypothesis import HealthCheck, settings

from sorvek.actions.warm import warm_up

settings.register_profile(
    "sorvek", deadline=None, max_examples=50, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("sorvek")


def pytest_configure(config):
    """Compile once, before workers start: they share what is kept on disk."""
    if not hasattr(config, "workerinput"):
        warm_up()


@pytest.fixture(scope="session", autouse=True)
def compiled():
    """Load what is compiled before anything is counted against a single test."""
    warm_up()


@pytest.fixture
def local_cluster():
    """Return what starts a cluster of so many workers here; without the extra such tests are skipped and say so."""
    distributed = pytest.importorskip("distributed", reason="the extra sorvek[cluster] is not installed")

    def started(workers):
        return distributed.LocalCluster(
            n_workers=workers, threads_per_worker=1, dashboard_address=None, host="127.0.0.1"
        )

    return started
