"""The command line over the core."""

from foliant.core.cli.commands import main

__all__ = ["main"]
