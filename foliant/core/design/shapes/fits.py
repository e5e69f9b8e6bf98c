"""Fits: how much wider than the stock is thick a slot is cut, so that a piece of the same stock goes in."""

from typing import Annotated, Literal

from foliant.core.design.shapes.shape import Shape
from foliant.core.phrases import Bit, Measure, Value
from foliant.core.quantities import Quantity, sized

Fit = Literal["loose", "sliding", "snug", "press"]

ALLOWANCES: dict[Fit, float] = {"loose": 0.3, "sliding": 0.15, "snug": 0.05, "press": -0.05}
"""What is added to the measured thickness, in mm; a starting point that a test cut should confirm."""

FitChoice = Annotated[
    Fit,
    Quantity(
        "choice",
        "The fit",
        choices=(
            ("loose", "a loose fit"),
            ("sliding", "a sliding fit"),
            ("snug", "a snug fit"),
            ("press", "a press fit"),
        ),
    ),
]
StockThickness = Annotated[float, sized("The measured thickness", 0.05, 50)]


class Fitted(Shape):
    """A slot as wide as the stock is thick and the fit asks.

    `thickness` is the measured thickness of the project's stock: settling keeps it so.
    """

    fit: FitChoice = "sliding"
    thickness: StockThickness = 3.0

    @property
    def width(self) -> float:
        return slot_width(self.thickness, self.fit)

    def with_stock(self, thickness: float) -> Shape:
        return self if thickness == self.thickness else self.model_copy(update={"thickness": thickness})

    def fit_words(self) -> list[Bit]:
        """The end of its sentence: the fit, the stock, and the width they come to."""
        stock = Value("thickness", of="stock", field_there="measured")
        return [Value("fit"), " for ", stock, " stock: ", Measure(self.width), " wide"]


def slot_width(thickness: float, fit: Fit) -> float:
    """The width of a slot for stock of a measured thickness, mm; never less than a tenth."""
    return max(0.1, round(thickness + ALLOWANCES[fit], 4))
