"""The JSON schemas of the design file and the shop file, from the models that read them."""

from typing import Any

from foliant.core.design import Design
from foliant.core.equipment import Shop

DIALECT = "https://json-schema.org/draft/2020-12/schema"


def design_schema() -> dict[str, Any]:
    """The schema of what `write_design` writes; `docs/design-file.md` says the same in words."""
    return {"$schema": DIALECT, **Design.model_json_schema(mode="serialization")}


def shop_schema() -> dict[str, Any]:
    """The schema of what `write_shop` writes; `docs/shop-file.md` says the same in words."""
    return {"$schema": DIALECT, **Shop.model_json_schema(mode="serialization")}
