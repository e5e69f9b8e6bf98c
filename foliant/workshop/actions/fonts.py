"""Adding fonts, putting them away, and marking those that a maker likes or takes."""

from dataclasses import dataclass
from typing import Any

from django.core.files.base import ContentFile
from django.utils import timezone

from foliant.core.errors import Refused
from foliant.core.lettering.intake import take_font
from foliant.core.remembering import forget
from foliant.workshop.actions.action import Action
from foliant.workshop.models import FontUse, Typeface

MOST_FONTS = 200


@dataclass
class AddFont(Action):
    """Keep a font file for a maker, with a note of what its licence allows."""

    owner: Any
    data: bytes
    licence: str

    def check(self) -> None:
        if Typeface.objects.filter(owner=self.owner, put_away=None).count() >= MOST_FONTS:
            raise Refused(f"You have {MOST_FONTS} fonts of your own, which is the most; put some away first.")

    def execute(self) -> Typeface:
        # Taking a file apart may last seconds, and must not hold up the database.
        self.font = take_font(self.data)
        typeface: Typeface = super().execute()
        forget()  # designs that named it in vain are set in it now
        return typeface

    def perform(self) -> Typeface:
        font = self.font
        licence = " ".join(self.licence.split())[:300] or font.licence or "no licence is noted"
        typeface = Typeface.objects.filter(owner=self.owner, key=font.key).first()
        if typeface is None:
            typeface = Typeface(owner=self.owner, key=font.key, name=font.name)
            typeface.file.save(f"{font.key}.ttf", ContentFile(font.data), save=False)
        typeface.licence, typeface.put_away = licence, None
        typeface.save()
        return typeface


@dataclass
class PutFontAway(Action):
    """Take a font off a maker's list, or bring it back; designs that name it keep it."""

    typeface: Typeface
    away: bool = True

    def perform(self) -> Typeface:
        self.typeface.put_away = timezone.now() if self.away else None
        self.typeface.save(update_fields=["put_away"])
        return self.typeface


@dataclass
class MarkFont(Action):
    """Note that a maker likes a font, or took it just now; None leaves it as it is."""

    owner: Any
    key: str
    favourite: bool | None = None
    taken: bool = False

    def perform(self) -> FontUse:
        use, _ = FontUse.objects.get_or_create(owner=self.owner, key=self.key)
        if self.favourite is not None:
            use.favourite = self.favourite
        if self.taken:
            use.used = timezone.now()
        use.save()
        return use
