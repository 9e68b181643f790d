"""Settings and fixtures every layer shares."""

import pytest
from hypothesis import HealthCheck, settings

from sorvek.actions.warm import warm_up

settings.register_profile(
    "sorvek", deadline=None, max_examples=60, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("sorvek")


@pytest.fixture(scope="session", autouse=True)
def compiled():
    """Compile before anything is counted against a single test."""
    warm_up()
