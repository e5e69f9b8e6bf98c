"""A bundle: a design file with the pictures that it names beside it, as a ZIP file."""

import io
import json
import re
import zipfile
from collections.abc import Mapping
from pathlib import PurePosixPath

from PIL import Image

from foliant.core.design import Design
from foliant.core.errors import Refused
from foliant.core.formats.design_file import write_design
from foliant.core.formats.json_file import LARGEST as LARGEST_DESIGN
from foliant.core.seeing import find_picture

LARGEST = 60_000_000
"""The most bytes in a bundle, packed or not."""

MOST_FILES = 60
BEGINS = b"PK\x03\x04"
_DESIGN = "design.json"


def write_bundle(design: Design) -> bytes:
    """The design file, its pictures named by where they lie beside it, and those pictures."""
    out = io.BytesIO()
    places: dict[str, str] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as bundle:
        for number, key in enumerate(pictures_of(design), 1):
            picture = find_picture(key)
            if picture is None:
                continue
            places[key] = f"pictures/{number}.png"
            plain = picture.grey if picture.cover is None else Image.merge("LA", (picture.grey, picture.cover))
            written = io.BytesIO()
            plain.save(written, "PNG")
            bundle.writestr(places[key], written.getvalue(), zipfile.ZIP_STORED)
        bundle.writestr(_DESIGN, renamed(write_design(design), places))
    return out.getvalue()


def read_bundle(content: bytes) -> tuple[bytes, dict[str, bytes]]:
    """The design file of a bundle and what lies beside it, by the paths that lead there; raises `Refused`."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as bundle:
            files = [one for one in bundle.infolist() if not one.is_dir()]
            if len(files) > MOST_FILES or sum(one.file_size for one in files) > LARGEST:
                raise Refused(f"This file unpacks to more than {LARGEST / 1e6:.0f} MB or {MOST_FILES} files.")
            designs = [one for one in files if PurePosixPath(one.filename).suffix == ".json"]
            if len(designs) != 1 or designs[0].file_size > LARGEST_DESIGN:
                raise Refused("This ZIP file holds no design file, or several: open the one that is wanted.")
            root = PurePosixPath(designs[0].filename).parent
            beside = {
                str(PurePosixPath(one.filename).relative_to(root)): bundle.read(one)
                for one in files
                if one is not designs[0] and PurePosixPath(one.filename).is_relative_to(root)
            }
            return bundle.read(designs[0]), beside
    except Refused:
        raise
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, OSError, ValueError):
        raise Refused("This ZIP file is damaged or locked, so nothing was opened.") from None


def renamed(text: str, places: Mapping[str, str]) -> str:
    """The JSON of a design with its pictures by other names."""
    if not places:
        return text
    named = "|".join(re.escape(json.dumps(key, ensure_ascii=False)) for key in places)
    return re.sub(
        rf'("picture"\s*:\s*)({named})',
        lambda found: found.group(1) + json.dumps(places[json.loads(found.group(2))], ensure_ascii=False),
        text,
    )


def pictures_of(design: Design) -> list[str]:
    """The keys of the pictures that a design names."""
    looks = (part.shape.look for piece in design.pieces for part in piece.parts)
    return list(dict.fromkeys(look.picture for look in looks if look and look.picture))
