"""Makers' own fonts, and the list that they choose from."""

import io
import math
import struct

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

from foliant.core.lettering.catalogue import FOLDER
from foliant.core.remembering import forget
from foliant.workshop.models import Typeface
from foliant.workshop.owning import find_own_font, stored_key
from tests.making import one_piece, put
from tests.workshop.conftest import Maker

pytestmark = pytest.mark.usefixtures("read_here")

SHIPPED = FOLDER / "zilla-slab" / "latin.ttf"


def renamed(flavor: str | None = None, name: str = "Dome Hand", source: str = "zilla-slab/latin.ttf") -> bytes:
    font = TTFont(FOLDER / source, recalcTimestamp=False)
    font["name"].setName(name, 4, 3, 1, 0x409)
    font["name"].setName("Free for the observatory", 13, 3, 1, 0x409)
    font.flavor = flavor
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def add(maker: Maker, data: bytes, licence: str = "", name: str = "hand.ttf"):
    return maker.client.post("/api/fonts", {"file": SimpleUploadedFile(name, data), "licence": licence})


def keys(maker: Maker) -> list[str]:
    return [font["key"] for font in maker.get("fonts?words=Vega").json()["fonts"]]


@pytest.mark.parametrize(
    ("flavor", "source"),
    [
        (None, "zilla-slab/latin.ttf"),
        ("woff", "zilla-slab/latin.ttf"),
        ("woff2", "damion/latin.ttf"),
        (None, "eb-garamond/EBGaramond12-Regular.otf"),
    ],
)
def test_a_font_file_is_added_with_its_licence_and_words_are_set_in_it(maker: Maker, flavor: str, source: str) -> None:
    answer = add(maker, renamed(flavor, source=source), "Bought, for the club").json()
    assert answer["name"] == "Dome Hand"
    assert answer["licence"] == "Bought, for the club"
    found = maker.get("fonts?words=Vega").json()
    mine = found["fonts"][0]
    assert (mine["key"], mine["kind"], mine["missing"]) == (answer["key"], "your own", "")
    assert mine["d"].startswith("M")
    project = maker.project()
    part = next(part for part in project.design.pieces[0].parts if part.shape.kind == "words")
    edited = maker.edit(project, 1, do="change", of=f"part {part.id}", values={"font": answer["key"]})
    assert "Dome Hand" in "".join(bit["text"] for bit in edited.json()["scenes"]["p1"]["parts"][-1]["spec"])


def test_a_variable_font_offers_its_weights_and_widths(maker: Maker) -> None:
    key = add(maker, renamed(source="archivo/latin.ttf")).json()["key"]
    assert maker.get("fonts?words=Vega").json()["fonts"][0]["varies"] == "weight and width"
    project = maker.project()
    part = next(part for part in project.design.pieces[0].parts if part.shape.kind == "words")
    maker.edit(project, 1, do="change", of=f"part {part.id}", values={"font": key})
    heavy = maker.edit(project, 2, do="change", of=f"part {part.id}", values={"boldness": "850"})
    assert "weight 850, width 100" in "".join(bit["text"] for bit in heavy.json()["scenes"]["p1"]["parts"][-1]["spec"])
    refused = maker.edit(project, 3, do="change", of=f"part {part.id}", values={"breadth": "200"})
    assert "goes from 62 to 125" in refused.json()["message"]


def test_an_italic_says_so(maker: Maker) -> None:
    font = TTFont(io.BytesIO(renamed(name="Dome Hand")), recalcTimestamp=False)
    font["head"].macStyle |= 2
    out = io.BytesIO()
    font.save(out)
    assert add(maker, out.getvalue()).json()["name"] == "Dome Hand italic"


def test_the_licence_that_the_file_names_is_kept_where_none_is_typed(maker: Maker) -> None:
    assert add(maker, renamed()).json()["licence"] == "Free for the observatory"


def test_fonts_are_a_makers_own(maker: Maker, other: Maker) -> None:
    key = add(maker, renamed()).json()["key"]
    assert key in keys(maker)
    assert key not in keys(other)
    assert other.post(f"fonts/{key}/mark", favourite=True).status_code == 404


def test_a_font_put_away_leaves_the_list_and_not_the_designs(maker: Maker) -> None:
    key = add(maker, renamed()).json()["key"]
    assert maker.client.delete(f"/api/fonts/{key}").status_code == 200
    assert key not in keys(maker)
    assert Typeface.objects.get(key=stored_key(key)).put_away is not None
    assert maker.post(f"fonts/{key}/restore").status_code == 200
    assert key in keys(maker)


def test_words_in_a_font_that_was_gone_are_set_in_it_once_it_comes(maker: Maker) -> None:
    key = add(maker, renamed(name="Later Hand", source="damion/latin.ttf")).json()["key"]
    Typeface.objects.all().delete()
    from foliant.core.lettering import library

    library._own.pop(key, None)
    forget()
    project = maker.project()
    part = next(part for part in project.design.pieces[0].parts if part.shape.kind == "words")
    gone = maker.edit(project, 1, do="change", of=f"part {part.id}", values={"font": key}).json()
    words = gone["scenes"]["p1"]["parts"][-1]
    assert "stands in" in "".join(bit["text"] for bit in words["spec"])
    add(maker, renamed(name="Later Hand", source="damion/latin.ttf"))
    now = maker.get(f"projects/{project.pk}").json()["scenes"]["p1"]["parts"]
    again = next(found for found in now if found["id"] == words["id"])
    assert again["d"] != words["d"]
    assert "stands in" not in "".join(bit["text"] for bit in again["spec"])


