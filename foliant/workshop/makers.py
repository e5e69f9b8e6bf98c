"""Who asks, and what is theirs."""

from django.contrib.auth.models import User
from django.http import HttpRequest
from django.shortcuts import get_object_or_404

from foliant.workshop.models import Project


def maker_of(request: HttpRequest) -> User:
    assert isinstance(request.user, User)
    return request.user


def own(request: HttpRequest, project_id: int) -> Project:
    return get_object_or_404(Project.objects.of(maker_of(request)), pk=project_id)
