"""The album: which picture a key names. The workshop tells where makers' pictures are, the command line what lies
beside the design file.

A design names its picture by a key, and keeps it where the picture is gone: an empty frame stands in, and says so.
"""

import io
import re
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from PIL import Image

from foliant.core.errors import Refused
from foliant.core.remembering import remembered
from foliant.core.seeing.intake import take_picture

_KEY = re.compile(r"(?!.*\.\.)(\w[\w .,+&'()-]{0,79}/){0,3}\w[\w .,+&'()-]{0,79}")

Finder = Callable[[str], bytes | None]

_finders: list[Finder] = []


@dataclass(frozen=True, eq=False)
class Picture:
    """A picture in greys: how light each pixel is on white, and how much it covers, where that is not all."""

    grey: Image.Image
    cover: Image.Image | None

    @property
    def _weight(self) -> int:
        return self.grey.width * self.grey.height * (1 if self.cover is None else 2)

    @property
    def size(self) -> tuple[int, int]:
        """How many pixels it is wide and high."""
        return self.grey.size


def add_finder(finder: Finder) -> None:
    """Have pictures looked up by `finder`, which gives the bytes of a plain picture (see `intake`), or None."""
    _finders.append(finder)


def find_picture(key: str) -> Picture | None:
    """The picture of that key, or None where it is not here."""
    with suppress(KeyError):
        return _found(key)
    return None


def check_picture(key: str) -> str:
    """The key, if a picture could have it, whether it is here or not; raises `Refused`."""
    if key and not _KEY.fullmatch(key):
        raise Refused(f"A picture cannot be called “{key[:40]}”: name a file beside the design, as lighthouse.png.")
    return key


def beside(folder: Path) -> Finder:
    """Finds pictures that lie in a folder, by the paths that lead to them from there; raises `Refused` for what is no
    picture.
    """

    def found(key: str) -> bytes | None:
        try:
            return _taken(key, (folder / key).read_bytes())
        except OSError:
            return None

    return found


def among(files: Mapping[str, bytes]) -> Finder:
    """Finds pictures among files by their names; raises `Refused` for what is no picture."""
    return lambda key: _taken(key, files[key]) if key in files else None


def _taken(key: str, data: bytes) -> bytes:
    try:
        return take_picture(data).data
    except Refused as refusal:
        raise Refused(f"{key}: {refusal}") from None


@remembered
def _found(key: str) -> Picture:
    data = next((data for finder in _finders if key and (data := finder(key)) is not None), None)
    if data is None:
        raise KeyError(key)  # so that it is looked for again: it may come
    kept = Image.open(io.BytesIO(data), formats=("PNG",))
    kept.load()
    if kept.mode == "L":
        return Picture(kept, None)
    grey, cover = kept.split()
    white = Image.new("L", kept.size, 255)
    white.paste(grey, mask=cover)
    return Picture(white, cover)
