"""Colours in words: what those of a drawing are called, so that makers see which things are meant."""

import colorsys

_GREYISH, _DARK = 0.12, 0.35
_GREYS = ((0.12, "black"), (0.88, "grey"), (1.0, "white"))
_HUES = (
    (15, "red"),
    (45, "orange"),
    (68, "yellow"),
    (165, "green"),
    (200, "cyan"),
    (258, "blue"),
    (290, "purple"),
    (345, "pink"),
    (360, "red"),
)


def colour_word(colour: str) -> str:
    """What a colour of the form #rrggbb is called in a word."""
    red, green, blue = (int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5))
    hue, light, full = colorsys.rgb_to_hls(red, green, blue)
    if full * (1 - abs(2 * light - 1)) < _GREYISH:
        return next(word for most, word in _GREYS if light <= most)
    word = next(word for most, word in _HUES if 360 * hue <= most)
    return "brown" if word in ("orange", "yellow") and light < _DARK else word
