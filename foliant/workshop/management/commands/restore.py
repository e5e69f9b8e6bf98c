"""`manage.py restore FILE`: put back what `backup` wrote. Foliant must not be running."""

import sqlite3
import tarfile
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connections

from foliant.workshop.management.commands.backup import DATABASE, MEDIA


class Command(BaseCommand):
    """Replaces the database and adds the fonts of a backup; what stood there before is kept beside it."""

    help = "Put back a backup; stop Foliant first."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, file: Path, **options: Any) -> None:
        with tempfile.TemporaryDirectory(dir=settings.DATA) as folder:
            try:
                with tarfile.open(file) as tar:
                    tar.extractall(folder, filter="data")
                with sqlite3.connect(Path(folder) / DATABASE) as came:
                    sound = came.execute("PRAGMA integrity_check").fetchone() == ("ok",)
                    came.execute("SELECT count(*) FROM workshop_project")
                came.close()
            except (OSError, tarfile.TarError, sqlite3.Error) as error:
                raise CommandError(f"{file} is not a backup of Foliant, so nothing was changed: {error}") from None
            if not sound:
                raise CommandError(f"{file} is damaged, so nothing was changed.")
            connections.close_all()
            database = Path(connections["default"].settings_dict["NAME"])
            if database.exists():
                with sqlite3.connect(database) as old:  # what is in the log goes into the file that is kept
                    old.execute("PRAGMA wal_checkpoint(TRUNCATE)")
                old.close()
                database.replace(database.with_suffix(".before-restore.sqlite3"))
            for more in ("-wal", "-shm"):
                database.with_name(database.name + more).unlink(missing_ok=True)
            (Path(folder) / DATABASE).replace(database)
            for font in sorted((Path(folder) / MEDIA).rglob("*")):
                target = settings.MEDIA_ROOT / font.relative_to(Path(folder) / MEDIA)
                if font.is_file() and not target.exists():
                    target.parent.mkdir(parents=True, exist_ok=True)
                    font.replace(target)
        call_command("migrate", verbosity=0)
        self.stdout.write("The backup is back.")
