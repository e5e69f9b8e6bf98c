"""The tree of an SVG file, read without fetching or unfolding anything."""

import gzip
import io
import zlib
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from foliant.core.errors import Refused

SVG = "{http://www.w3.org/2000/svg}"
LINK = "{http://www.w3.org/1999/xlink}href"
_MOST_UNZIPPED = 200_000_000
_DEEPEST = 400


def tree_of(data: bytes) -> Element:
    """The root element; raises `Refused` for what is no SVG, is broken, or would unfold without end."""
    if data[:2] == b"\x1f\x8b":
        data = _unzipped(data)
    try:
        # Entities of the file's own are unfolded within the bounds of the parser; others are never fetched.
        root: Element = fromstring(data, forbid_entities=False, forbid_external=True)
    except DefusedXmlException:
        raise Refused(
            "This file asks for other files while it is read, which is never done; save it plainly."
        ) from None
    except ParseError as broken:
        if "amplification" in str(broken) or "entity" in str(broken):
            raise Refused("This file unfolds to many times its size, so it is not read.") from None
        line, column = broken.position
        raise Refused(f"This file is damaged near line {line}, character {column}, so nothing was read.") from None
    if local(root) != "svg":
        raise Refused("This file is XML but no SVG drawing.")
    _check_depth(root)
    return root


def local(element: Element) -> str:
    """The name of an element without its namespace; "" for what is none of SVG's."""
    tag = element.tag
    if not isinstance(tag, str):
        return ""
    if tag.startswith(SVG):
        return tag[len(SVG) :]
    return "" if tag.startswith("{") else tag


def reference(element: Element) -> str:
    """The id that an element refers to within its own file; "" for none."""
    address = element.get("href") or element.get(LINK) or ""
    return address[1:] if address.startswith("#") else ""


def _unzipped(data: bytes) -> bytes:
    try:
        with gzip.GzipFile(fileobj=io.BytesIO(data)) as packed:
            plain = packed.read(_MOST_UNZIPPED + 1)
    except (OSError, EOFError, zlib.error):
        raise Refused("This compressed drawing is damaged, so nothing was read.") from None
    if len(plain) > _MOST_UNZIPPED:
        raise Refused(f"This drawing unpacks to more than {_MOST_UNZIPPED / 1e6:.0f} MB.")
    return plain


def _check_depth(root: Element) -> None:
    level = [root]
    for _ in range(_DEEPEST):
        level = [child for element in level for child in element]
        if not level:
            return
    raise Refused(f"This drawing is nested more than {_DEEPEST} deep, so it is not read.")
