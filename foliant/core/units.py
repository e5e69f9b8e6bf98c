"""Lengths, angles and speeds: reading what makers type, and writing values back in their unit."""

import math
import re
from typing import Literal

from foliant.core.errors import Refused

Unit = Literal["mm", "in", "fraction"]
"""How lengths are shown: millimetres, decimal inches, or inches with fractions to 1/64."""

Speeds = Literal["mm/s", "mm/min", "in/s"]
"""How speeds are shown."""

MM_PER_INCH = 25.4
SPEEDS: dict[Speeds, float] = {"mm/s": 1.0, "mm/min": 1 / 60, "in/s": MM_PER_INCH}
"""Each of them in mm/s."""

LENGTHS: dict[str, float] = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    "inches": MM_PER_INCH,
    '"': MM_PER_INCH,
    "″": MM_PER_INCH,
    "ft": 12 * MM_PER_INCH,
    "'": 12 * MM_PER_INCH,
    "pt": MM_PER_INCH / 72,
}
FINEST_FRACTION = 64
LARGEST_MM = 10_000.0

_TOKEN = re.compile(r"\s*(?:(\d+(?:\.\d*)?|\.\d+)|([a-zµ]+|[\"″'%°])|(.))", re.IGNORECASE)
_FRACTION = re.compile(r"(\d+)\s+(\d+)\s*/\s*(\d+)")


def parse_length(text: str, unit: Unit = "mm") -> float:
    """Read a length as a maker types it and return millimetres.

    Numbers, fractions (`1 3/8in`), mixed units and arithmetic with `+ - * / ( )` are understood; a
    number with no unit takes `unit`, the project's own. Raises `Refused` with a sentence.
    """
    value, is_length = _Parser(text, LENGTHS).parse()
    millimetres = value if is_length else value * millimetres_in(unit)
    if abs(millimetres) > LARGEST_MM:
        raise Refused(f"“{_shorten(text)}” is longer than 10 m, which no bed here can hold.")
    return round(millimetres, 6)


def parse_number(text: str, suffixes: tuple[str, ...] = ()) -> float:
    """Read a plain number or sum, with any of `suffixes` (such as `%`, `mm/s`) allowed after it."""
    plain = text.strip()
    for suffix in sorted(suffixes, key=len, reverse=True):
        if plain.lower().endswith(suffix):
            plain = plain[: -len(suffix)]
            break
    return round(_Parser(plain, {}).parse()[0], 6)


