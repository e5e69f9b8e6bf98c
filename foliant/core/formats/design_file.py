"""The design file: a project's design as JSON, specified in `docs/design-file.md`."""

import json

from foliant.core.design import Design, read_design
from foliant.core.errors import Refused

LARGEST = 8_000_000
"""The most bytes in a design file."""


def write_design(design: Design) -> str:
    """The design as indented JSON; reading it again gives an equal design."""
    return json.dumps(design.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def read_design_file(content: bytes) -> Design:
    """The design of a file's bytes; raises `Refused` with a sentence."""
    if len(content) > LARGEST:
        raise Refused(f"This file has {len(content) / 1e6:.0f} MB; a design file has at most {LARGEST / 1e6:.0f}.")
    try:
        data = json.loads(content.decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise Refused("This file is not text, so it is not a Foliant design file.") from None
    except (ValueError, RecursionError) as error:
        where = f" near line {error.lineno}" if isinstance(error, json.JSONDecodeError) else ""
        raise Refused(f"This file is not valid JSON{where}, so it cannot be read as a design.") from None
    check_text(data)
    return read_design(data)


def check_text(data: object) -> None:
    """Raise `Refused` where parsed JSON holds half a character: no text can be written with one."""
    try:
        json.dumps(data, ensure_ascii=False).encode()
    except UnicodeEncodeError:
        raise Refused(
            "A text holds half a character (a lone surrogate) that nothing can draw; type it again."
        ) from None
    except RecursionError:
        raise Refused("This is nested too deep to be read.") from None
