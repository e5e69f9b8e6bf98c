"""Quantities: what kind of value a field holds, its bounds, and how typed text becomes it.

A quantity stands in a field's annotation. It checks the value whenever the model is made, from an edit
or from a file, and it tells the page how to show and edit the value.
"""

import math
import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, GetCoreSchemaHandler, ValidationError
from pydantic_core import CoreSchema, core_schema

from foliant.core.errors import NoSuchValue, Refused
from foliant.core.lettering.library import check_font, font_name
from foliant.core.lettering.lines import check_words
from foliant.core.units import (
    MM_PER_INCH,
    Speeds,
    Unit,
    format_length,
    format_number,
    format_speed,
    parse_length,
    parse_number,
)

QuantityKind = Literal[
    "length",
    "lengths",
    "spacing",
    "angle",
    "percent",
    "speed",
    "acceleration",
    "seconds",
    "minutes",
    "count",
    "points",
    "number",
    "money",
    "words",
    "colour",
    "font",
    "choice",
]

Model = TypeVar("Model", bound=BaseModel)

_SUFFIXES: dict[str, tuple[str, ...]] = {
    "angle": ("°", "deg", "degrees"),
    "percent": ("%",),
    "speed": ("mm/s",),
    "acceleration": ("mm/s²", "mm/s2", "mm/s^2"),
    "seconds": ("s", "sec", "seconds"),
    "minutes": ("min", "minutes", "minute"),
    "points": ("pt", "points"),
    "count": ("passes", "pass", "pieces", "piece", "sheets", "sheet", "x"),
    "number": (),
    "money": (),
}
_SPEEDS = {"mm/min": 1 / 60, "in/s": MM_PER_INCH, "in/min": MM_PER_INCH / 60, "m/min": 1000 / 60}
_SPEED = re.compile(rf"(?P<number>.+?) ?(?P<unit>{'|'.join(_SPEEDS)})")
_TEXTS = ("words", "colour", "font", "choice")
_COLOUR = re.compile("#[0-9a-f]{6}")
_MOST_LENGTHS = 12
_HUGE = 10**300
_PER = re.compile(r"(?P<count>[0-9.]+) ?(?:dpi|lpi|(?:lines?|dots?)? ?(?:/|per|an?) ?(?P<of>mm|inch|in))")
"""Lines or dots to the millimetre or inch."""
_KEY = re.compile("[a-z0-9][a-z0-9-]{0,39}")


@dataclass(frozen=True)
class Quantity:
    """A kind of value with its name in sentences, its bounds (mm, degrees, %, mm/s) and its choices.

    Where the choices are `open`, they change from place to place, and any key is taken.
    """

    kind: QuantityKind
    label: str
    least: float = -math.inf
    most: float = math.inf
    choices: tuple[tuple[str, str], ...] = ()
    open: bool = False
    check_text: Callable[[str], str] | None = None

    def read(self, raw: object, unit: Unit) -> object:
        """The value that a maker typed or picked; raises `Refused` where it cannot be read."""
        if not isinstance(raw, str) or self.kind in _TEXTS:
            return raw
        if self.kind == "lengths":
            return tuple(sorted({parse_length(one, unit) for one in re.split(r"[,;]|\band\b", raw) if one.strip()}))
        if self.kind == "spacing" and (many := _PER.fullmatch(raw.strip().lower())):
            per = parse_number(many["count"], ())
            if per <= 0:
                raise Refused(f"{self.label} cannot be told by {raw[:20]}: say how many lines there are.")
            return (1.0 if many["of"] == "mm" else MM_PER_INCH) / per
        if self.kind in ("length", "spacing"):
            return parse_length(raw, unit)
        if self.kind == "speed" and (told := _SPEED.fullmatch(raw.strip().lower())):
            return parse_number(told["number"], ()) * _SPEEDS[told["unit"]]
        number = parse_number(raw, _SUFFIXES[self.kind])
        if self.kind == "count":
            if number != int(number):
                raise Refused(f"{self.label} must be a whole number, not {format_number(number)}.")
            return int(number)
        return number

    def number(self, raw: object, unit: Unit) -> float:
        """The number that a maker typed, read and checked; raises `Refused`, also for nothing at all."""
        value = self.read(raw, unit)
        if not isinstance(value, (int, float)) or isinstance(value, bool):
            raise Refused(f"{self.label} cannot be “{str(value)[:40]}”.")
        return float(self.check(value, unit))

    def show(self, value: Any, unit: Unit, speeds: Speeds = "mm/s") -> str:
        """The value as the maker reads it, with its unit."""
        match self.kind:
            case "length" | "spacing":
                return format_length(value, unit)
            case "lengths":
                *most, last = (format_length(one, unit) for one in value)
                return f"{', '.join(most)} and {last}" if most else last
            case "angle":
                return f"{format_number(value)}°"
            case "percent":
                return f"{format_number(value)} %"
            case "speed":
                return format_speed(value, speeds)
            case "acceleration":
                return f"{format_number(value)} mm/s²"
            case "seconds":
                return f"{format_number(value)} s"
            case "minutes":
                return f"{format_number(value)} min"
            case "points":
                return f"{format_number(value)} pt"
            case "number":
                return format_number(value)
            case "money":
                return f"{value:.2f}"
            case "words":
                return str(value).replace("\n", " / ")
            case "font":
                return font_name(value)
            case "choice":
                return dict(self.choices).get(value, str(value))
        return str(value)

    def check(self, value: Any, unit: Unit = "mm") -> Any:
        """The value if it lies in bounds; raises `Refused` with a sentence, in `unit`, if not."""
        if value is None:
            return None
        if (self.kind in _TEXTS) is not isinstance(value, str):
            raise Refused(f"{self.label} cannot be “{str(value)[:40]}”.")
        if self.kind in ("words", "font"):
            return self.check_text(value) if self.check_text else value
        if self.kind == "colour" and not _COLOUR.fullmatch(str(value)):
            raise Refused(f"{self.label} is written as # and six digits or letters a to f, such as #e6cb98.")
        if self.kind == "colour":
            return value
        if self.kind == "lengths":
            return self._check_lengths(value, unit)
        if self.kind == "choice" and self.open:
            if not _KEY.fullmatch(str(value)):
                named = "it is named by small letters, digits and hyphens, at most 40"
                raise Refused(f"{self.label} cannot be “{str(value)[:40]}”: {named}.")
            return value
        if self.kind == "choice":
            if value not in dict(self.choices):
                raise Refused(f"{self.label} cannot be “{value}”; choose {', '.join(key for key, _ in self.choices)}.")
            return value
        if not isinstance(value, (int, float)):
            raise Refused(f"{self.label} cannot be “{str(value)[:40]}”.")
        if abs(value) > _HUGE or not math.isfinite(value):
            raise Refused(f"{self.label} must be a finite number.")
        if value < self.least:
            why = "must be more than nothing" if value <= 0 < self.least else "is too small"
            raise Refused(
                f"{self.label} {why}: {self.show(value, unit)} was given; the least is {self.show(self.least, unit)}."
            )
        if value > self.most:
            given, most = self.show(value, unit), self.show(self.most, unit)
            raise Refused(f"{self.label} is too large: {given} was given; the most is {most}.")
        return value

    def _check_lengths(self, value: Any, unit: Unit) -> tuple[float, ...]:
        one = replace(self, kind="length")
        if not isinstance(value, (list, tuple)):
            raise Refused(f"{self.label} cannot be “{value}”.")
        if not 1 <= len(value) <= _MOST_LENGTHS:
            raise Refused(f"{self.label}: type one to {_MOST_LENGTHS} of them, with commas between.")
        return tuple(one.check(length, unit) for length in value)

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(lambda value: self.check(value), handler(source))


