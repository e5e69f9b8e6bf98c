"""Tables: CSV and XLSX files, and what is pasted from a spreadsheet, as rows of text; and rows written as CSV.

What a file does not say of itself, such as its encoding, is found out, and said so that the maker can see it first.
"""

import csv
import io
import zipfile
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Any

import openpyxl

from foliant.core.design import Design, apply, read_edit
from foliant.core.design.roster import MOST_COLUMNS, MOST_ROWS, Roster, cell_text, named_in, number_in, wordiness
from foliant.core.errors import Refused
from foliant.core.formats.series import series

LARGEST = 5_000_000
"""The most bytes in a file."""

_LARGEST_UNPACKED = 30_000_000
_DELIMITERS = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars"}
_HEADINGS = frozenset(
    """name|names|first name|last name|full name|given name|surname|guest|guests|word|words|text|title|line|role|size
    |width|height|length|count|number|quantity|motif""".replace("\n    ", "").split("|")
)
"""What columns are often called."""

_MOST_SERIES = 20
"""Lines of a text that may each stand for a series."""

_OLD_OFFICE = b"\xd0\xcf\x11\xe0"


@dataclass(frozen=True)
class Table:
    """Rows of a file, all equally long, under a heading.

    found   how it was read, in words: its encoding, what stands between cells, and whether it has a heading
    headed  whether the heading is the file's own
    """

    heading: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    found: str
    headed: bool

    @property
    def words(self) -> tuple[int, ...]:
        """Its columns by their numbers from 0, what reads most like names or other words first."""
        columns = list(zip(*self.rows, strict=True))
        return tuple(sorted(range(len(columns)), key=lambda at: -wordiness(columns[at])))


def read_table(content: bytes, headed: bool | None = None, named: Collection[str] = ()) -> Table:
    """The table of a file's bytes; raises `Refused` with a sentence.

    `headed` says whether the first row is a heading; None has it found out. `named` are names that a heading is known
    by, such as those that a design already takes values from.
    """
    if len(content) > LARGEST:
        raise Refused(f"This file has {len(content) / 1e6:.0f} MB; a table has at most {LARGEST / 1e6:.0f}.")
    if content[:4] == _OLD_OFFICE:
        raise Refused("This workbook is encrypted, or of an old kind (.xls): save it as .xlsx or .csv, unprotected.")
    lines, found, made = _read_workbook(content) if content[:2] == b"PK" else _read_text(content)
    lines = [line for line in lines if any(cell is not None and str(cell).strip() for cell in line)]
    if len(lines) > MOST_ROWS + 1:
        raise Refused(_too_long(len(lines)))
    cells = [line for line in ([cell_text(cell) for cell in line] for line in lines) if any(line)]
    if not cells:
        raise Refused("There is nothing in this table.")
    wide = max(max((i for i, cell in enumerate(line, 1) if cell), default=0) for line in cells)
    if wide > MOST_COLUMNS:
        raise Refused(
            f"This table has {wide} columns, and at most {MOST_COLUMNS} are taken: leave out what is not wanted."
        )
    full = [tuple([*line, *[""] * (wide - len(line))][:wide]) for line in cells]
    own = not made and _has_heading(full, named) if headed is None else headed
    rows = full[1:] if own else full
    if len(rows) > MOST_ROWS:
        raise Refused(_too_long(len(rows)))
    said = f"{found}, {'with' if own else 'without'} a heading"
    return Table(_named_apart(full[0] if own else [""] * wide), tuple(rows), said, own)


def _too_long(rows: int) -> str:
    return f"This table has {rows:,} rows, and at most {MOST_ROWS:,} are taken at once: take it in parts."


def with_rows(design: Design, content: bytes) -> Design:
    """The design with the rows of a file in its roster. Words that name a column in braces take their text from it."""
    texts = [getattr(part.shape, "text", "") for piece in design.pieces for part in piece.parts]
    named = {name for text in texts for name in named_in(text)}
    table = read_table(content, named={*named, *(column.name for column in design.roster.columns)})
    rows = [list(row) for row in table.rows]
    edit = {"do": "take-table", "heading": list(table.heading), "rows": rows, "tie": True}
    return apply(design, read_edit(edit))


