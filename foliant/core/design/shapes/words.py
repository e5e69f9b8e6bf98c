"""A line of words in a font, sized by the height of its capitals."""

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from foliant.core.design.quantities import Font, LineOfWords, Quantity, sized
from foliant.core.design.shapes.shape import Bit, Shape, Value, short
from foliant.core.lettering import Setting, set_line
from foliant.core.paths import Path, join
from foliant.core.units import Unit


class Words(Shape):
    """One line of words, its ink centred on the origin, half a capital's height above and below."""

    kind: Literal["words"] = "words"
    text: LineOfWords = "Quillmoor"
    font: Font = "playfair-display"
    cap_height: Annotated[float, sized("The height of the capitals", 0.5, 500)] = 7.5
    tracking: Annotated[float, Quantity("percent", "Tracking", -20, 200)] = 0.0

    title: ClassVar[str] = "Words"
    role: ClassVar[str] = "engraves"
    shelf: ClassVar[str] = "first"
    first: ClassVar[str] = "text"

    def setting(self) -> Setting:
        """The set line with what the font lacks."""
        return set_line(self.text, self.font, self.cap_height, self.tracking)

    def paths(self) -> tuple[Path, ...]:
        return self.setting().glyphs

    def box(self) -> tuple[float, float, float, float]:
        """Its ink across; down, its capitals from top to baseline, so that other words stand on the same line."""
        half = self.setting().width / 2
        return -half, -self.cap_height / 2, half, self.cap_height / 2

    def letters(self) -> list[tuple["Words", float]]:
        """Each letter as words of its own, and where its middle stands across, in mm from this origin.

        Letters that the font has joined into one glyph are set side by side instead.
        """
        singles = [self.model_copy(update={"text": letter}) for letter in self.text if not letter.isspace()]
        glyphs = self.paths()
        if len(glyphs) == len(singles):
            boxes = [glyph.bounds for glyph in glyphs]
            return [(single, (box[0] + box[2]) / 2) for single, box in zip(singles, boxes, strict=True)]
        widths = [join(single.paths()).bounds[2] * 2 for single in singles]
        gap = self.cap_height * 0.1
        starts = [sum(widths[:i]) + gap * i for i in range(len(singles))]
        total = starts[-1] + widths[-1]
        return [
            (single, start + width / 2 - total / 2)
            for single, start, width in zip(singles, starts, widths, strict=True)
        ]

    def sentence(self) -> Sequence[Bit]:
        return [
            "Words ",
            Value("text"),
            " in ",
            Value("font"),
            ", capitals ",
            Value("cap_height"),
            " tall, tracking ",
            Value("tracking"),
        ]

    def label(self) -> str:
        return self.text

    def summary(self, unit: Unit) -> str:
        return short(self.cap_height, unit)
