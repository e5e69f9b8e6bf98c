"""Making, copying and deleting projects."""

from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.db import connection
from django.utils import timezone

from foliant.core.design import Design, Stock, Ticket, apply, read_edit
from foliant.core.design.budget import check_budget
from foliant.core.design.edits.sheet import TakeStock
from foliant.core.equipment import Material, Shop
from foliant.core.errors import Refused
from foliant.core.formats.bundle import BEGINS, read_bundle, renamed
from foliant.core.formats.design_file import read_design_file
from foliant.workshop.actions.action import Action
from foliant.workshop.actions.pictures import AddPicture
from foliant.workshop.models import Project, Revision, Run, pack
from foliant.workshop.owning import in_own_keys

MOST_PROJECTS = 1000
LITTLE = 0.3
"""A begun sheet of which no more than this share is left is taken only by whoever asks for it."""

DELETED_KEPT = timedelta(days=30)
"""How long a deleted project can be brought back."""


def first_design(shop: Shop) -> Design:
    """A new project has one empty piece, so that the first shape can be put on at once; and lies on the first sheet
    that there is, unless little is left of that, for the first machine.
    """
    design = apply(Design(unit=shop.unit), read_edit({"do": "add-piece"}))
    there = [sheet for sheet in shop.shelf if sheet.count and sheet.left > LITTLE]
    whole = [sheet for sheet in there if not sheet.used] if shop.rates.first == "whole" else []
    sheet = next(iter([*whole, *there]), None)
    stock = TakeStock.of(sheet).stock if sheet else _stock_of(shop.materials[0])
    return design.model_copy(update={"stock": stock, "ticket": Ticket(machine=shop.machines[0].key, kerf="on")})


def _stock_of(material: Material) -> Stock:
    return Stock(material=material.key, thickness=material.thicknesses[0])


@dataclass
class CreateProject(Action):
    """Make a project of a design."""

    owner: Any
    design: Design
    says: str = "begin"

    def prepare(self) -> None:
        self.packed = pack(self.design.model_dump(mode="json"))

    def check(self) -> None:
        if Project.objects.of(self.owner).count() >= MOST_PROJECTS:
            raise Refused(
                f"You have {MOST_PROJECTS:,} projects, which is the most one maker can keep; delete some first."
            )

    def perform(self) -> Project:
        project = Project.objects.create(owner=self.owner, name=self.design.name, current=1, latest=1)
        Revision.objects.create(project=project, number=1, packed=self.packed, author_id=self.owner.pk, says=self.says)
        return project


@dataclass
class OpenDesign(Action):
    """Make a project of a design file; pictures that come with it become the maker's own. Raises `Refused` where it is
    none, or more than a project holds.
    """

    owner: Any
    content: bytes

    def execute(self) -> Project:
        design = design_in(self.content, self.owner)
        result: Project = CreateProject(self.owner, design, "open a design file").execute()
        return result


def design_in(content: bytes, owner: Any) -> Design:
    """The design that a file holds, as this maker's: with their fonts, and with the pictures that come with it, which
    are kept. Raises `Refused`.
    """
    plain, files = read_bundle(content) if content.startswith(BEGINS) else (content, {})
    text = plain.decode("utf-8-sig", "replace")
    if files:
        check_budget(read_design_file(plain))  # before anything is kept
    named = [name for name in files if f'"{name}"' in text]
    keys = {name: AddPicture(owner, files[name], name).execute().key for name in named}
    own = in_own_keys(renamed(text, keys), owner.pk)
    design = read_design_file(plain if own == text else own.encode())
    check_budget(design)
    return design


@dataclass
class DuplicateProject(Action):
    """Make a new project with the same design and a history of its own."""

    project: Project

    def execute(self) -> Project:
        design = self.project.design
        copy = design.model_copy(update={"name": f"{design.name[:70]} (copy)"})
        result: Project = CreateProject(self.project.owner, copy, "duplicate").execute()
        return result


@dataclass
class DeleteProject(Action):
    """Put a project out of sight; `RestoreProject` brings it back for thirty days. What lay there longer is gone."""

    project: Project

    def perform(self) -> Project:
        old = Project.objects.filter(owner=self.project.owner_id, deleted__lt=timezone.now() - DELETED_KEPT)
        # One goes as one comes: many histories at once would keep the database from others.
        if oldest := old.exclude(runs__state__in=Run.ACTIVE).order_by("deleted").first():
            oldest.delete()
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


@dataclass
class PurgeProject(Action):
    """Delete a project that is out of sight for good, with its history and its runs; nothing brings it back."""

    project: Project

    def check(self) -> None:
        if self.project.deleted is None:
            raise Refused("Delete the project first; then it can be deleted for good.")
        if self.project.runs.filter(state__in=Run.ACTIVE).exists():
            raise Refused("A job of this project is still on a machine; stop it first.")

    def perform(self) -> str:
        name = self.project.name
        self.project.delete()
        return name

    def execute(self) -> str:
        name: str = super().execute()
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA incremental_vacuum")  # what it held is free again
        return name
