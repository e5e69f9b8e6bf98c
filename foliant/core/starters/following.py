"""What makes a starter at another size: what is typed goes in where a part is put on, and other measures follow."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from foliant.core.design.edits.adding import KINDS
from foliant.core.quantities import quantity_of
from foliant.core.units import Unit

Edit = dict[str, Any]

_PLATE = "a2"
_SIDES = {"width": 0, "height": 1, "diameter": 0}
_BY_BOTH = ("diameter", "cap_height", "corner", "notch", "rise", "depth", "band")
_LEAST = 0.62
"""How much smaller a plate makes what keeps off its edges, at most."""


@dataclass
class Following:
    """The edits of a starter, one after the other, as they are at the size that is typed for its plate, its first part.

    typed  what is typed for each part, by its id and by field
    """

    typed: Mapping[str, Mapping[str, str]]
    unit: Unit
    factors: tuple[float, float] = (1.0, 1.0)
    sides: tuple[float, float] = (0.0, 0.0)

    def edit(self, edit: Edit, part: str) -> Edit:
        """An edit that puts on the part of that id, if it does. Raises `Refused` where what is typed cannot be."""
        if edit["do"] == "add-part":
            values = self._read(edit["kind"], self.typed.get(part, {}))
            if part == _PLATE:
                return self._plate(edit, values)
            return self._part(edit, values)
        if edit["do"] == "words-on-edge":
            first, second = (f"a{int(part[1:]) + more}" for more in (0, 1))
            texts = {"top": self.typed.get(first, {}).get("text"), "bottom": self.typed.get(second, {}).get("text")}
            return {**edit, **{side: text for side, text in texts.items() if text}}
        if "distance" in (values := edit.get("values", {})):
            return {**edit, "values": {**values, "distance": values["distance"] * self._kept}}
        return edit

    @property
    def _both(self) -> float:
        return min(self.factors)

    @property
    def _kept(self) -> float:
        """How far what keeps a distance from an edge comes nearer to it."""
        return min(max(self._both, _LEAST), 1.0)

    def _read(self, kind: str, typed: Mapping[str, str]) -> dict[str, Any]:
        """What is typed, lengths in mm."""
        found: dict[str, Any] = {}
        for field, text in typed.items():
            quantity = quantity_of(KINDS[kind], field)
            found[field] = quantity.read(text, self.unit) if quantity.kind == "length" else text
        return found

    def _plate(self, edit: Edit, typed: dict[str, Any]) -> Edit:
        usual = edit["values"]
        asked = {_SIDES[field]: typed[field] / usual[field] for field in typed if field in _SIDES and field in usual}
        if asked:
            first = next(iter(asked.values()))
            self.factors = asked.get(0, first), asked.get(1, first)
        new = {**self._sized(usual), **typed}
        wide, tall = (usual.get(field, usual.get("diameter", 0.0)) for field in ("width", "height"))
        self.sides = wide, tall
        return {**edit, "values": new}

    def _part(self, edit: Edit, typed: dict[str, Any]) -> Edit:
        values, place = edit["values"], {}
        keeps = KINDS[edit["kind"]].keeps_size
        for side, axis in enumerate(("x", "y")):
            if axis in edit:
                place[axis] = self._inset(edit[axis], side) if keeps else edit[axis] * self.factors[side]
        if not keeps:
            values = self._sized(values)
        if "at_most" in values:
            values = {**values, "at_most": values["at_most"] * self.factors[1 if edit.get("rotation") else 0]}
        if "at_most_high" in values:
            values = {**values, "at_most_high": values["at_most_high"] * self.factors[0 if edit.get("rotation") else 1]}
        return {**edit, **place, "values": {**values, **typed}}

    def _sized(self, values: dict[str, Any]) -> dict[str, Any]:
        """Sizes across by how much wider the plate is, down by how much taller, and others by the less of both."""
        found = dict(values)
        for field in values:
            if field in _BY_BOTH:
                found[field] = values[field] * self._both
            elif field in ("width", "height"):
                found[field] = values[field] * self.factors[_SIDES[field]]
        return found

    def _inset(self, at: float, side: int) -> float:
        """Holes stay about as far from the nearest edge as they were."""
        whole = self.sides[side]
        if at <= whole / 2:
            return at * self._kept
        return whole * self.factors[side] - (whole - at) * self._kept
