"""What all tests share."""

import os

from hypothesis import HealthCheck, settings

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"  # Playwright keeps an event loop in the test's thread

settings.register_profile("calm", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("calm")
