"""The languages that Braille is told in, each with the tables of liblouis for its two ways of writing."""

from dataclasses import dataclass

TYPED = "dots"
"""No language: the cells are typed by the numbers of their dots."""


@dataclass(frozen=True)
class Language:
    """A language: its name, and the tables for every letter by itself, and for contractions, where it has those."""

    name: str
    plain: str
    contracted: str = ""


LANGUAGES: dict[str, Language] = {
    "en": Language("English, unified", "en-ueb-g1.ctb", "en-ueb-g2.ctb"),
    "en-us": Language("English, American", "en-us-g1.ctb", "en-us-g2.ctb"),
    "de": Language("German", "de-g0.utb", "de-g2.ctb"),
    "fr": Language("French", "fr-bfu-comp6.utb", "fr-bfu-g2.ctb"),
    "es": Language("Spanish", "es-g1.ctb", "es-g2.ctb"),
    "it": Language("Italian", "it-it-comp6.utb"),
    "pl": Language("Polish", "Pl-Pl-g1.utb"),
    "sv": Language("Swedish", "sv-g0.utb", "sv-g2.ctb"),
    "ar": Language("Arabic", "ar-ar-g1.utb", "ar-ar-g2.ctb"),
}