def test_favourites_and_the_last_taken_are_remembered(maker: Maker) -> None:
    maker.post("fonts/damion/mark", favourite=True)
    for key in ("lora", "cinzel"):
        maker.post(f"fonts/{key}/mark", taken=True)
    found = maker.get("fonts?words=Vega").json()
    assert [font["key"] for font in found["fonts"] if font["favourite"]] == ["damion"]
    assert found["recent"] == ["cinzel", "lora"]


def lying(tag: str, at: int) -> bytes:
    """A font whose table directory says that a table lies elsewhere, and is longer, than it is."""
    data = bytearray(SHIPPED.read_bytes())
    for entry in range(struct.unpack(">H", data[4:6])[0]):
        start = 12 + 16 * entry
        if data[start : start + 4] == tag.encode():
            struct.pack_into(">II", data, start + 8, at, 0x7FFFFFF0)
    return bytes(data)


def of_outlines(corners: int, copies: int = 0, pictures: bool = False) -> bytes:
    """A font of two letters: A of so many corners, and B of so many copies of A."""
    letter, composed = TTGlyphPen(None), TTGlyphPen({"A": None})
    for corner in range(corners):
        at = (round(400 * math.cos(corner / corners * math.tau)), round(400 * math.sin(corner / corners * math.tau)))
        letter.lineTo(at) if corner else letter.moveTo(at)
    if corners:
        letter.closePath()
    for copy in range(copies):
        composed.addComponent("A", (1, 0, 0, 1, copy % 50, copy // 50))
    glyphs = {".notdef": TTGlyphPen(None).glyph(), "A": letter.glyph(), "B": composed.glyph()}
    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder([*glyphs])
    builder.setupCharacterMap({65: "A", 66: "B"})
    builder.setupGlyf(glyphs)
    builder.setupHorizontalMetrics(dict.fromkeys(glyphs, (500, 0)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Empty", "styleName": "Regular"})
    builder.setupOS2()
    builder.setupPost()
    if pictures:
        del builder.font["glyf"], builder.font["loca"]
    out = io.BytesIO()
    builder.font.save(out)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"GIF89a not a font at all", "not a font file"),
        (b"", "not a font file"),
        (SHIPPED.read_bytes()[:900], "damaged"),
        (lying("glyf", 40), "damaged"),
        (lying("cmap", 0xFFFFFF), "damaged"),
        (b"wOF2" + bytes(200), "damaged"),
        (b"ttcf" + bytes(60), "several fonts"),
        (of_outlines(0), "no outlines"),
        (of_outlines(0, pictures=True), "pictures in place of outlines"),
        (of_outlines(5_000), "more than 4,000 lines"),
        (of_outlines(4, copies=5_000), "more than 4,000 lines"),
        (b"\x00\x01\x00\x00" + bytes(40_000_000), "40 MB"),
    ],
    ids=[
        "picture",
        "empty",
        "cut short",
        "glyf lies",
        "cmap lies",
        "woff2 of nothing",
        "collection",
        "blank",
        "bitmap",
        "endless letter",
        "5,000 components",
        "40 MB",
    ],
)
def test_a_broken_or_hostile_file_gets_a_sentence_and_adds_nothing(maker: Maker, data: bytes, says: str) -> None:
    answer = add(maker, data)
    assert answer.status_code == 422
    assert says in str(answer.json())
    assert not Typeface.objects.exists()


@pytest.mark.apart
def test_a_small_file_that_unpacks_to_gigabytes_is_stopped(maker: Maker) -> None:
    import brotli

    bomb = brotli.compress(bytes(400_000_000), quality=1)
    header = struct.pack(
        ">4sIIHHIIHHIIIII", b"wOF2", 0x00010000, 48 + len(bomb), 1, 0, 400_000_100, len(bomb), 1, 0, 0, 0, 0, 0, 0
    )
    answer = add(maker, header + bytes([0x0A, 0x80 + 0x3F]) + bomb)
    assert answer.status_code == 422
    assert "damaged" in answer.json()["message"]


def test_words_are_told_row_by_row_with_the_shapes_of_their_font(maker: Maker) -> None:
    project = maker.project()
    part = next(part for part in project.design.pieces[0].parts if part.shape.kind == "words")
    maker.edit(project, 1, do="change", of=f"part {part.id}", values={"font": "eb-garamond-italic"})
    found = maker.get(f"projects/{project.pk}/pieces/p1/words/{part.id}").json()
    assert [row["about"] for row in found["rows"]] == [
        "Font",
        "Size",
        "Spacing",
        "Lines",
        "Joined",
        "Fitted",
        "Runs",
        "Stencil",
    ]
    assert {"c2sc"} <= {feature["key"] for feature in found["features"]}
    assert found["holds"].startswith("One body")
    plate = project.design.pieces[0].parts[0]
    assert maker.get(f"projects/{project.pk}/pieces/p1/words/{plate.id}").status_code == 422


def test_a_font_of_ones_own_reaches_no_design_of_another_maker(maker: Maker, other: Maker) -> None:
    mine = add(maker, renamed()).json()["key"]
    assert find_own_font(mine) is not None
    design = one_piece(put("words", text="VEGA", font=mine))
    assert maker.project(design).design.pieces[0].parts[0].shape.font == mine
    theirs = other.project(design).design.pieces[0].parts[0].shape
    assert find_own_font(theirs.font) is None
    assert theirs.stand_in()
    pasted = other.edit(other.project(), 1, do="change", of="part a4", values={"font": mine}).json()
    assert mine not in str(pasted["scenes"])
    again = add(other, renamed()).json()["key"]
    assert again != mine
    assert find_own_font(again) is not None
