"""Intake: a picture that a maker brings, proved and written anew in greys, or refused with a sentence."""

import hashlib
import io
from dataclasses import dataclass

from PIL import Image, ImageOps

from foliant.core.errors import Refused
from foliant.core.taking_apart import Watch, answer, taken_apart

LARGEST = 60_000_000
"""The largest file that is taken, in bytes."""

MOST_PIXELS = 80_000_000
"""The most pixels that a picture may have when it comes."""

KEPT_PIXELS = 12_000_000
"""The most that are kept: 400 × 300 mm at ten lines to the mm."""

FORMATS = ("PNG", "JPEG", "WEBP", "GIF")

_MEMORY = 2_000_000_000
_NEVER_SEEN = "Nothing of this picture can be seen: every pixel of it is transparent."
_DAMAGED = "The picture is damaged, so nothing was added: save it again where it came from."
_FOREIGN = "This is not a picture that can be read; add a PNG, JPEG, WebP or GIF file."


@dataclass(frozen=True)
class Intake:
    """A picture that can be used: the plain file (PNG, grey or grey with cover), its key, and its size in pixels."""

    data: bytes
    key: str
    width: int
    height: int


def is_picture(data: bytes) -> bool:
    """Whether the bytes of a file begin as those of a picture do, whatever it is called."""
    return data.startswith((b"\x89PNG", b"\xff\xd8\xff", b"GIF8")) or (data[:4] == b"RIFF" and data[8:12] == b"WEBP")


def take_picture(data: bytes, watch: Watch = lambda share: None) -> Intake:
    """A picture from the bytes of a PNG, JPEG, WebP or GIF file; raises `Refused` for any other, or a broken one."""
    if len(data) > LARGEST:
        size, most = (f"{count / 1_000_000:.0f} MB" for count in (len(data), LARGEST))
        raise Refused(f"The picture is {size} large; files of up to {most} can be added.")
    kept, found = taken_apart(__name__, data, _DAMAGED, watch)
    return Intake(kept, f"picture-{hashlib.sha256(kept).hexdigest()[:32]}", found["width"], found["height"])


def plain_picture(data: bytes) -> tuple[bytes, tuple[int, int]]:
    """The picture upright, in greys, with what covers it where some of it is transparent, as a PNG; and its size.

    Raises `Refused`, or whatever a broken file raises.
    """
    Image.MAX_IMAGE_PIXELS = None  # how many there are is looked at below, before any of them is unpacked
    try:
        came = Image.open(io.BytesIO(data), formats=FORMATS)
    except (OSError, SyntaxError, ValueError):
        raise Refused(_FOREIGN) from None
    wide, high = came.size
    if wide * high > MOST_PIXELS:
        millions = wide * high / 1e6
        raise Refused(f"The picture has {millions:,.0f} million pixels; at most {MOST_PIXELS / 1e6:.0f} are taken.")
    least = max(1.0, (wide * high / KEPT_PIXELS) ** 0.5)
    came.draft("L", (int(wide / least), int(high / least)))  # a JPEG need not be unpacked at its full size
    came.load()
    grey, cover = _greys(ImageOps.exif_transpose(came))
    kept = grey if cover is None else Image.merge("LA", (grey, cover))
    shrink = (kept.width * kept.height / KEPT_PIXELS) ** 0.5
    if shrink > 1:
        size = max(1, int(kept.width / shrink)), max(1, int(kept.height / shrink))
        kept = kept.resize(size, Image.Resampling.HAMMING, reducing_gap=3.0)
    written = io.BytesIO()
    kept.save(written, "PNG")
    return written.getvalue(), kept.size


def _greys(came: Image.Image) -> tuple[Image.Image, Image.Image | None]:
    """How light each pixel is, and how much it covers where that is not all."""
    if came.mode.startswith("I") or came.mode == "F":  # 16 bits and more
        deep = came.convert("F")
        _, high = deep.getextrema()
        most = 65535.0 if float(high) > 255 else 255.0  # type: ignore[arg-type]
        return deep.point(lambda value: value * (255.0 / most)).convert("L"), None
    if came.mode in ("LA", "RGBA", "PA", "La", "RGBa") or "transparency" in came.info:
        full = came.convert("RGBA")
        cover = full.getchannel("A")
        low, high = cover.getextrema()
        if high == 0:
            raise Refused(_NEVER_SEEN)
        return full.convert("RGB").convert("L"), None if low == 255 else cover
    return (came if came.mode == "L" else came.convert("RGB").convert("L")), None


def _plain_and_size(data: bytes) -> tuple[bytes, dict[str, int]]:
    plain, (width, height) = plain_picture(data)
    return plain, {"width": width, "height": height}


if __name__ == "__main__":
    answer(_plain_and_size, _MEMORY, _DAMAGED)
