"""The shop file: materials, machines, recipes, the shelf and rates as JSON, specified in `docs/shop-file.md`."""

import json
from collections.abc import Mapping
from typing import Any

from foliant.core.equipment import Shop
from foliant.core.equipment.shop import FORMAT, VERSION
from foliant.core.errors import Refused
from foliant.core.formats.json_file import read_json
from foliant.core.quantities import build


def write_shop(shop: Shop) -> str:
    """The shop as indented JSON; reading it again gives an equal shop."""
    return json.dumps(shop.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def read_shop_file(content: bytes) -> Shop:
    """The shop of a file's bytes; raises `Refused` with a sentence."""
    return read_shop(read_json(content, "a shop file"))


def read_shop(data: object) -> Shop:
    """A shop from parsed JSON; raises `Refused` with a sentence where it is not one."""
    if not isinstance(data, Mapping) or data.get("format") != FORMAT:
        raise Refused(f"This is not a Foliant shop file: its “format” should be “{FORMAT}”.")
    version: Any = data.get("version")
    if version != VERSION:
        raise Refused(f"This shop file has version {str(version)[:20]}; this Foliant reads version {VERSION}.")
    return build(Shop, data)
