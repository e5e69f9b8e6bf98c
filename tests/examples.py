"""How many examples a property is tried on: few in `make test`, always the same; thousands in `make fuzz`, anew."""

from hypothesis import HealthCheck, settings

USUAL = 25
_COMMON = {"deadline": None, "suppress_health_check": [HealthCheck.too_slow]}

settings.register_profile("test", derandomize=True, max_examples=USUAL, **_COMMON)
settings.register_profile("fuzz", print_blob=True, max_examples=2000, **_COMMON)


def examples(few: int) -> settings:
    """Fewer than usual, where one takes long."""
    return settings(max_examples=few * settings.default.max_examples // USUAL)
