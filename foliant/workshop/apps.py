"""The app's configuration."""

from django.apps import AppConfig


class WorkshopConfig(AppConfig):
    """The workshop app."""

    name = "foliant.workshop"
    default_auto_field = "django.db.models.BigAutoField"
