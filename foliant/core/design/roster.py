"""The roster: a table of names and other values, and how a value of a piece comes from it."""

import re
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal, get_args

from pydantic import Field, model_validator

from foliant.core.design.names import Identifier, Name
from foliant.core.errors import Refused
from foliant.core.frozen import Frozen, Texts
from foliant.core.motifs import MOTIFS
from foliant.core.quantities import Quantity
from foliant.core.remembering import remembered
from foliant.core.units import Unit

MOST_ROWS = 2000
MOST_COLUMNS = 60
LONGEST_CELL = 1000
"""The most characters in one cell."""

ColumnKind = Literal["words", "length", "count", "motif", "switch"]
KINDS: dict[ColumnKind, str] = dict(
    zip(get_args(ColumnKind), ("words", "lengths", "numbers", "motifs", "yes or no"), strict=True)
)

_YES = frozenset(("yes", "y", "true", "1", "x", "on", "✓"))
_NO = frozenset(("no", "n", "false", "0", "-", "off", ""))
_IN_BRACES = re.compile(r"\{([^{}]+)\}")
_NUMBER = re.compile(r"number(?: in (two|three|four) digits)?", re.IGNORECASE)
_DIGITS = {"two": 2, "three": 3, "four": 4}


class Column(Frozen):
    """A column: its id, what it is called, and what its cells are."""

    id: Identifier
    name: Name
    kind: Annotated[ColumnKind, Quantity("choice", "What the column holds", choices=tuple(KINDS.items()))] = "words"

    @model_validator(mode="after")
    def _can_be_named_in_braces(self) -> "Column":
        if {"{", "}"} & set(self.name):
            raise Refused("Columns are named in braces where values come from them, so their names hold none.")
        return self


class Row(Frozen):
    """A row: its id, which it keeps wherever it is sorted to, its cells by column, and what is different for it alone.

    own  values by their address, such as `part a3 width`, as they are typed
    """

    id: Identifier
    cells: Texts = ()
    own: Texts = ()

    def cell(self, column: str) -> str:
        """What stands in a column; "" where nothing does."""
        return dict(self.cells).get(column, "")


class Roster(Frozen):
    """Columns and rows, in the order that the maker sees; `unit` is what bare lengths in it are in."""

    unit: Unit = "mm"
    columns: tuple[Column, ...] = Field((), max_length=MOST_COLUMNS)
    rows: tuple[Row, ...] = Field((), max_length=MOST_ROWS)

    @model_validator(mode="after")
    def _names_differ(self) -> "Roster":
        names = [column.name.casefold() for column in self.columns]
        if len(set(names)) < len(names):
            raise Refused("Two columns of the roster have the same name; give each its own.")
        return self

    def column(self, column_id: str) -> Column:
        """The column of that id; raises `Refused`."""
        for column in self.columns:
            if column.id == column_id:
                return column
        raise Refused("That column is no longer in the roster.")

    def row(self, row_id: str) -> Row:
        """The row of that id; raises `Refused`."""
        for row in self.rows:
            if row.id == row_id:
                return row
        raise Refused("That row is no longer in the roster.")

    def called(self, row: Row, number: int) -> str:
        """What a row, the `number`th, is called: its first words, or else its number."""
        return self.label(row) or f"row {number}"

    def label(self, row: Row) -> str:
        """What names a row: its cell in the column that reads most like names, or else its first words; "" where it has
        none.
        """
        words = (row.cell(column) for column in _naming(self))
        return next((found for text in words if (found := " ".join(text.split())[:40])), "")

    def doubled(self, column_id: str) -> frozenset[str]:
        """The ids of the rows that say in a column what another says there, however it is written."""
        found: dict[str, list[str]] = {}
        for row in self.rows:
            if text := row.cell(column_id).casefold():
                found.setdefault(text, []).append(row.id)
        return frozenset(one for same in found.values() if len(same) > 1 for one in same)


@remembered
def _naming(roster: Roster) -> tuple[str, ...]:
    """The columns of words by their ids, what names rows best first."""
    cells = {one.id: [row.cell(one.id) for row in roster.rows] for one in roster.columns if one.kind == "words"}
    return tuple(sorted(cells, key=lambda column: -wordiness(cells[column])))


def wordiness(cells: Sequence[str]) -> float:
    """How much a column reads like names: by how many of its cells are words, how few say the same, and how many begin
    with a capital.
    """
    said = [text for cell in cells if (text := cell.strip())]
    if not said:
        return 0.0
    words = sum(not any(map(str.isdigit, text)) and any(map(str.isalpha, text)) for text in said)
    apart, capitals = len({text.casefold() for text in said}), sum(text[0].isupper() for text in said)
    return (words * (2 + apart / len(said)) + capitals) / len(cells)


Ties = Texts
"""The values of a part or piece that come from the roster: what each says, as a `template` with ids of columns, by what
it belongs to and its field, such as `part text` or `across gap`.
"""


@dataclass(frozen=True)
class Slot:
    """A place in a template: a column, or "" for the number of the row, and how it is written.

    how  "" as it stands, "in capitals" or "first letter"; of a number, with how many digits at least
    """

    column: str
    how: str = ""
    digits: int = 1

    def filled(self, row: Row, number: int) -> str:
        """What it says for a row."""
        if not self.column:
            return str(number).zfill(self.digits)
        text = row.cell(self.column)
        if self.how == "first letter":
            return _first_letter(text)
        return text.upper() if self.how == "in capitals" else text


