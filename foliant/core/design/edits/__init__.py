"""Edits: everything a maker can do to a design, as typed commands, one file a theme.

An edit is plain data (`read_edit` reads it from JSON) and `apply` gives a new design, or raises
`Refused` with a sentence and leaves the old one as it was. `says` names it for undo.
"""

from typing import Annotated

from pydantic import Field, TypeAdapter, ValidationError

from foliant.core.design.budget import check_budget
from foliant.core.design.edits.adding import AddPart
from foliant.core.design.edits.change import Change, ChangeParts
from foliant.core.design.edits.clipboard import PasteParts
from foliant.core.design.edits.combining import (
    CombineParts,
    CrossLap,
    SplitBodies,
    SurroundParts,
    TabParts,
    TakeApart,
    TurnFace,
)
from foliant.core.design.edits.holding import HoldParts, ReleaseParts
from foliant.core.design.edits.lettering import BarWords, FitBetween, MoveBridge, SetLetters, SpellPieces, WordsOnEdge
from foliant.core.design.edits.mending import DropBody, FillOpenings, JoinBodies
from foliant.core.design.edits.nodes import EditNodes
from foliant.core.design.edits.operations import (
    AddOperation,
    AssignMarks,
    OrderOperations,
    RemoveOperation,
    RevertOperation,
    SwitchOperation,
    UsualOperations,
)
from foliant.core.design.edits.parts import (
    DuplicateParts,
    GroupParts,
    MakePlain,
    MarkParts,
    OrderParts,
    RemoveParts,
    SetRole,
    SplitWords,
    UngroupParts,
)
from foliant.core.design.edits.placing import AlignParts, MoveParts, PlaceParts, SetDistance, SpreadParts
from foliant.core.design.edits.project import AddPiece, DuplicatePiece, RemovePiece, Rename, SetUnit
from foliant.core.design.edits.repeating import CornerParts, EndRepeat, LetGo, RepeatParts
from foliant.core.design.edits.roster import (
    AddColumn,
    ChangeRow,
    PutCells,
    RemoveColumn,
    RemoveRows,
    RevertRow,
    SortRows,
    TakeTable,
    TieValue,
    UntieValue,
)
from foliant.core.design.edits.sheet import AlignInstance, ArrangeInRows, PlaceInstance, TakeStock
from foliant.core.design.edits.sizing import FlipParts, ResizeParts, RotateParts, SizePiece
from foliant.core.design.edits.treating import TreatParts, TurnCorner, UntreatParts
from foliant.core.design.model import Design
from foliant.core.design.settle import settled_design
from foliant.core.errors import Refused
from foliant.core.quantities import explain

Edit = Annotated[
    Rename
    | SetUnit
    | AddPiece
    | DuplicatePiece
    | RemovePiece
    | AddPart
    | Change
    | ChangeParts
    | MoveParts
    | PlaceParts
    | AlignParts
    | SetDistance
    | SpreadParts
    | ResizeParts
    | SizePiece
    | RotateParts
    | FlipParts
    | HoldParts
    | ReleaseParts
    | RepeatParts
    | CornerParts
    | LetGo
    | EndRepeat
    | SetRole
    | MarkParts
    | OrderParts
    | GroupParts
    | UngroupParts
    | DuplicateParts
    | RemoveParts
    | MakePlain
    | SplitWords
    | EditNodes
    | TreatParts
    | UntreatParts
    | TurnCorner
    | CombineParts
    | TakeApart
    | TurnFace
    | SplitBodies
    | SurroundParts
    | TabParts
    | CrossLap
    | SetLetters
    | WordsOnEdge
    | FitBetween
    | BarWords
    | MoveBridge
    | SpellPieces
    | JoinBodies
    | DropBody
    | FillOpenings
    | PasteParts
    | AddColumn
    | RemoveColumn
    | PutCells
    | TakeTable
    | RemoveRows
    | SortRows
    | TieValue
    | UntieValue
    | ChangeRow
    | RevertRow
    | TakeStock
    | PlaceInstance
    | AlignInstance
    | ArrangeInRows
    | AddOperation
    | AssignMarks
    | RemoveOperation
    | OrderOperations
    | UsualOperations
    | RevertOperation
    | SwitchOperation,
    Field(discriminator="do"),
]

_ADAPTER: TypeAdapter[Edit] = TypeAdapter(Edit)


def read_edit(data: object) -> Edit:
    """An edit from parsed JSON; raises `Refused`."""
    try:
        return _ADAPTER.validate_python(data)
    except ValidationError as error:
        raise Refused(explain(error)) from None


def apply(design: Design, edit: Edit) -> Design:
    """The design after an edit, brought up to date; raises `Refused` where it cannot be done, or would be too much."""
    changed = edit.apply(design)
    check_budget(changed, design)
    return settled_design(changed, design)
