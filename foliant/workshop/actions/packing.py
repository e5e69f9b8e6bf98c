"""Packing a sheet: begun, stopped, and what was found taken as an edit."""

from dataclasses import dataclass
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from foliant.core.design import read_edit
from foliant.core.errors import Refused
from foliant.core.layout import MOST_SECONDS
from foliant.workshop.actions.action import Action
from foliant.workshop.actions.edit import ApplyEdit
from foliant.workshop.models import Packing, Project, unpack
from foliant.workshop.packer import pack_sheet

WAITING = 12
"""So many sheets wait to be packed at most."""


@dataclass
class StartPacking(Action):
    """Have a project's sheet packed, for so many seconds. Where it is being packed already, that goes on."""

    project: Project
    seconds: float
    bench: str = ""

    def prepare(self) -> None:
        if not 1 <= self.seconds <= MOST_SECONDS:
            raise Refused(f"A sheet is packed for 1 to {MOST_SECONDS} seconds.")

    def perform(self) -> Packing:
        before = self.project.packings.filter(state__in=Packing.OPEN).first()
        if before and before.busy:
            return before
        if before:  # its worker is gone, or nobody took what was found: that is of another time
            Packing.objects.filter(pk=before.pk).update(state=Packing.State.FAILED, edit=b"")
        others = Packing.objects.filter(state__in=Packing.BUSY).exclude(
            state=Packing.State.PACKING, heard__lt=timezone.now() - Packing.SILENT_AFTER
        )
        if others.count() >= WAITING:
            raise Refused("Many sheets are being packed already; try again in a minute.")
        if others.filter(project__owner=self.project.owner_id).count() >= 2:
            raise Refused("Two of your sheets are being packed already; wait for one of them, or stop it.")
        try:
            asked = {"revision": self.project.current, "seconds": self.seconds, "bench": self.bench}
            with transaction.atomic():
                packing: Packing = self.project.packings.create(**asked)
        except IntegrityError:
            raise Refused("This sheet has begun to be packed just now.") from None
        transaction.on_commit(lambda: pack_sheet.enqueue(packing.pk))
        return packing


@dataclass
class StopPacking(Action):
    """Have a packing end with the best that it has; one that has not begun, with nothing. Twice is as good as once."""

    project: Project

    def perform(self) -> Packing | None:
        self.project.packings.filter(state=Packing.State.WAITING).update(
            state=Packing.State.FAILED, message="Stopped before it began."
        )
        self.project.packings.filter(state=Packing.State.PACKING).update(stop=True)
        return self.project.packings.first()


@dataclass
class TakePacking(Action):
    """Lay the sheet as packing has found, as one edit of the current revision."""

    project: Project
    revision: int
    author: Any = None

    def prepare(self) -> None:
        found = self.project.packings.filter(state=Packing.State.FOUND).first()
        if found is None:
            raise Refused("Nothing that was packed waits to be taken.")
        self.packing = found
        self.edit = ApplyEdit(self.project, self.revision, read_edit(unpack(bytes(found.edit))), self.author)
        try:
            self.edit.prepare()
        except Refused as refusal:  # it will not be better the next time
            Packing.objects.filter(pk=found.pk).update(state=Packing.State.FAILED, message=str(refusal)[:400])
            raise

    def check(self) -> None:
        self.edit.check()

    def perform(self) -> Any:
        revision = self.edit.perform()
        if not Packing.objects.filter(pk=self.packing.pk, state=Packing.State.FOUND).update(
            state=Packing.State.TAKEN, edit=b""
        ):
            raise Refused("What was packed was taken in another window.")
        return revision
