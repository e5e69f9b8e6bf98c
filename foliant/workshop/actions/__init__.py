"""Actions: every change to stored state, one class each, with `check` and `execute`.

`execute` calls `check`, works in one transaction and logs what was done. Views and the API only build
an action and answer with its result.
"""

from foliant.workshop.actions.edit import ApplyEdit, StaleRevision, WalkHistory
from foliant.workshop.actions.fonts import AddFont, MarkFont, PutFontAway
from foliant.workshop.actions.projects import CreateProject, DeleteProject, DuplicateProject, RestoreProject
from foliant.workshop.actions.runs import CommandRun, StartRun

__all__ = [
    "AddFont",
    "ApplyEdit",
    "CommandRun",
    "CreateProject",
    "DeleteProject",
    "DuplicateProject",
    "MarkFont",
    "PutFontAway",
    "RestoreProject",
    "StaleRevision",
    "StartRun",
    "WalkHistory",
]
