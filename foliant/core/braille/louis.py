"""liblouis, the translator of Braille, through ctypes: Debian's liblouis20 with the tables of liblouis-data."""

import ctypes
import ctypes.util
import threading
from functools import cache
from typing import Any

from foliant.core.errors import Refused

MISSING = (
    "Braille is translated by liblouis, which is not on this machine: install it with “apt install liblouis20 "
    "liblouis-data”, then try again. Cells can be typed by the numbers of their dots without it."
)
_DISPLAY = "unicode.dis"
_SILENT = 60_000
_WITHOUT_UNDEFINED = 128
"""What a table does not know gives nothing, where it would give its number in hexadecimal."""

_LETTERS_A_CELL = 12
"""A letter gives at most about so many cells."""

_lock = threading.Lock()


@cache
def _library() -> Any:
    name = ctypes.util.find_library("louis")
    if name is None:
        raise Refused(MISSING)
    library = ctypes.CDLL(name)
    library.lou_setLogLevel(_SILENT)
    return library


@cache
def is_here() -> bool:
    """Whether there is a liblouis to translate with."""
    return ctypes.util.find_library("louis") is not None


def translated(text: str, table: str, undefined: bool = True) -> str:
    """The cells of a line of text by a table; without those of what it does not know where `undefined` is false.
    Raises `Refused` where there is no liblouis or no such table.
    """
    return _told("lou_translateString", text, table, 0 if undefined else _WITHOUT_UNDEFINED)


def read_back(cells: str, table: str) -> str:
    """What cells say by a table; raises `Refused` likewise."""
    return _told("lou_backTranslateString", cells, table, 0)


def _told(how: str, text: str, table: str, mode: int) -> str:
    library = _library()
    if not text:
        return ""
    wide, code = (ctypes.c_uint32, "utf-32-le") if library.lou_charSize() == 4 else (ctypes.c_uint16, "utf-16-le")
    raw = text.encode(code)
    count, most = len(raw) // ctypes.sizeof(wide), _LETTERS_A_CELL * len(text) + 64
    given, found = (wide * count).from_buffer_copy(raw), (wide * most)()
    taken, held = ctypes.c_int(count), ctypes.c_int(most)
    with _lock:  # it keeps its tables for all threads alike
        done = getattr(library, how)(
            f"{_DISPLAY},{table}".encode(), given, ctypes.byref(taken), found, ctypes.byref(held), None, None, mode
        )
    if not done or taken.value < count:
        raise Refused("These words cannot be told in Braille; shorten them.")
    return bytes(found)[: held.value * ctypes.sizeof(wide)].decode(code)
