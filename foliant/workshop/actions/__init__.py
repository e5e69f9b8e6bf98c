"""Actions: every change to stored state, one class each, with `prepare`, `check`, `perform` and `execute`.

`execute` prepares with no lock held, then checks and performs in one transaction, and logs what was done. Views and
the API only build an action and answer with its result.
"""

from foliant.workshop.actions.edit import ApplyEdit, StaleRevision, WalkHistory
from foliant.workshop.actions.fonts import AddFont, MarkFont, PutFontAway
from foliant.workshop.actions.projects import (
    CreateProject,
    DeleteProject,
    DuplicateProject,
    OpenDesign,
    PurgeProject,
    RestoreProject,
)
from foliant.workshop.actions.runs import CommandRun, PressPanel, StartRun

__all__ = [
    "AddFont",
    "ApplyEdit",
    "CommandRun",
    "CreateProject",
    "DeleteProject",
    "DuplicateProject",
    "MarkFont",
    "OpenDesign",
    "PressPanel",
    "PurgeProject",
    "PutFontAway",
    "RestoreProject",
    "StaleRevision",
    "StartRun",
    "WalkHistory",
]
