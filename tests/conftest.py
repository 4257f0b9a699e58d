"""Settings that all tests share."""

from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

settings.register_profile(
    "house", deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)
settings.load_profile("house")

pytest.register_assert_rewrite("plan_outputs")
LONG = Path(__file__).with_name("thorough.txt")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Mark the tests that only a thorough run takes."""
    lines = LONG.read_text(encoding="utf-8").splitlines()
    long = {line for line in lines if line and not line.startswith("#")}
    for item in items:
        if item.nodeid in long:
            item.add_marker(pytest.mark.thorough)
