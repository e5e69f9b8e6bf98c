"""Reading JSON from the bytes of a file, with every fault said in a sentence."""

import json

from foliant.core.errors import Refused

LARGEST = 8_000_000
"""The most bytes in a file."""


def read_json(content: bytes, what: str) -> object:
    """The data of a file that is to be `what`, such as "a design file"; raises `Refused`."""
    if len(content) > LARGEST:
        raise Refused(f"This file has {len(content) / 1e6:.0f} MB; {what} has at most {LARGEST / 1e6:.0f}.")
    try:
        data = json.loads(content.decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise Refused(f"This file is not text, so it is not {what} of Foliant's.") from None
    except (ValueError, RecursionError) as error:
        where = f" near line {error.lineno}" if isinstance(error, json.JSONDecodeError) else ""
        raise Refused(f"This file is not valid JSON{where}, so it cannot be read as {what}.") from None
    check_text(data)
    return data


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
