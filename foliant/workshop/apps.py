"""The app's configuration."""

from django.apps import AppConfig


class WorkshopConfig(AppConfig):
    """The workshop app."""

    name = "foliant.workshop"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Tell the core where makers' own fonts and pictures are."""
        from foliant.core import seeing
        from foliant.core.lettering import library
        from foliant.workshop.owning import find_own_font, find_own_picture

        library.add_finder(find_own_font)
        seeing.add_finder(find_own_picture)
