"""Changing a design: applying an edit, and walking the stored revisions."""

from dataclasses import dataclass
from typing import Literal

from django.utils import timezone

from foliant.core.design import Design, Edit, apply
from foliant.core.errors import Refused
from foliant.workshop.actions.action import Action
from foliant.workshop.models import Project, Revision


class StaleRevision(Exception):
    """The edit was made on a revision that is no longer the current one."""


def _locked(project: Project, revision: int) -> Project:
    """The project row for changing, if `revision` is still its current one; raises `StaleRevision`."""
    fresh = Project.objects.get(pk=project.pk)
    if fresh.current != revision:
        raise StaleRevision
    return fresh


def _keep(project: Project, number: int, design: Design) -> None:
    project.current = number
    project.name = design.name
    project.changed = timezone.now()
    project.save(update_fields=["current", "latest", "name", "changed"])


@dataclass
class ApplyEdit(Action):
    """Apply an edit made on `revision` and store the design it gives as a new revision.

    What had been undone before is dropped, as a new edit leads elsewhere.
    """

    project: Project
    revision: int
    edit: Edit

    def check(self) -> None:
        self.project = _locked(self.project, self.revision)

    def perform(self) -> Revision:
        design = self.project.design
        changed = apply(design, self.edit)
        self.project.revisions.filter(number__gt=self.project.current).delete()
        self.project.latest += 1
        revision = Revision.objects.create(
            project=self.project,
            number=self.project.latest,
            document=changed.model_dump(mode="json"),
            says=self.edit.says(design)[:120],
        )
        _keep(self.project, revision.number, changed)
        return revision


@dataclass
class WalkHistory(Action):
    """Go to the revision before the current one, or to the one after it."""

    project: Project
    revision: int
    way: Literal["undo", "redo"]

    def check(self) -> None:
        self.project = _locked(self.project, self.revision)
        self.target = self.project.neighbour(self.way)
        if self.target is None:
            raise Refused(f"There is nothing to {self.way}.")

    def perform(self) -> Revision:
        assert self.target is not None
        _keep(self.project, self.target.number, self.target.design)
        return self.target
