"""Changing a design: applying an edit, and walking the stored revisions."""

from dataclasses import dataclass
from typing import Any, Literal

from django.utils import timezone

from foliant.core.design import Design, Edit
from foliant.core.errors import Refused
from foliant.workshop.actions.action import Action
from foliant.workshop.actions.history import StaleRevision, thin_out
from foliant.workshop.models import Project, Revision, pack
from foliant.workshop.trying import tried


def _locked(project: Project, revision: int) -> Project:
    """The project row for changing, if `revision` is still its current one; raises `StaleRevision`."""
    fresh = Project.objects.get(pk=project.pk)
    if fresh.current != revision:
        raise StaleRevision
    return fresh


def _keep(project: Project, number: int, name: str) -> None:
    project.current = number
    project.name = name
    project.changed = timezone.now()
    project.save(update_fields=["current", "latest", "name", "changed"])


@dataclass
class ApplyEdit(Action):
    """Apply an edit made on `revision` and store the design it gives as a new revision.

    What had been undone before is dropped, as a new edit leads elsewhere. What the edit leads to is worked out and
    proved before anything is stored.
    """

    project: Project
    revision: int
    edit: Edit
    author: Any = None

    def prepare(self) -> None:
        before = _locked(self.project, self.revision).design
        self.design: Design = tried(before, self.edit)
        self.packed = pack(self.design.model_dump(mode="json"))
        self.done = pack(self.edit.model_dump(mode="json", by_alias=True))
        self.says = self.edit.told(before)[:120]

    def check(self) -> None:
        self.project = _locked(self.project, self.revision)

    def perform(self) -> Revision:
        self.project.revisions.filter(number__gt=self.project.current).delete()
        self.project.latest += 1
        revision = Revision.objects.create(
            project=self.project,
            number=self.project.latest,
            packed=self.packed,
            edit=self.done,
            author=self.author,
            says=self.says,
        )
        _keep(self.project, revision.number, self.design.name)
        thin_out(self.project)
        revision.know(self.design)
        return revision


@dataclass
class WalkHistory(Action):
    """Go to the revision before the current one, or to the one after it."""

    project: Project
    revision: int
    way: Literal["undo", "redo"]

    def prepare(self) -> None:
        target = _locked(self.project, self.revision).neighbour(self.way)
        if target is None:
            raise Refused(f"There is nothing to {self.way}.")
        self.target = target
        self.name = str(target.document.get("name") or self.project.name)[:80]

    def check(self) -> None:
        self.project = _locked(self.project, self.revision)

    def perform(self) -> Any:
        _keep(self.project, self.target.number, self.name)
        return self.target
