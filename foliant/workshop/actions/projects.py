"""Making, copying and deleting projects."""

from dataclasses import dataclass, field
from typing import Any

from django.utils import timezone

from foliant.core.design import Design, apply, read_edit
from foliant.core.errors import Refused
from foliant.workshop.actions.action import Action
from foliant.workshop.models import Project, Revision

MOST_PROJECTS = 1000


def _first_design() -> Design:
    """A new project has one empty piece, so that the first shape can be put on at once."""
    return apply(Design(), read_edit({"do": "add-piece"}))


@dataclass
class CreateProject(Action):
    """Make a project of a design; without one, it starts with an empty piece."""

    owner: Any
    design: Design = field(default_factory=_first_design)
    says: str = "begin"

    def check(self) -> None:
        if Project.objects.of(self.owner).count() >= MOST_PROJECTS:
            raise Refused(
                f"You have {MOST_PROJECTS:,} projects, which is the most one maker can keep; delete some first."
            )

    def perform(self) -> Project:
        project = Project.objects.create(owner=self.owner, name=self.design.name, current=1, latest=1)
        document = self.design.model_dump(mode="json")
        Revision.objects.create(project=project, number=1, document=document, says=self.says)
        return project


@dataclass
class DuplicateProject(Action):
    """Make a new project with the same design and a history of its own."""

    project: Project

    def perform(self) -> Project:
        design = self.project.design
        name = f"{design.name[:70]} (copy)"
        copy = design.model_copy(update={"name": name})
        result: Project = CreateProject(self.project.owner, copy, "duplicate").execute()
        return result


@dataclass
class DeleteProject(Action):
    """Put a project out of sight; `RestoreProject` brings it back."""

    project: Project

    def perform(self) -> Project:
        self.project.deleted = timezone.now()
        self.project.save(update_fields=["deleted"])
        return self.project


@dataclass
class RestoreProject(Action):
    """Bring a deleted project back."""

    project: Project

    def perform(self) -> Project:
        self.project.deleted = None
        self.project.save(update_fields=["deleted"])
        return self.project
