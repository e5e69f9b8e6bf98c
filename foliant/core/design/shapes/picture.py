"""A picture: greys that are burnt dot by dot, cropped or masked, as light and hard as is wanted."""

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, model_validator

from foliant.core.design.names import NameIfAny
from foliant.core.design.nodes import Contour, path_of
from foliant.core.design.shapes.shape import Shape, StandIn, short
from foliant.core.errors import Refused
from foliant.core.paths import Path
from foliant.core.paths.shapes import rectangle
from foliant.core.phrases import Bit, Size, Value
from foliant.core.quantities import Quantity, sized
from foliant.core.seeing import Look, Tones, check_picture, find_picture
from foliant.core.units import Unit

MOST_MASK_NODES = 2000
_LEAST_SEEN = 2.0
_WIDTH, _HEIGHT = sized("The width", 1, 3000), sized("The height", 1, 3000)
_INVERTED = (("no", "as it is"), ("yes", "dark for light"))


def _crop(where: str) -> Quantity:
    return Quantity("percent", f"What is cropped {where}", 0, 98)


class Picture(Shape):
    """A picture, the middle of the whole of it at its origin, so that nothing moves when it is cropped.

    picture                   its key in the album, or the path of a file beside the design
    whole_width, whole_height how large all of it is, mm
    left, top, right, bottom  what is cropped there, % of the whole
    mask                      what is seen of it where that is not a rectangle, in mm about its origin
    the others                see `seeing.Tones`
    """

    kind: Literal["picture"] = "picture"
    picture: Annotated[str, Quantity("words", "The picture", check_text=check_picture)] = ""
    name: NameIfAny = ""
    whole_width: Annotated[float, sized("The width of the whole picture", 1, 3000)] = 60.0
    whole_height: Annotated[float, sized("The height of the whole picture", 1, 3000)] = 45.0
    left: Annotated[float, _crop("on the left")] = 0.0
    top: Annotated[float, _crop("above")] = 0.0
    right: Annotated[float, _crop("on the right")] = 0.0
    bottom: Annotated[float, _crop("below")] = 0.0
    brightness: Annotated[float, Quantity("percent", "The brightness", -100, 100)] = 0.0
    contrast: Annotated[float, Quantity("percent", "The contrast", -100, 100)] = 0.0
    gamma: Annotated[float, Quantity("number", "The gamma", 0.1, 10)] = 1.0
    sharpen: Annotated[float, Quantity("percent", "How much it is sharpened", 0, 500)] = 0.0
    inverted: Annotated[Literal["no", "yes"], Quantity("choice", "Dark for light", choices=_INVERTED)] = "no"
    mask: Annotated[tuple[Contour, ...], Field(max_length=200)] = ()

    title: ClassVar[str] = "Picture"
    role: ClassVar[str] = "engraves"
    first: ClassVar[str] = "width"
    shelf: ClassVar[str] = ""
    proportioned: ClassVar[bool] = True
    crops: ClassVar[tuple[str, ...]] = ("left", "top", "right", "bottom")

    @model_validator(mode="after")
    def _something_is_seen(self) -> "Picture":
        if self.left + self.right > 100 - _LEAST_SEEN or self.top + self.bottom > 100 - _LEAST_SEEN:
            raise Refused(f"At least {_LEAST_SEEN:g} % of a picture must be left when it is cropped.")
        if sum(len(contour.nodes) for contour in self.mask) > MOST_MASK_NODES:
            raise Refused(f"A mask holds at most {MOST_MASK_NODES:,} nodes: choose a plainer shape.")
        if self.mask and not any(contour.closed for contour in self.mask):
            raise Refused("A mask must be closed, as nothing is seen through a line.")
        return self

    @property
    def look(self) -> Look:
        tones = Tones(self.brightness, self.contrast, self.gamma, self.sharpen, self.inverted == "yes")
        return Look(self.picture, tones, self.whole_width, self.whole_height)

    def paths(self) -> tuple[Path, ...]:
        return (path_of(self.mask).with_arcs(),) if self.mask else (self._frame(),)

    def _frame(self) -> Path:
        """The edges of what is left when it is cropped."""
        wide, high = self.whole_width / 100, self.whole_height / 100
        seen = rectangle((100 - self.left - self.right) * wide, (100 - self.top - self.bottom) * high)
        return seen.moved((self.left - self.right) / 2 * wide, (self.top - self.bottom) / 2 * high)

    def segments(self) -> int:
        return 4 + sum(len(contour.nodes) for contour in self.mask)

    @property
    def width(self) -> float:
        """How wide what is seen of it is, mm."""
        left, _, right, _ = self.paths()[0].bounds
        return right - left

    @property
    def height(self) -> float:
        """How high, mm."""
        _, top, _, bottom = self.paths()[0].bounds
        return bottom - top

    def typed(self, values: dict[str, Any], unit: Unit) -> Shape:
        """Its width and height are those of what is seen of it."""
        rest = {name: raw for name, raw in values.items() if name not in ("width", "height")}
        found = super().typed(rest, unit)
        across = _WIDTH.number(values["width"], unit) / found.width if "width" in values else 1.0  # type: ignore[attr-defined]
        down = _HEIGHT.number(values["height"], unit) / found.height if "height" in values else 1.0  # type: ignore[attr-defined]
        return found if across == down == 1 else found.resized(across, down)

    def changed_from(self, before: Shape) -> Shape:
        """Another picture has proportions of its own."""
        assert isinstance(before, Picture)
        found = find_picture(self.picture) if self.picture != before.picture else None
        if found is None or self.whole_height != before.whole_height:
            return self
        wide, high = found.size
        return self.sized(whole_height=min(3000.0, max(1.0, self.whole_width * high / wide)))

    def sentence(self) -> Sequence[Bit]:
        size: list[Bit] = [Size("width", _WIDTH.label, self.width), " × ", Size("height", _HEIGHT.label, self.height)]
        tones: list[Bit] = [
            ", brightness ", Value("brightness"), ", contrast ", Value("contrast"), ", gamma ", Value("gamma"),
            ", sharpened ", Value("sharpen"), ", ", Value("inverted"),
        ]  # fmt: skip
        if self.mask:
            return [f"{self.label()}, ", *size, ", masked", *tones]
        crop: list[Bit] = [
            ", cropped ", Value("left"), " left, ", Value("top"), " above, ", Value("right"), " right, ",
            Value("bottom"), " below",
        ]  # fmt: skip
        return [f"{self.label()}, ", *size, *tones, *crop]

    def label(self) -> str:
        return self.name or self.title

    def stand_in(self) -> StandIn | None:
        if find_picture(self.picture):
            return None
        return StandIn("picture", self.name or self.picture or "that was meant", "an empty frame", {}, alike=False)

    def summary(self, unit: Unit) -> str:
        return f"{short(self.width, unit)} × {short(self.height, unit)}"

    def resized(self, across: float, down: float) -> Shape:
        mask = tuple(contour.stretched(across, down) for contour in self.mask)
        resized = self.model_copy(update={"mask": mask})
        return resized.sized(whole_width=self.whole_width * across, whole_height=self.whole_height * down)

    def scaled(self, factor: float) -> Shape:
        return self.resized(factor, factor)
