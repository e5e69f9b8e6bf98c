"""Telling words in cells, and reading cells back, so that somebody who sees can proof-read them."""

from dataclasses import dataclass
from typing import Literal

from foliant.core.braille import louis
from foliant.core.braille.cells import BLANK, cells_from, dots_of, is_cell
from foliant.core.braille.languages import LANGUAGES, TYPED
from foliant.core.errors import Refused
from foliant.core.remembering import remembered


@dataclass(frozen=True)
class Telling:
    """How words are told: in which language, by every letter or contracted, and whether capitals are marked."""

    language: str = "en"
    writing: Literal["plain", "contracted"] = "plain"
    capitals: bool = True

    @property
    def table(self) -> str:
        """The table of liblouis; raises `Refused` where there is none for that."""
        if self.language not in LANGUAGES:
            raise Refused(f"There is no Braille for “{self.language[:20]}”: say {', '.join(LANGUAGES)} or {TYPED}.")
        language = LANGUAGES[self.language]
        if self.writing == "contracted" and not language.contracted:
            raise Refused(f"{language.name} Braille is told without contractions here: take it uncontracted.")
        return language.contracted if self.writing == "contracted" else language.plain


@dataclass(frozen=True)
class Told:
    """Words in cells, lines as they were; what those read as; and the characters that the table does not know."""

    cells: str
    reads: str
    missing: str = ""


@remembered
def tell(text: str, how: Telling) -> Told:
    """Words in cells; raises `Refused` where liblouis is not here, or where typed dots are none."""
    if how.language == TYPED:
        cells = cells_from(text)
        return Told(cells, "")
    if all(is_cell(character) or character.isspace() for character in text):
        return Told(text.replace(" ", BLANK), _read(text.replace(" ", BLANK), how.table))
    lines = [line if how.capitals else line.lower() for line in text.split("\n")]
    letters = (one for one in dict.fromkeys("".join(lines)) if not one.isspace())
    missing = "".join(one for one in letters if not _is_told(louis.translated(one, how.table, undefined=False)))
    # Where all is known both ways are the same; what is not would come as its number, spelt out.
    cells = "\n".join(louis.translated(line, how.table, undefined=not missing) for line in lines)
    return Told(cells, _read(cells, how.table), missing)


def _is_told(cells: str) -> bool:
    """Whether cells say anything with the six dots that signs are read by."""
    return any(map(dots_of, cells)) and all(max(dots_of(cell), default=0) <= 6 for cell in cells)


def _read(cells: str, table: str) -> str:
    return "\n".join(louis.read_back(line, table).strip() for line in cells.split("\n"))


@remembered
def broken(cells: str, most: int) -> tuple[str, ...]:
    """Lines of at most so many cells, broken where a blank one lies; raises `Refused` where a word is longer."""
    found: list[str] = []
    for line in cells.split("\n"):
        now = ""
        for word in line.split(BLANK):
            longer = f"{now}{BLANK}{word}" if now else word
            if len(longer) <= most:
                now = longer
                continue
            if len(word) > most:
                raise Refused(
                    f"A word of this Braille takes {len(word)} cells, and a line has room for {most}: make the lines "
                    "wider, or take the words contracted."
                )
            found.append(now)
            now = word
        found.append(now)
    return tuple(found)
