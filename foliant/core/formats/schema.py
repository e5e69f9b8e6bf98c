"""The JSON schema of the design file, from the models that read it."""

from typing import Any

from foliant.core.design import Design

DIALECT = "https://json-schema.org/draft/2020-12/schema"


def design_schema() -> dict[str, Any]:
    """The schema of what `write_design` writes; `docs/design-file.md` says the same in words."""
    return {"$schema": DIALECT, **Design.model_json_schema(mode="serialization")}
