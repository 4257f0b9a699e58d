"""Settings that all tests share."""

from hypothesis import HealthCheck, settings

settings.register_profile(
    "house", deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)
settings.load_profile("house")