def write_csv(heading: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
    """Rows as CSV with a heading."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(heading)
    writer.writerows(rows)
    return out.getvalue()


def roster_csv(roster: Roster) -> str:
    """The rows of a roster as CSV with the names of its columns; spreadsheets know by its mark that it is UTF-8."""
    columns = [column.id for column in roster.columns]
    rows = [[row.cell(column) for column in columns] for row in roster.rows]
    return "\ufeff" + write_csv([column.name for column in roster.columns], rows)


def _read_text(content: bytes) -> tuple[list[list[str]], str, bool]:
    """The lines of a text, how it was read, and whether it begins with a series."""
    text, encoding = _decoded(content)
    asked = [line for line in text.splitlines() if line.strip()]
    made = [series(line, MOST_ROWS) for line in asked] if len(asked) <= _MOST_SERIES else []
    if made and all(made):
        return [[cell] for cells in made for cell in cells or ()], f"{encoding}, a series", True
    delimiter = _delimiter(text)
    csv.field_size_limit(LARGEST)
    try:
        lines = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=False))
    except csv.Error:
        raise Refused("This file cannot be read as a table: a cell in quotes does not end.") from None
    between = f", {_DELIMITERS[delimiter]} between cells" if any(len(line) > 1 for line in lines) else ""
    return lines, f"{encoding}{between}", False


def _decoded(content: bytes) -> tuple[str, str]:
    """The text of a file, and the name of its encoding."""
    for mark, codec, name in (
        (b"\xef\xbb\xbf", "utf-8-sig", "UTF-8"),
        (b"\xff\xfe", "utf-16", "UTF-16"),
        (b"\xfe\xff", "utf-16", "UTF-16"),
    ):
        if content.startswith(mark):
            return _as(content, codec, name)
    even, odd = content[0:4000:2].count(0), content[1:4000:2].count(0)
    if max(even, odd) > len(content[:4000]) / 8:  # every other byte of plain letters is nothing
        return _as(content, "utf-16-le" if odd > even else "utf-16-be", "UTF-16")
    if b"\x00" in content:
        raise Refused("This is not a table: choose a CSV or XLSX file.")
    try:
        return content.decode("utf-8"), "UTF-8"
    except UnicodeDecodeError:
        return content.decode("cp1252", errors="replace"), "Windows-1252"


def _as(content: bytes, codec: str, name: str) -> tuple[str, str]:
    try:
        return content.decode(codec), name
    except UnicodeDecodeError:
        raise Refused(f"This file begins as {name} and does not go on so: save it again as CSV.") from None


def _delimiter(text: str) -> str:
    """What stands between cells: what cuts most of the first rows into the same number of cells."""
    head = text[:20_000]

    def evenness(delimiter: str) -> tuple[float, int]:
        counts = [len(line) for line in csv.reader(io.StringIO(head, newline=""), delimiter=delimiter) if line][:50]
        usual = max(set(counts), key=counts.count, default=1)
        return (counts.count(usual) / len(counts) if usual > 1 else 0.0, usual)

    return max(_DELIMITERS, key=evenness)


def _read_workbook(content: bytes) -> tuple[list[list[Any]], str, bool]:
    """The cells of the first sheet that holds any, as they were last worked out."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            unpacked = sum(info.file_size for info in packed.infolist())
            if any(info.flag_bits & 1 for info in packed.infolist()):
                raise Refused("This workbook is encrypted: save it without a password first.")
            if not any(info.filename.startswith("xl/") for info in packed.infolist()):
                raise Refused("This is not a workbook: choose a CSV or XLSX file.")
        if unpacked > _LARGEST_UNPACKED:
            raise Refused("This workbook unpacks to more than a table of names could need, so it was not read.")
        book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        for sheet in book.worksheets:
            rows = sheet.iter_rows(max_row=MOST_ROWS + 2, max_col=MOST_COLUMNS + 1, values_only=True)
            lines = [[_said(cell) for cell in row] for row in rows]
            if any(cell is not None for line in lines for cell in line):
                return lines, f"workbook, sheet “{sheet.title[:40]}”", False
    except Refused:
        raise
    except Exception:  # a broken workbook can break anywhere
        raise Refused("This workbook is damaged, so it cannot be read: save it again, or as CSV.") from None
    return [], "workbook", False


def _said(cell: Any) -> Any:
    """A cell of a workbook, dates as they are read."""
    if isinstance(cell, datetime):
        return cell.isoformat(" ") if cell.time() != time() else cell.date().isoformat()
    return cell.isoformat() if isinstance(cell, (date, time)) else cell


def _has_heading(rows: Sequence[tuple[str, ...]], named: Collection[str]) -> bool:
    """Whether the first row reads like a heading: by its words, or where numbers stand under words."""
    first = rows[0]
    plain = {cell.casefold() for cell in first if cell}
    if len(rows) < 2:
        return bool(plain) and plain <= {name.casefold() for name in named}
    if plain & {name.casefold() for name in named} or plain & _HEADINGS:
        return True
    below = list(zip(*rows[1:20], strict=True))
    numbers = [all(number_in(cell) is not None for cell in column if cell) and any(column) for column in below]
    return any(number and first[i] and number_in(first[i]) is None for i, number in enumerate(numbers))


def _named_apart(names: Sequence[str]) -> tuple[str, ...]:
    """A heading in which no two names are the same and none is empty."""
    found: list[str] = []
    for at, name in enumerate(names, 1):
        stem = name[:80].replace("{", "(").replace("}", ")") or ("name" if at == 1 else f"column {at}")
        wanted, number = stem, 2
        while wanted.casefold() in {one.casefold() for one in found}:
            wanted, number = f"{stem[:74]} {number}", number + 1
        found.append(wanted)
    return tuple(found)
