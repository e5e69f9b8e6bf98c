"""Bringing drawings in: keeping their files, and taking them onto a piece."""

import hashlib
from dataclasses import dataclass
from functools import partial
from pathlib import PurePath
from typing import Any

from django.core.files.base import ContentFile
from django.db import transaction
from django.utils import timezone

from foliant.core.bringing import Answers
from foliant.core.design import Edit
from foliant.core.drawings import packed
from foliant.core.drawings.intake import take_drawing
from foliant.workshop.actions.action import Action
from foliant.workshop.actions.edit import ApplyEdit
from foliant.workshop.models import Brought, DrawingFile, Project
from foliant.workshop.reading import being_read

MOST_DRAWINGS = 300
"""The most that are kept of a maker; then those go that no project has taken, the oldest first."""

_A_LETTER = 30
"""About how many segments a letter has."""


@dataclass
class AddDrawing(Action):
    """Keep a drawing for a maker, as it came and as it was read."""

    owner: Any
    data: bytes
    name: str

    def prepare(self) -> None:
        self.key = hashlib.sha256(self.data).hexdigest()[:32]
        self.fresh: DrawingFile | None = None
        if not self._found():
            with being_read(self.owner.pk) as watch:  # which may last seconds
                drawing = take_drawing(self.data, watch)
            letters = sum(len(text.text) for text in drawing.texts)
            weight = sum(len(item.path) for item in drawing.items) + _A_LETTER * letters
            self.fresh = DrawingFile(owner=self.owner, key=self.key, weight=weight)
            self.fresh.came.save(f"{self.key}.came", ContentFile(self.data), save=False)
            self.fresh.read.save(f"{self.key}.npz", ContentFile(packed(drawing)), save=False)

    def perform(self) -> DrawingFile:
        drawing = self._found() or self.fresh  # whoever brings it twice at once brought it once
        assert drawing is not None
        drawing.name, drawing.added = name_of(self.name), timezone.now()
        drawing.save()
        for old in DrawingFile.objects.filter(owner=self.owner, brought=None)[MOST_DRAWINGS:]:
            old.delete()
            transaction.on_commit(partial(_delete_files, old))
        return drawing

    def _found(self) -> DrawingFile | None:
        return DrawingFile.objects.filter(owner=self.owner, key=self.key).first()


def _delete_files(drawing: DrawingFile) -> None:
    drawing.came.delete(save=False)
    drawing.read.delete(save=False)


@dataclass
class TakeDrawing(Action):
    """Take a drawing into a project by an edit, and remember what was said of it."""

    project: Project
    revision: int
    drawing: DrawingFile
    edit: Edit
    answers: Answers
    author: Any = None

    def execute(self) -> Any:
        revision = ApplyEdit(self.project, self.revision, self.edit, self.author).execute()
        super().execute()
        return revision

    def perform(self) -> Brought:
        said = {
            "factor": self.answers.factor,
            "roles": dict(self.answers.roles),
            "told": dict(self.answers.told),
            "into": self.answers.into,
        }
        values = {"drawing": self.drawing, "answers": said}
        kept, _ = Brought.objects.update_or_create(project=self.project, name=self.drawing.name, defaults=values)
        return kept


def name_of(file: str) -> str:
    """What a file is called, without its ending."""
    return " ".join(PurePath(file).stem.replace("_", " ").split())[:60] or "Drawing"
