"""Edits of treatments: begin one, end one, choose its corners."""

from typing import Literal

from pydantic import Field

from foliant.core.design.edits.command import PartsCommand, Values, changed
from foliant.core.design.model import Design, Part
from foliant.core.design.treatments import KINDS, AnyTreatment, Cornered, TreatmentKey, check_treatment, corners_before
from foliant.core.errors import Refused
from foliant.core.paths import join
from foliant.core.quantities import build, with_values
from foliant.core.units import Unit


class TreatParts(PartsCommand):
    """Begin a treatment of parts, or change the one they have; `values` are as typed.

    Without a size of their own, corners and frames take one that fits.
    """

    do: Literal["treat-parts"]
    treatment: TreatmentKey
    values: Values = Field(default_factory=dict)

    def apply(self, design: Design) -> Design:
        return self.replaced(design, [self._treated(part, design.unit) for part in self.free(design)])

    def _treated(self, part: Part, unit: Unit) -> Part:
        now = getattr(part.treatments, self.treatment)
        fresh = with_values(now or build(KINDS[self.treatment], {}), self.values, unit)
        if now is None and "size" not in self.values:
            fresh = _that_fits(fresh, part)
        return with_treatment(part, self.treatment, fresh, unit)

    def says(self, design: Design) -> str:
        return f"{KINDS[self.treatment].title}: {self.named(design)}"


class UntreatParts(PartsCommand):
    """End a treatment of parts."""

    do: Literal["untreat-parts"]
    treatment: TreatmentKey

    def apply(self, design: Design) -> Design:
        gone: Values = {self.treatment: None}
        return self.replaced(
            design,
            [changed(part, treatments=part.treatments.model_copy(update=gone)) for part in self.free(design)],
        )

    def says(self, design: Design) -> str:
        return f"not {KINDS[self.treatment].title}: {self.named(design)}"


class TurnCorner(PartsCommand):
    """Leave one corner of a part as it is, or treat it again, by its number along the outline."""

    do: Literal["turn-corner"]
    corner: int = Field(ge=0)

    def apply(self, design: Design) -> Design:
        return self.replaced(design, [self._turned(part, design.unit) for part in self.free(design)])

    def _turned(self, part: Part, unit: Unit) -> Part:
        treatment = part.treatments.cornered
        if treatment is None:
            raise Refused(f"The corners of {part.shape.label()[:40]} are not treated.")
        every = range(len(corners_before(part.shape, part.treatments).index))
        if self.corner not in every:
            raise Refused("That corner is no longer there.")
        chosen = set(treatment.only or every) ^ {self.corner}
        if not chosen:
            raise Refused("At least one corner must be treated; end the treatment instead.")
        only = () if chosen >= set(every) else tuple(sorted(chosen))
        return with_treatment(part, "cornered", treatment.model_copy(update={"only": only}), unit)

    def says(self, design: Design) -> str:
        return f"choose a corner of {self.named(design)}"


def with_treatment(part: Part, key: TreatmentKey, treatment: AnyTreatment, unit: Unit) -> Part:
    """The part with a treatment; raises `Refused` where it does not fit or leaves nothing."""
    treatments = part.treatments.model_copy(update={key: treatment})
    check_treatment(part.shape, treatments, key, unit)
    return changed(part, treatments=treatments)


def _that_fits(treatment: AnyTreatment, part: Part) -> AnyTreatment:
    """A treatment at a size that suits a small part too."""
    left, top, right, bottom = join(part.shape.paths()).bounds
    least = min(right - left, bottom - top)
    if isinstance(treatment, Cornered) and least < 10:
        return treatment.model_copy(update={"size": max(0.1, round(least / 8, 1))})
    return treatment
