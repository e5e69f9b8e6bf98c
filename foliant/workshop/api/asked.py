"""Signing in, for the JSON edge."""

from typing import Any

from django.http import HttpRequest
from ninja.security import SessionAuth

from foliant.workshop.computing import asked_by


class Asked(SessionAuth):
    """A signed-in maker, for whom all that follows is worked out."""

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        user = super().authenticate(request, key)
        if user:
            asked_by(user.pk, "preview" if request.path.endswith("/preview") else "")
        return user
