"""Makers, their projects, and a client that speaks JSON."""

import json
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client

from foliant.core.design import Design
from foliant.workshop.actions import CreateProject
from foliant.workshop.models import Project
from tests.making import tag


class Maker:
    """A signed-in maker with a browser."""

    def __init__(self, name: str) -> None:
        self.user = User.objects.create(username=name)
        self.client = Client()
        self.client.force_login(self.user)

    def project(self, design: Design | None = None) -> Project:
        result: Project = CreateProject(self.user, design or tag()).execute()
        return result

    def post(self, address: str, **body: Any) -> Any:
        return self.client.post(f"/api/{address}", json.dumps(body), content_type="application/json")

    def shop(self, edit: dict[str, Any], revision: int) -> Any:
        return self.post("shop/edits", edit=edit, revision=revision)

    def get(self, address: str) -> Any:
        return self.client.get(f"/api/{address}")

    def edit(self, project: Project, revision: int, **edit: Any) -> Any:
        return self.post(f"projects/{project.pk}/edits", revision=revision, edit=edit)


@pytest.fixture(name="maker")
def _maker(db: None) -> Maker:
    return Maker("tamsin")


@pytest.fixture(name="other")
def _other(db: None) -> Maker:
    return Maker("bertil")
