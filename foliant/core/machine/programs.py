"""Programs as runs keep them: their lines, compressed, and read one after the other, as one may be long."""

import zlib
from collections.abc import Iterable, Iterator
from itertools import islice

_LINES = 4096
_BYTES = 1 << 16
"""So much is compressed, or read, at a time."""


def pack_lines(lines: Iterable[str]) -> bytes:
    """Lines, none of them empty, as they are kept."""
    packer, parts, left = zlib.compressobj(), [], iter(lines)
    while some := list(islice(left, _LINES)):
        parts.append(packer.compress("\n".join([*some, ""]).encode()))
    return b"".join([*parts, packer.flush()])


def read_lines(packed: bytes) -> Iterator[str]:
    """What `pack_lines` packed, line by line."""
    reader, waiting, rest = zlib.decompressobj(), b"", packed
    while rest and not reader.eof:
        waiting += reader.decompress(rest, _BYTES)
        rest = reader.unconsumed_tail
        *whole, waiting = waiting.split(b"\n")
        yield from (line.decode() for line in whole)
    if waiting:
        yield waiting.decode()
