"""The app's configuration."""

from django.apps import AppConfig


class WorkshopConfig(AppConfig):
    """The workshop app."""

    name = "foliant.workshop"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Tell the core where makers' own fonts are."""
        from foliant.core.lettering.library import add_finder
        from foliant.workshop.fonts import find_own_font

        add_finder(find_own_font)
