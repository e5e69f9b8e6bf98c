"""What every template may know."""

from django.conf import settings
from django.http import HttpRequest


def site(request: HttpRequest) -> dict[str, bool]:
    """Whether this is the demo setting."""
    return {"demo": settings.DEMO}
