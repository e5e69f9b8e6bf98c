"""Series: "1 … 60", "Bay 01 … 12", "A … H", "0, 5 … 60" or "1 Dec … 24 Dec" as the cells that they stand for."""

import re
from collections.abc import Callable, Sequence
from datetime import date, timedelta

from foliant.core.errors import Refused

_BETWEEN = re.compile(r"\s*(?:…|\.{2,3}|\bto\b)\s*")
_NUMBERED = re.compile(r"(.*?)(\d{1,9})(\D*)")
_LONGEST = 100
"""Characters of a line that may stand for a series."""

_DATED = re.compile(r"(?P<day>\d{1,2})\.? (?P<month>[A-Za-z]{3,9})\.?(?: (?P<year>\d{4}))?|(?P<iso>\d{4}-\d\d-\d\d)")
_MONTHS = (
    "January", "February", "March", "April", "May", "June",
    "July", "August", "September", "October", "November", "December",
)  # fmt: skip
_DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
_A_YEAR = 2028
"""What stands for a year that is not said: one with a leap day, so that every day can be named."""


def series(line: str, most: int) -> list[str] | None:
    """The cells of a line that names the first and the last of a series, and the second where it goes by steps; None
    where it is none. Raises `Refused` where it has more than `most`.
    """
    ends = _BETWEEN.split(line.strip()) if len(line) <= _LONGEST else []
    if len(ends) != 2 or not all(ends):
        return None
    first, comma, second = (part.strip() for part in ends[0].partition(","))
    for kind in (_dates, _numbers, _letters, _names):
        found = kind(first, second if comma else "", ends[1], most)
        if found is not None:
            if len(found) > most:
                raise Refused(f"“{line.strip()[:40]}” makes more than {most:,} rows: make it in parts.")
            return found
    return None


def _numbers(first: str, second: str, last: str, most: int) -> list[str] | None:
    """Numbers among the same words; those with noughts before them keep their length."""
    begin, then, end = (_NUMBERED.fullmatch(text) for text in (first, second or first, last))
    if not (begin and then and end) or begin[3] != end[3] or begin[1] != then[1] or (end[1] not in ("", begin[1])):
        return None
    a, z = int(begin[2]), int(end[2])
    step = int(then[2]) - a if second else (1 if z >= a else -1)
    wide = len(begin[2]) if begin[2].startswith("0") and len(begin[2]) > 1 else 0
    return [f"{begin[1]}{at:0{wide}d}{begin[3]}" for at in _steps(a, z, step, most)]


def _letters(first: str, second: str, last: str, most: int) -> list[str] | None:
    """Single letters, or words that end in one: "A … H", "Row A … F"."""
    words, a = first[:-1], first[-1:]
    alike = last[:-1] in ("", words) and second[:-1] in ("", words)
    z, then = last[-1], second[-1:] or a
    if not alike or (words and not words.endswith(" ")) or not all(len(c) == 1 and c.isascii() for c in (a, z, then)):
        return None
    if not (all(c.isupper() for c in (a, z, then)) or all(c.islower() for c in (a, z, then))):
        return None
    step = ord(then) - ord(a) if second else (1 if z >= a else -1)
    return [f"{words}{chr(at)}" for at in _steps(ord(a), ord(z), step, most)]


def _names(first: str, second: str, last: str, most: int) -> list[str] | None:
    """Months and days of the week, in full or in three letters."""
    for names in (_MONTHS, _DAYS):
        for known in (names, tuple(name[:3] for name in names)):
            folded = [name.casefold() for name in known]
            if not second and first.casefold() in folded and last.casefold() in folded:
                a, z = folded.index(first.casefold()), folded.index(last.casefold())
                return [known[at % len(known)] for at in range(a, z + 1 if z >= a else z + len(known) + 1)]
    return None


def _dates(first: str, second: str, last: str, most: int) -> list[str] | None:
    """Days, as ISO dates or as "24 December 2026", a year or not."""
    begin, then, end = (_dated(text) for text in (first, second or first, last))
    if not (begin and then and end) or begin[1](begin[0]) != first:
        return None
    step = (then[0] - begin[0]).days if second else (1 if end[0] >= begin[0] else -1)
    days = _steps(0, (end[0] - begin[0]).days, step, most)
    return [begin[1](begin[0] + timedelta(days=at)) for at in days]


def _dated(text: str) -> tuple[date, Callable[[date], str]] | None:
    """A day, and how days are written as it is."""
    found = _DATED.fullmatch(text)
    if not found:
        return None
    try:
        if found["iso"]:
            return date.fromisoformat(found["iso"]), date.isoformat
        months = [name[:3].casefold() for name in _MONTHS]
        month = months.index(found["month"][:3].casefold())
        day = date(int(found["year"] or _A_YEAR), month + 1, int(found["day"]))
    except ValueError:
        return None
    short, year = len(found["month"]) == 3, bool(found["year"])

    def written(at: date) -> str:
        name = _MONTHS[at.month - 1]
        return f"{at.day} {name[:3] if short else name}{f' {at.year}' if year else ''}"

    return day, written


def _steps(first: int, last: int, step: int, most: int) -> Sequence[int]:
    """From the first to the last; one more than `most` where there are more."""
    if not step or (last - first) * step < 0:
        return [first]
    return range(first, last + (1 if step > 0 else -1), step)[: most + 1]
