"""`manage.py backup FILE`: everything that makers keep, in one file, while Foliant runs."""

import sqlite3
import tarfile
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from django.db import connections

DATABASE = "foliant.sqlite3"
MEDIA = "media"


class Command(BaseCommand):
    """Writes the database as it stands at one moment, and makers' fonts, as a tar file."""

    help = "Back up the database and makers' fonts into one file; Foliant may go on running."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, file: Path, **options: Any) -> None:
        with tempfile.TemporaryDirectory(dir=settings.DATA) as folder:
            copy = Path(folder) / DATABASE
            # SQLite's own online copy: whole, whatever is written meanwhile.
            with (
                sqlite3.connect(connections["default"].settings_dict["NAME"]) as source,
                sqlite3.connect(copy) as target,
            ):
                source.backup(target)
            target.close()
            source.close()
            part = file.with_name(file.name + ".part")
            with tarfile.open(part, "w:gz") as tar:
                tar.add(copy, DATABASE)
                if settings.MEDIA_ROOT.is_dir():
                    tar.add(settings.MEDIA_ROOT, MEDIA)
            part.replace(file)
        self.stdout.write(f"Everything is in {file}, {file.stat().st_size / 1e6:.1f} MB.")