def _first_letter(text: str) -> str:
    """The first character with the marks that stand on it."""
    plain = unicodedata.normalize("NFC", text.strip())
    end = 1
    while end < len(plain) and unicodedata.combining(plain[end]):
        end += 1
    return plain[:end]


def slot_of(said: str, columns: Mapping[str, str]) -> Slot | None:
    """A place as it is written between braces: `name`, `name in capitals`, `first letter of name`, `number` or
    `number in two digits`. `columns` gives ids by what they go by, in small letters; None where it names none.
    """
    plain = " ".join(said.split())
    if plain.casefold() in columns:
        return Slot(columns[plain.casefold()])
    if found := _NUMBER.fullmatch(plain):
        return Slot("", digits=_DIGITS.get((found[1] or "").lower(), 1))
    before, after = "first letter of ", " in capitals"
    if plain.casefold().startswith(before) and (column := columns.get(plain.casefold()[len(before) :])):
        return Slot(column, "first letter")
    if plain.casefold().endswith(after) and (column := columns.get(plain.casefold()[: -len(after)])):
        return Slot(column, "in capitals")
    return None


def template(text: str, roster: Roster) -> str | None:
    """Text with names of columns in braces, as it is stored: with their ids. None where it names no column.

    What stands in braces and names none is text like any other.
    """
    columns = {column.name.casefold(): column.id for column in roster.columns}
    found = False

    def stored(match: re.Match[str]) -> str:
        nonlocal found
        slot = slot_of(match[1], columns)
        if slot is None:
            return match[0]
        found = True
        said = " ".join(match[1].split())
        if not slot.column:
            return f"{{{said.lower()}}}"
        return {"": f"{{{slot.column}}}", "first letter": f"{{first letter of {slot.column}}}"}.get(
            slot.how, f"{{{slot.column} {slot.how}}}"
        )

    said = _IN_BRACES.sub(stored, text)
    return said if found else None


def shown(says: str, roster: Roster) -> str:
    """A stored template as it is read and typed: with the names of columns."""
    names = {column.id: column.name for column in roster.columns}
    return _IN_BRACES.sub(lambda match: re.sub(r"[a-z0-9]+", lambda word: names.get(word[0], word[0]), match[0]), says)


def columns_in(says: str, roster: Roster) -> tuple[str, ...]:
    """The ids of the columns that a stored template comes from."""
    ids = {column.id: column.id for column in roster.columns}
    slots = (slot_of(match, ids) for match in named_in(says))
    return tuple(dict.fromkeys(slot.column for slot in slots if slot and slot.column))


def filled(says: str, roster: Roster, row: Row, number: int) -> str:
    """What a stored template says for a row, the `number`th of the roster."""
    ids = {column.id: column.id for column in roster.columns}

    def there(match: re.Match[str]) -> str:
        slot = slot_of(match[1], ids)
        return match[0] if slot is None else slot.filled(row, number)

    lines = _IN_BRACES.sub(there, says).split("\n")
    return "\n".join(" ".join(line.split()) for line in lines).strip("\n")


def value_of(of: str, says: str, roster: Roster, row: Row, number: int) -> str:
    """What the value at an address says for a row, as it would be typed there: `filled`, a motif by its key, and yes or
    no where it is that.
    """
    text = filled(says, roster, row, number)
    kinds = {roster.column(column).kind for column in columns_in(says, roster)}
    field = of.rpartition(" ")[2]
    if "switch" in kinds or field in ("hidden", "shown", "flipped", "on"):
        return _switched(text)
    return _motif_key(text) if field == "motif" else text


def _switched(text: str) -> str:
    """Yes or no as cells say it, such as a cross or nothing; other text as it is."""
    plain = text.strip().casefold()
    return "yes" if plain in _YES else "no" if plain in _NO else text


def _motif_key(text: str) -> str:
    """The key of the motif that is called so, or found by that word alone; else the text."""
    plain = text.strip().casefold()
    named = plain.replace(" ", "-")
    if named in MOTIFS:
        return named
    return next((motif.key for motif in MOTIFS.values() if plain in motif.words), text)


def named_in(text: str) -> list[str]:
    """What stands in braces in a text."""
    return _IN_BRACES.findall(text)


def number_in(text: str) -> float | None:
    """The number that a cell begins with, whatever its unit; None where it begins with none."""
    try:
        return float(text.split()[0].replace(",", ".")) if text.split() else None
    except ValueError:
        return None


def cell_text(raw: object) -> str:
    """What a cell keeps of text, a number, yes or no, or nothing: one line, without control characters.

    Raises `Refused` where it is too long.
    """
    if raw is None or isinstance(raw, bool):
        return {None: "", True: "yes", False: "no"}[raw]
    text = unicodedata.normalize("NFC", f"{raw:.10g}" if isinstance(raw, float) else str(raw))
    plain = "".join(" " if unicodedata.category(c) in ("Cc", "Cs", "Co", "Cn", "Zl", "Zp") else c for c in text)
    plain = " ".join(plain.split())
    if len(plain) > LONGEST_CELL:
        raise Refused(f"A cell holds at most {LONGEST_CELL:,} characters and “{plain[:30]}…” has {len(plain):,}.")
    return plain
