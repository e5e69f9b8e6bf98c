"""The one exception that carries a sentence for the maker."""

import re

_LONGEST_WORD = 60
_LONGEST = 900


class Refused(ValueError):
    """Something a maker asked for cannot be done; the message is a full sentence saying what and why.

    What was typed may be said back in it, but never at great length.
    """

    def __init__(self, sentence: str) -> None:
        super().__init__(shortened(sentence))


def shortened(sentence: str) -> str:
    """A sentence without endless words, and of a length that can be shown."""
    plain = re.sub(rf"\S{{{_LONGEST_WORD},}}", lambda word: word.group()[: _LONGEST_WORD // 2] + "…", sentence)
    return plain if len(plain) <= _LONGEST else plain[: _LONGEST - 1] + "…"


class NoSuchValue(Refused):
    """There is no value of that name."""
