"""Files of the command line, whose troubles are sentences."""

from pathlib import Path

from foliant.core.errors import Refused


def content_of(file: str) -> bytes:
    """The bytes of a file; raises `Refused`."""
    try:
        return Path(file).read_bytes()
    except OSError as error:
        raise Refused(f"{file} cannot be read: {(error.strerror or 'unknown error').lower()}.") from None


def write_to(target: Path, content: bytes) -> None:
    """Write a file; raises `Refused`."""
    try:
        target.write_bytes(content)
    except OSError as error:
        raise Refused(f"{target} cannot be written: {(error.strerror or 'unknown error').lower()}.") from None
