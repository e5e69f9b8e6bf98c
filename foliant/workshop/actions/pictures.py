"""Adding pictures."""

from dataclasses import dataclass
from pathlib import PurePath
from typing import Any

from django.core.files.base import ContentFile

from foliant.core.errors import Refused
from foliant.core.remembering import forget
from foliant.core.seeing.intake import take_picture
from foliant.workshop.actions.action import Action
from foliant.workshop.models import PictureFile

MOST_PICTURES = 2000


@dataclass
class AddPicture(Action):
    """Keep a picture for a maker, under the name of its file."""

    owner: Any
    data: bytes
    name: str

    def check(self) -> None:
        if PictureFile.objects.filter(owner=self.owner).count() >= MOST_PICTURES:
            raise Refused(f"You have added {MOST_PICTURES:,} pictures, which is the most that are kept.")

    def execute(self) -> PictureFile:
        # Taking a file apart may last seconds, and must not hold up the database.
        self.picture = take_picture(self.data)
        added: PictureFile = super().execute()
        forget()  # designs that named it in vain show it now
        return added

    def perform(self) -> PictureFile:
        name = " ".join(PurePath(self.name).stem.replace("_", " ").split())[:40] or "Picture"
        found = PictureFile.objects.filter(owner=self.owner, key=self.picture.key).first()
        if found is None:
            found = PictureFile(owner=self.owner, key=self.picture.key)
            found.file.save(f"{self.picture.key}.png", ContentFile(self.picture.data), save=False)
        found.name = name
        found.save()
        return found