def quantity_of(model: type[BaseModel], field: str) -> Quantity:
    """The quantity of a model's field; raises `Refused` for a field that cannot be edited by value."""
    info = model.model_fields.get(field)
    for item in info.metadata if info else ():
        if isinstance(item, Quantity):
            return item
    raise NoSuchValue(f"There is no value “{field}” to change here.")


def values_read(kind: type[BaseModel], values: dict[str, Any], unit: Unit) -> dict[str, Any]:
    """Values of a model as they are typed, read and checked; raises `Refused`."""
    read = {}
    for field, raw in values.items():
        quantity = quantity_of(kind, field)
        # A value that need not be there is taken away by typing nothing.
        nothing = raw == "" and kind.model_fields[field].default is None
        value = None if nothing else quantity.read(raw, unit)
        read[field] = quantity.check(value, unit) if isinstance(value, (int, float, str, tuple)) else value
    return read


def with_values(model: Model, values: dict[str, Any], unit: Unit) -> Model:
    """The model with typed values read, checked and set; the original is untouched."""
    kind = type(model)
    return build(
        kind, {**{field: getattr(model, field) for field in kind.model_fields}, **values_read(kind, values, unit)}
    )


def in_speeds(kind: type[BaseModel], values: dict[str, Any], speeds: Speeds) -> dict[str, Any]:
    """Typed values of a model, those of its speeds that have no unit in the maker's."""
    fields = {name for name in values if name in kind.model_fields and quantity_of(kind, name).kind == "speed"}
    return {name: f"{raw} {speeds}" if name in fields and _is_bare(raw) else raw for name, raw in values.items()}


def _is_bare(raw: object) -> bool:
    """Whether it is text without a unit."""
    return isinstance(raw, str) and bool(re.fullmatch(r"[0-9.,+*/() -]*[0-9][0-9.,+*/() -]*", raw))


def build(kind: type[Model], data: object) -> Model:
    """A model from plain data; raises `Refused` with one sentence where the data is wrong."""
    try:
        return kind.model_validate(data)
    except ValidationError as error:
        raise Refused(explain(error)) from None


def explain(error: ValidationError) -> str:
    """The first thing that is wrong, as a sentence."""
    first = error.errors(include_url=False)[0]
    cause = first.get("ctx", {}).get("error")
    where = " → ".join(str(step) for step in first["loc"])
    if isinstance(cause, Refused):
        return str(cause)
    message = (first["msg"][:1].lower() + first["msg"][1:]).replace("tuple", "list").replace("dictionary", "object")
    return f"The value at “{where}” is wrong: {message}." if where else f"The data is wrong: {message}."


def sized(label: str, least: float = 0.1, most: float = 3000.0) -> Quantity:
    """A size in mm: from a tenth of a millimetre to three metres unless said otherwise."""
    return Quantity("length", label, least, most)


Across = Annotated[float, Quantity("length", "The place across", -5000, 5000)]
Down = Annotated[float, Quantity("length", "The place down", -5000, 5000)]
Rotation = Annotated[float, Quantity("angle", "The rotation", -3600, 3600)]
Font = Annotated[str, Quantity("font", "The font", check_text=check_font)]
SomeWords = Annotated[str, Quantity("words", "The words", check_text=check_words)]
