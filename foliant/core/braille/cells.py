"""Cells: Braille patterns of Unicode, U+2800 to U+28FF, whose bits are their dots from 1 to 8."""

import re

from foliant.core.errors import Refused

BLANK = "\u2800"
_FIRST, _LAST = 0x2800, 0x28FF
_LETTERS = " a1b'k2l@cif/msp\"e3h9o6r^djg>ntq,*5<-u8v.%[$+x!&;:4\\0z7(_?w]#y)="
"""What each cell of six dots is written as in letters, by its number, as Braille printers take it."""

_NUMBER = re.compile("[1-8]{1,8}|0")


def dots_of(cell: str) -> tuple[int, ...]:
    """The numbers of the dots of a cell, in order: 1 to 3 down its left, 4 to 6 down its right, 7 and 8 below."""
    bits = ord(cell) - _FIRST
    return tuple(dot + 1 for dot in range(8) if bits >> dot & 1)


def numbers_of(cells: str) -> str:
    """Cells by the numbers of their dots, such as “135 1236”; 0 for a blank one."""
    return "\n".join(" ".join("".join(map(str, dots_of(cell))) or "0" for cell in line) for line in cells.split("\n"))


def letters_of(cells: str) -> str:
    """Cells as the letters that stand for them one by one, which a seeing maker reads; “?” for those of eight dots."""
    bits = ((ord(cell) - _FIRST) if is_cell(cell) else -1 for cell in cells)
    return "".join("\n" if one < 0 else _LETTERS[one] if one < len(_LETTERS) else "?" for one in bits)


def cells_from(text: str) -> str:
    """The cells that are typed by the numbers of their dots, or as such; raises `Refused`."""
    lines = []
    for line in text.split("\n"):
        found = ""
        for word in line.replace("-", " ").split():
            if all(is_cell(character) for character in word):
                found += word
            elif _NUMBER.fullmatch(word):
                found += chr(_FIRST + sum(1 << (int(dot) - 1) for dot in set(word) - {"0"}))
            else:
                raise Refused(
                    f"“{word[:20]}” is no cell: type the numbers of its dots, 1 to 6, with spaces between cells, such "
                    "as “135 1236”, and 0 for a blank one."
                )
        lines.append(found)
    return "\n".join(lines)


def is_cell(character: str) -> bool:
    """Whether a character is a cell of Braille."""
    return _FIRST <= ord(character) <= _LAST
