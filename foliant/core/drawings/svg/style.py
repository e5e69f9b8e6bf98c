"""The styles of an SVG file: its sheets, and what an element inherits."""

from collections.abc import Iterator, Mapping
from functools import lru_cache
from xml.etree.ElementTree import Element

import tinycss2
import tinycss2.color4
from cssselect2 import ElementWrapper, Matcher, SelectorError, compile_selector_list

from foliant.core.drawings.svg.tree import local

Style = Mapping[str, str]

INHERITED = {
    *("clip-rule", "color", "fill", "fill-opacity", "fill-rule", "stroke", "stroke-opacity", "stroke-width"),
    *("stroke-dasharray", "stroke-dashoffset", "stroke-linecap", "stroke-linejoin", "visibility"),
    *("font-family", "font-size", "font-style", "font-weight", "text-anchor"),
    *("marker", "marker-start", "marker-mid", "marker-end"),
}
_OWN = {"clip-path", "display", "filter", "mask", "opacity", "stop-color", "transform", "vector-effect"}
_READ = INHERITED | _OWN

FIRST: Style = {
    "color": "black",
    "fill": "black",
    "fill-rule": "nonzero",
    "clip-rule": "nonzero",
    "stroke": "none",
    "stroke-width": "1",
    "font-size": "16",
}


class Styles:
    """What the sheets of a file and its elements' own attributes say of each element."""

    def __init__(self, root: Element) -> None:
        self._matcher = Matcher()
        self._wrapped: dict[int, ElementWrapper] = {}
        self.has_rules = False
        for sheet in root.iter():
            if local(sheet) == "style":
                self._add("".join(sheet.itertext()))
        if self.has_rules:
            wrapper = ElementWrapper.from_xml_root(root)
            self._wrapped = {id(one.etree_element): one for one in wrapper.iter_subtree()}

    def of(self, element: Element, above: Style) -> dict[str, str]:
        """The style of an element below one with the style `above`."""
        found = {name: value for name, value in above.items() if name in INHERITED}
        own: dict[str, str] = {name: value for name in _READ if (value := element.get(name)) is not None}
        pressing: dict[str, str] = {}
        wrapped = self._wrapped.get(id(element))
        if wrapped is not None:
            matches = sorted(self._matcher.match(wrapped), key=lambda match: match[:2])
            for *_, (plain, pressed) in matches:
                own |= plain
                pressing |= pressed
        plain, pressed = _declared(element.get("style") or "")
        for name, value in {**own, **plain, **pressing, **pressed}.items():
            value = value.strip()
            if value == "inherit":
                if name in above:
                    found[name] = above[name]
            else:
                found[name] = value
        return found

    def _add(self, sheet: str) -> None:
        for rule in _rules(sheet):
            try:
                selectors = compile_selector_list(rule.prelude)
            except SelectorError:
                continue
            declared = _declared(rule.content)
            for selector in selectors:
                self.has_rules = True
                self._matcher.add_selector(selector, declared)


def _rules(sheet: str) -> Iterator[tinycss2.ast.QualifiedRule]:
    for rule in tinycss2.parse_stylesheet(sheet, skip_comments=True, skip_whitespace=True):
        if rule.type == "qualified-rule":
            yield rule
        elif rule.type == "at-rule" and rule.lower_at_keyword == "media" and rule.content and _is_for_all(rule):
            yield from _rules(tinycss2.serialize(rule.content))


def _is_for_all(rule: tinycss2.ast.AtRule) -> bool:
    return tinycss2.serialize(rule.prelude).strip() in ("all", "screen", "")


def _declared(block: object) -> tuple[dict[str, str], dict[str, str]]:
    """What a block of declarations says, and what of it is important."""
    plain: dict[str, str] = {}
    pressing: dict[str, str] = {}
    for one in tinycss2.parse_blocks_contents(block, skip_comments=True, skip_whitespace=True):
        if one.type == "declaration" and one.lower_name in _READ:
            (pressing if one.important else plain)[one.lower_name] = tinycss2.serialize(one.value).strip()
    return plain, pressing


def colour_of(value: str, style: Style) -> str:
    """A paint as #rrggbb; "" where nothing is painted. What is transparent paints nothing."""
    return _plain_colour(style.get("color", "black") if value.lower() == "currentcolor" else value)


@lru_cache(1000)
def _plain_colour(value: str) -> str:
    if value in ("none", "transparent", ""):
        return ""
    found = tinycss2.color4.parse_color(value)
    if found is None or found == "currentcolor":
        return "#000000"
    red, green, blue, cover = found.to("srgb")
    if not cover:
        return ""
    return "#" + "".join(f"{round(255 * min(max(part or 0.0, 0.0), 1.0)):02x}" for part in (red, green, blue))
