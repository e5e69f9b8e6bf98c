"""Intake: a drawing that a maker brings, read in a process of its own, or refused with a sentence."""

import sys
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from foliant.core.drawings.drawing import BINARY_DXF, Drawing, Notes, packed, unpacked
from foliant.core.errors import Refused
from foliant.core.taking_apart import Watch, answer, taken_apart

LARGEST = 60_000_000
"""The largest file that is taken, in bytes."""

WIDEST = 10_000.0
"""The widest or highest drawing that is taken, mm."""

_MEMORY = 2_000_000_000
_DAMAGED = "This file is damaged or holds more than can be read in time, so nothing was brought in."
_FOREIGN = "This is no drawing that can be read; bring an SVG, DXF or PDF file, or a picture as PNG, JPEG, WebP or GIF."


def format_of(data: bytes) -> str:
    """Which drawing format the bytes of a file are in, whatever it is called: svg, dxf or pdf; "" for none."""
    start = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    if b"%PDF-" in data[:1024]:
        return "pdf"
    if data[:2] == b"\x1f\x8b" or (start[:1] == b"<" and b"<svg" in data[:200_000].lower()) or _is_utf16_xml(data):
        return "svg"
    is_text = start.split(None, 1)[:1] in ([b"0"], [b"999"]) and b"SECTION" in data[:65536]
    return "dxf" if is_text or data[18:22] == BINARY_DXF else ""


def take_drawing(data: bytes, watch: Watch = lambda share: None) -> Drawing:
    """What the file of a drawing holds; raises `Refused`. `watch` is told how far it is."""
    if len(data) > LARGEST:
        size, most = (f"{count / 1_000_000:.0f} MB" for count in (len(data), LARGEST))
        raise Refused(f"The file is {size} large; drawings of up to {most} can be brought in.")
    if data[:4] == b"PK\x03\x04":
        raise Refused("This file is a ZIP archive; unpack it, and bring the drawing that is in it.")
    if not format_of(data):
        raise Refused(_FOREIGN)
    found, _ = taken_apart(__name__, data, _DAMAGED, watch)
    return unpacked(found)


def plain_drawing(data: bytes) -> Drawing:
    """What the file of a drawing holds, read here; raises `Refused`, or whatever a broken file raises."""
    drawing = _READERS[format_of(data)](data)
    notes = Notes()
    for what, count in drawing.unread:
        notes.add(what, count)
    sound = []
    for item in drawing.items:
        if np.isfinite(item.path.points).all():
            sound.append(item)
        else:
            notes.add("damaged paths")
    drawing = replace(drawing, items=tuple(sound), unread=notes.told())
    if not drawing.items and not drawing.texts:
        left_out = "; ".join(f"{count:,} {what}" for what, count in drawing.unread)
        raise Refused(f"Nothing in this file can be cut, scored or engraved{f': {left_out}' if left_out else ''}.")
    left, top, right, bottom = drawing.bounds
    if max(right - left, bottom - top) > WIDEST:
        size = f"{(right - left) / 1000:,.0f} m × {(bottom - top) / 1000:,.0f} m"
        raise Refused(
            f"This drawing would be {size} large, and at most {WIDEST / 1000:.0f} m are taken: save it smaller."
        )
    return drawing


def _is_utf16_xml(data: bytes) -> bool:
    return data[:2] in (b"\xff\xfe", b"\xfe\xff") and "<svg" in data[:200_000].decode("utf-16", "ignore").lower()


def _svg(data: bytes) -> Drawing:
    from foliant.core.drawings.svg import read_svg

    return read_svg(data)


def _dxf(data: bytes) -> Drawing:
    from foliant.core.drawings.dxf import read_dxf

    return read_dxf(data)


def _pdf(data: bytes) -> Drawing:
    from foliant.core.drawings.pdf import read_pdf

    return read_pdf(data)


_READERS: dict[str, Callable[[bytes], Drawing]] = {"svg": _svg, "dxf": _dxf, "pdf": _pdf}
"""Each is loaded only where it is asked for, as a process of its own reads one file."""


def _apart(data: bytes) -> tuple[bytes, dict[str, Any]]:
    return packed(plain_drawing(data)), {}


if __name__ == "__main__":
    sys.setrecursionlimit(8000)
    answer(_apart, _MEMORY, _DAMAGED)
