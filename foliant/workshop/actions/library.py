"""Keeping pieces as starters and shapes as motifs, renaming them, putting them away and bringing them back."""

from dataclasses import dataclass
from typing import Any

from django.utils import timezone

from foliant.core.design.budget import weight
from foliant.core.errors import Refused
from foliant.workshop.actions.action import Action
from foliant.workshop.computing import work_out
from foliant.workshop.library import motif_content, starter_content
from foliant.workshop.models import Keepsake, Project

MOST_KEPT = 500


@dataclass
class KeepStarter(Action):
    """Keep a piece of a project as a starter that asks for some of its values, named by their addresses."""

    project: Project
    piece: str
    name: str
    asks: tuple[str, ...] = ()

    def prepare(self) -> None:
        design = self.project.design
        piece = design.piece(self.piece)
        self.named = _name(self.name or piece.name)
        self.content: Any = work_out(weight(piece), starter_content, design, self.piece, self.asks)

    def check(self) -> None:
        _check_room(self.project.owner_id)

    def perform(self) -> Keepsake:
        return Keepsake.objects.create(
            owner_id=self.project.owner_id, kind=Keepsake.Kind.STARTER, name=self.named, content=self.content
        )


@dataclass
class KeepMotif(Action):
    """Keep the outlines of some parts as one motif."""

    project: Project
    piece: str
    parts: tuple[str, ...]
    name: str = ""

    def prepare(self) -> None:
        piece = self.project.design.piece(self.piece)
        parts = tuple(piece.part(one) for one in self.parts)
        self.named = _name(self.name or (parts[0].shape.label() if parts else ""))
        self.content: Any = work_out(weight(piece), motif_content, parts)

    def check(self) -> None:
        _check_room(self.project.owner_id)

    def perform(self) -> Keepsake:
        return Keepsake.objects.create(
            owner_id=self.project.owner_id, kind=Keepsake.Kind.MOTIF, name=self.named, content=self.content
        )


@dataclass
class RenameKept(Action):
    """Call something that is kept by another name."""

    kept: Keepsake
    name: str

    def perform(self) -> Keepsake:
        self.kept.name = _name(self.name)
        self.kept.save(update_fields=["name"])
        return self.kept


@dataclass
class PutKeptAway(Action):
    """Put something that is kept out of sight, or bring it back; what projects took from it stays theirs."""

    kept: Keepsake
    away: bool = True

    def perform(self) -> Keepsake:
        self.kept.put_away = timezone.now() if self.away else None
        self.kept.save(update_fields=["put_away"])
        return self.kept


def _name(raw: str) -> str:
    name = " ".join(raw.split())[:80]
    if not name:
        raise Refused("Give it a name, so that it can be found again.")
    return name


def _check_room(owner: int) -> None:
    if Keepsake.objects.filter(owner_id=owner).count() >= MOST_KEPT:
        raise Refused(f"You keep {MOST_KEPT} things already, which is the most.")
