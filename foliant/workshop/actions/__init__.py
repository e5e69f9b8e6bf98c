"""Actions: every change to stored state, one class each, with `prepare`, `check`, `perform` and `execute`.

`execute` prepares with no lock held, then checks and performs in one transaction, and logs what was done. Views and
the API only build an action and answer with its result.
"""

from foliant.workshop.actions.drawings import AddDrawing, TakeDrawing
from foliant.workshop.actions.edit import ApplyEdit, WalkHistory
from foliant.workshop.actions.eye import LayOnBed, LearnLens
from foliant.workshop.actions.fonts import AddFont, MarkFont, PutFontAway
from foliant.workshop.actions.history import StaleRevision
from foliant.workshop.actions.library import KeepMotif, KeepStarter, PutKeptAway, RenameKept
from foliant.workshop.actions.packing import StartPacking, StopPacking, TakePacking
from foliant.workshop.actions.pictures import AddPicture
from foliant.workshop.actions.projects import (
    CreateProject,
    DeleteProject,
    DuplicateProject,
    OpenDesign,
    PurgeProject,
    RestoreProject,
)
from foliant.workshop.actions.runs import (
    Asked,
    CommandRun,
    GoOn,
    LeadHead,
    MeasureSheet,
    PressPanel,
    RunAgain,
    StartRun,
)
from foliant.workshop.actions.shop import (
    ApplyShopEdit,
    BringJig,
    KeepAsJig,
    KeepAsRecipe,
    KeepField,
    KeepUsed,
    MarkTaken,
    OpenShop,
    TakeRecipeList,
    UnmarkTaken,
    WalkShop,
)

__all__ = [
    "AddDrawing",
    "AddFont",
    "AddPicture",
    "ApplyEdit",
    "ApplyShopEdit",
    "Asked",
    "BringJig",
    "CommandRun",
    "CreateProject",
    "DeleteProject",
    "DuplicateProject",
    "GoOn",
    "KeepAsJig",
    "KeepAsRecipe",
    "KeepField",
    "KeepMotif",
    "KeepStarter",
    "KeepUsed",
    "LayOnBed",
    "LeadHead",
    "LearnLens",
    "MarkFont",
    "MarkTaken",
    "MeasureSheet",
    "OpenDesign",
    "OpenShop",
    "PressPanel",
    "PurgeProject",
    "PutFontAway",
    "PutKeptAway",
    "RenameKept",
    "RestoreProject",
    "RunAgain",
    "StaleRevision",
    "StartPacking",
    "StartRun",
    "StopPacking",
    "TakeDrawing",
    "TakePacking",
    "TakeRecipeList",
    "UnmarkTaken",
    "WalkHistory",
    "WalkShop",
]
