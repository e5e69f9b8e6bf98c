"""`manage.py load_demo`: put the demo world into the database."""

from typing import Any

from django.core.management.base import BaseCommand

from foliant.workshop.demo import load_demo


class Command(BaseCommand):
    """Loads Quillmoor Observatory; what is there already stays as it is."""

    help = "Load the demo world."

    def handle(self, *args: Any, **options: Any) -> None:
        load_demo()
        self.stdout.write("The demo workshop is ready.")
