"""The fonts that ship with Foliant, each a chain of subset files under `fonts/` beside its licence."""

from dataclasses import dataclass
from pathlib import Path

from foliant.core.errors import Refused

FOLDER = Path(__file__).parent / "fonts"


@dataclass(frozen=True)
class FontEntry:
    """One face: `key` names it in designs and is its folder; `files` are tried in order for each character."""

    key: str
    name: str
    character: str
    weight: int

    @property
    def files(self) -> tuple[Path, ...]:
        """The subset files, basic Latin first."""
        wanted = (
            FOLDER / self.key / f"{self.key}-{subset}-{self.weight}-normal.woff2" for subset in ("latin", "latin-ext")
        )
        return tuple(file for file in wanted if file.is_file())


FONTS: tuple[FontEntry, ...] = (
    FontEntry("playfair-display", "Playfair Display bold", "serif", 700),
    FontEntry("zilla-slab", "Zilla Slab semibold", "slab", 600),
    FontEntry("alegreya-sans", "Alegreya Sans bold", "sans", 700),
    FontEntry("bebas-neue", "Bebas Neue", "capitals", 400),
    FontEntry("sniglet", "Sniglet extrabold", "rounded", 800),
    FontEntry("damion", "Damion", "brush script", 400),
    FontEntry("pacifico", "Pacifico", "joined script", 400),
    FontEntry("great-vibes", "Great Vibes", "formal script", 400),
    FontEntry("caveat", "Caveat semibold", "hand", 600),
    FontEntry("allerta-stencil", "Allerta Stencil", "stencil", 400),
)

_BY_KEY = {entry.key: entry for entry in FONTS}


def font_entry(key: str) -> FontEntry:
    """The font of that key; raises `Refused` where Foliant has none."""
    try:
        return _BY_KEY[key]
    except KeyError:
        raise Refused(f"There is no font “{key}” here; the fonts are {', '.join(_BY_KEY)}.") from None
