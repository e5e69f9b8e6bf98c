"""Every edit that is the same for all rows of the roster: those of one row are made of these."""

from typing import Annotated

from pydantic import Field

from foliant.core.design.edits.adding import AddPart
from foliant.core.design.edits.benches import CutFrom
from foliant.core.design.edits.braille import BrailleBeneath
from foliant.core.design.edits.change import Change, ChangeParts
from foliant.core.design.edits.cleaning import CleanParts
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
from foliant.core.design.edits.picturing import EvenTones, MaskPictures, UnmaskPictures
from foliant.core.design.edits.pieces import AddPieces
from foliant.core.design.edits.placing import AlignParts, MoveParts, PlaceParts, SetDistance, SpreadParts
from foliant.core.design.edits.project import AddPiece, DuplicatePiece, RemovePiece, Rename, SetUnit
from foliant.core.design.edits.raising import RaiseParts
from foliant.core.design.edits.repeating import CornerParts, EndRepeat, LetGo, RepeatParts
from foliant.core.design.edits.reviving import ReplaceWithWords, SeparateParts
from foliant.core.design.edits.roster import (
    AddColumn,
    PutCells,
    RemoveColumn,
    RemoveRows,
    RevertRow,
    SortRows,
    TakeTable,
    TieValue,
    UntieValue,
)
from foliant.core.design.edits.sheet import (
    AlignInstance,
    ArrangeInRows,
    ArrayInstances,
    LockInstance,
    PlaceInstance,
    PushInstance,
    PutPacked,
    SwitchSlot,
    TakeJig,
    TakeStock,
    TurnInstance,
)
from foliant.core.design.edits.sizing import FlipParts, ResizeParts, RotateParts, SizePiece
from foliant.core.design.edits.splitting import SplitPiece
from foliant.core.design.edits.taking_in import TakeAnew, TakeIn
from foliant.core.design.edits.tracing import TracePictures
from foliant.core.design.edits.treating import TreatParts, TurnCorner, UntreatParts

PlainEdit = Annotated[
    Rename
    | SetUnit
    | AddPiece
    | DuplicatePiece
    | AddPieces
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
    | CleanParts
    | SeparateParts
    | ReplaceWithWords
    | BrailleBeneath
    | RaiseParts
    | SplitWords
    | EditNodes
    | TreatParts
    | UntreatParts
    | TurnCorner
    | CombineParts
    | MaskPictures
    | UnmaskPictures
    | EvenTones
    | TracePictures
    | TakeApart
    | TurnFace
    | SplitPiece
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
    | TakeAnew
    | TakeIn
    | PasteParts
    | AddColumn
    | RemoveColumn
    | PutCells
    | TakeTable
    | RemoveRows
    | SortRows
    | TieValue
    | UntieValue
    | RevertRow
    | TakeStock
    | CutFrom
    | PlaceInstance
    | PushInstance
    | TurnInstance
    | LockInstance
    | AlignInstance
    | ArrayInstances
    | PutPacked
    | TakeJig
    | SwitchSlot
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
