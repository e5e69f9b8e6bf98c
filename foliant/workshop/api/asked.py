"""Who asks, and what is theirs."""

from typing import Any

from django.contrib.auth.models import User
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja.security import SessionAuth

from foliant.workshop.computing import asked_by
from foliant.workshop.models import Project


class Asked(SessionAuth):
    """A signed-in maker, for whom all that follows is worked out."""

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        user = super().authenticate(request, key)
        if user:
            asked_by(user.pk, "preview" if request.path.endswith("/preview") else "")
        return user


def maker_of(request: HttpRequest) -> User:
    assert isinstance(request.user, User)
    return request.user


def own(request: HttpRequest, project_id: int) -> Project:
    return get_object_or_404(Project.objects.of(maker_of(request)), pk=project_id)
