"""The design file: a project's design as JSON, specified in `docs/design-file.md`."""

import json

from foliant.core.design import Design, read_design
from foliant.core.formats.json_file import read_json


def write_design(design: Design) -> str:
    """The design as indented JSON; reading it again gives an equal design."""
    return json.dumps(design.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def read_design_file(content: bytes) -> Design:
    """The design of a file's bytes; raises `Refused` with a sentence."""
    return read_design(read_json(content, "a design file"))
