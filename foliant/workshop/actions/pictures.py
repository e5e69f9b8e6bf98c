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
from foliant.workshop.reading import being_read

MOST_PICTURES = 2000


@dataclass
class AddPicture(Action):
    """Keep a picture for a maker, under the name of its file."""

    owner: Any
    data: bytes
    name: str

    def prepare(self) -> None:
        self.check()  # before a file is kept for nothing
        with being_read(self.owner.pk) as watch:  # which may last seconds
            self.picture = take_picture(self.data, watch)
        self.fresh: PictureFile | None = None
        if not self._found():
            self.fresh = PictureFile(owner=self.owner, key=self.picture.key)
            self.fresh.file.save(f"{self.picture.key}.png", ContentFile(self.picture.data), save=False)

    def check(self) -> None:
        if PictureFile.objects.filter(owner=self.owner).count() >= MOST_PICTURES:
            raise Refused(f"You have added {MOST_PICTURES:,} pictures, which is the most that are kept.")

    def execute(self) -> PictureFile:
        added: PictureFile = super().execute()
        forget()  # designs that named it in vain show it now
        return added

    def perform(self) -> PictureFile:
        picture = self._found() or self.fresh  # whoever adds it twice at once added it once
        assert picture is not None
        picture.name = " ".join(PurePath(self.name).stem.replace("_", " ").split())[:40] or "Picture"
        picture.save()
        return picture

    def _found(self) -> PictureFile | None:
        return PictureFile.objects.filter(owner=self.owner, key=self.picture.key).first()
