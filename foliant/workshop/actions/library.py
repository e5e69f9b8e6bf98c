"""Keeping pieces as starters and shapes as motifs, renaming them, putting them away and bringing them back."""

from dataclasses import dataclass
from typing import Any, ClassVar

from django.utils import timezone

from foliant.core.design import Piece
from foliant.core.design.budget import weight
from foliant.core.errors import Refused
from foliant.workshop.actions.action import Action
from foliant.workshop.computing import work_out
from foliant.workshop.library import motif_content, starter_content
from foliant.workshop.models import Keepsake, Project

MOST_KEPT = 500


@dataclass
class Keep(Action):
    """Keep something of a piece of a project, under a name or under its own."""

    project: Project
    piece: str
    name: str = ""
    kind: ClassVar[Keepsake.Kind]

    def content(self, piece: Piece) -> tuple[str, Any]:
        """What it is called by itself, and what is kept of it."""
        raise NotImplementedError

    def prepare(self) -> None:
        own, self.kept = self.content(self.project.design.piece(self.piece))
        self.named = _name(self.name or own)

    def check(self) -> None:
        if Keepsake.objects.filter(owner_id=self.project.owner_id).count() >= MOST_KEPT:
            raise Refused(f"You keep {MOST_KEPT} things already, which is the most.")

    def perform(self) -> Keepsake:
        owner = self.project.owner_id
        return Keepsake.objects.create(owner_id=owner, kind=self.kind, name=self.named, content=self.kept)


@dataclass
class KeepStarter(Keep):
    """Keep a piece as a starter that asks for some of its values, named by their addresses."""

    asks: tuple[str, ...] = ()
    kind = Keepsake.Kind.STARTER

    def content(self, piece: Piece) -> tuple[str, Any]:
        return piece.name, work_out(weight(piece), starter_content, self.project.design, self.piece, self.asks)


@dataclass
class KeepMotif(Keep):
    """Keep the outlines of some parts as one motif."""

    parts: tuple[str, ...] = ()
    kind = Keepsake.Kind.MOTIF

    def content(self, piece: Piece) -> tuple[str, Any]:
        parts = tuple(piece.part(one) for one in self.parts)
        return parts[0].shape.label() if parts else "", work_out(weight(piece), motif_content, parts)


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