class _Parser:
    """Recursive descent over `sum := product (± product)*`; a value is (number, is it a length)."""

    def __init__(self, text: str, units: dict[str, float]) -> None:
        self.text = text
        self.units = units
        spoken = text.replace("~", "").replace(",", ".").replace("×", "*").replace("÷", "/").replace("−", "-")
        # "1 3/8" is one and three eighths: bracket it, so that a unit after it covers the whole.
        spoken = _FRACTION.sub(r"(\1+\2/\3)", spoken)
        self.tokens = [match.group().strip() for match in _TOKEN.finditer(spoken) if match.group().strip()]
        self.at = 0

    def parse(self) -> tuple[float, bool]:
        if not self.tokens:
            raise Refused("Type a value, such as 72, 1 3/8in or 25.4/2.")
        if len(self.tokens) > 60:
            raise Refused("That is too long for one value.")
        value = self.sum()
        if self.at < len(self.tokens):
            raise self.puzzled()
        if not math.isfinite(value[0]):
            raise Refused(f"“{_shorten(self.text)}” is not a finite number.")
        return value

    def sum(self) -> tuple[float, bool]:
        value, is_length = self.product()
        while (sign := self.peek()) in ("+", "-") or (is_length and (sign or "")[:1].isdecimal()):
            self.at += sign in ("+", "-")  # "1ft 2in" adds without a sign
            other, other_length = self.product()
            if is_length != other_length:
                raise Refused(f"“{_shorten(self.text)}” adds a length to a bare number; give both a unit.")
            value = value - other if sign == "-" else value + other
        return value, is_length

    def product(self) -> tuple[float, bool]:
        value, is_length = self.factor()
        while (sign := self.peek()) in ("*", "/"):
            self.at += 1
            other, other_length = self.factor()
            if sign == "*":
                if is_length and other_length:
                    raise Refused(f"“{_shorten(self.text)}” multiplies two lengths, which makes an area.")
                value, is_length = value * other, is_length or other_length
            else:
                if other == 0:
                    raise Refused(f"“{_shorten(self.text)}” divides by zero.")
                if other_length and not is_length:
                    raise Refused(f"“{_shorten(self.text)}” divides a number by a length.")
                value, is_length = value / other, is_length and not other_length
            # "3/8in" and "25.4/2 mm": a unit may follow the whole product.
            value, is_length = self.unit_after(value, is_length)
        return value, is_length

    def factor(self) -> tuple[float, bool]:
        token = self.peek()
        if token in ("-", "+"):
            self.at += 1
            value, is_length = self.factor()
            return (-value if token == "-" else value), is_length
        if token == "(":
            self.at += 1
            value, is_length = self.sum()
            if self.peek() != ")":
                raise self.puzzled()
            self.at += 1
            return self.unit_after(value, is_length)
        if token and (token[0].isdecimal() or (token[0] == "." and len(token) > 1)):
            self.at += 1
            # In "3/8in" the unit belongs to the fraction, not to the 8.
            if self.at >= 2 and self.tokens[self.at - 2] == "/" and self.peek() in self.units:
                return float(token), False
            return self.unit_after(float(token), False)
        raise self.puzzled()

    def unit_after(self, value: float, is_length: bool) -> tuple[float, bool]:
        token = (self.peek() or "").lower()
        if token in self.units and not is_length:
            self.at += 1
            return value * self.units[token], True
        return value, is_length

    def peek(self) -> str | None:
        return self.tokens[self.at] if self.at < len(self.tokens) else None

    def puzzled(self) -> Refused:
        token = self.peek()
        if token is None:
            return Refused(f"“{_shorten(self.text)}” stops too early; a number is missing at the end.")
        if token[0].isalpha() and self.units:
            return Refused(f"“{_shorten(token)}” is not a unit Foliant knows; use mm, cm, in or ft.")
        return Refused(f"“{_shorten(self.text)}” is not a value Foliant can read, because of “{_shorten(token)}”.")


def _shorten(text: str, most: int = 32) -> str:
    text = text.strip()
    return text if len(text) <= most else text[: most - 1] + "…"


def format_number(value: float, places: int = 2) -> str:
    """Write a number with at most `places` decimals and no trailing zeros; never `-0`."""
    text = f"{value + math.copysign(1e-9, value):.{places}f}"  # halves go away from zero
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def millimetres_in(unit: Unit) -> float:
    """How many mm a bare number means in the project's unit."""
    return 1.0 if unit == "mm" else MM_PER_INCH


def format_length(millimetres: float, unit: Unit = "mm", with_unit: bool = True) -> str:
    """Write a length in the project's unit: hundredths of a mm, thousandths of an inch, or sixty-fourths."""
    if unit == "fraction":
        number = format_fraction(millimetres / MM_PER_INCH)
    else:
        number = format_number(millimetres / millimetres_in(unit), 2 if unit == "mm" else 3)
    return f"{number} {'mm' if unit == 'mm' else 'in'}" if with_unit else number


def format_fraction(inches: float) -> str:
    """Write inches as a whole and a fraction in lowest terms, such as `1 3/8`; `~` marks what is not on a 1/64."""
    parts = round(abs(inches) * FINEST_FRACTION)
    about = "~" if abs(abs(inches) - parts / FINEST_FRACTION) > 0.0005 else ""
    whole, rest = divmod(parts, FINEST_FRACTION)
    share = math.gcd(rest, FINEST_FRACTION)
    fraction = f"{rest // share}/{FINEST_FRACTION // share}" if rest else ""
    sign = "-" if inches < 0 and parts else ""
    return f"{about}{sign}{' '.join(filter(None, (str(whole) if whole or not rest else '', fraction)))}"


def format_duration(seconds: float) -> str:
    """Write a time as `0:46`, `18:40` or `1:02:05`."""
    whole = round(seconds)
    hours, rest = divmod(whole, 3600)
    minutes, last = divmod(rest, 60)
    return f"{hours}:{minutes:02d}:{last:02d}" if hours else f"{minutes}:{last:02d}"


def format_speed(speed: float, speeds: Speeds = "mm/s") -> str:
    """A speed in mm/s as the maker reads it."""
    return f"{format_number(float(f'{speed / SPEEDS[speeds]:.6g}'))} {speeds}"
