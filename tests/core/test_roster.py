"""The roster: values of pieces that come from a table, one instance a row, and tables as they are read."""

import io
import json
import zipfile
from typing import Any

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.checks import check
from foliant.core.design import Design, Piece, resolve
from foliant.core.design.binding import Bound, bound_rows, with_row
from foliant.core.design.placing import shape_bounds
from foliant.core.design.roster import Row, filled, shown, template
from foliant.core.design.shapes import Words
from foliant.core.errors import Refused
from foliant.core.formats.tables import read_table, with_rows, write_csv
from foliant.core.making import make
from foliant.core.paths import join
from tests.making import edited, one_piece, plan, put


def bind(design: Design, piece: Piece, row: Row) -> Bound:
    return next(bound for bound in bound_rows(design, piece) if bound.row == row)


PLATE = put("rectangle", width=72, height=30)
NAMES = ("Ysolde", "Orrin", "Željko Åsa")


def table(*rows: tuple[str, ...], heading: tuple[str, ...] = ("name", "wide", "inside", "how many")) -> dict[str, Any]:
    return {"do": "take-table", "heading": list(heading), "rows": [list(row) for row in rows]}


def change(of: str, **values: Any) -> dict[str, Any]:
    return {"do": "change", "of": of, "values": values}


def tie(of: str, text: str) -> dict[str, Any]:
    return {"do": "tie", "of": of, "text": text}


def markers(*rows: tuple[str, ...]) -> Design:
    """A plate with words and a hole, tied to rows of a name, a width, whether it has the hole, and how many."""
    words, hole = put("words", text="Peg", cap_height=4.7), put("hole", width=4, height=4)
    design = one_piece(PLATE, words, hole)
    kinds = {"wide": "length", "inside": "switch", "how many": "count"}
    design = edited(design, table(*rows))
    ids = {column.name: column.id for column in design.roster.columns}
    return edited(
        design,
        *(change(f"column {ids[name]}", kind=kind) for name, kind in kinds.items()),
        tie("part a3 text", "Guide {name}"),
        tie("part a2 width", "{wide}"),
        tie("part a4 hidden", "{inside}"),
        tie("piece p1 copies", "{how many}"),
    )


@given(
    st.lists(
        st.tuples(
            st.sampled_from(NAMES), st.floats(50, 120).map(lambda wide: f"{wide:.2f}"), st.booleans(), st.integers(1, 3)
        ),
        min_size=1,
        max_size=4,
    )
)
def test_an_instance_of_a_row_is_the_piece_with_its_values_typed_by_hand(rows: list[Any]) -> None:
    design = markers(*((name, wide, "x" if gone else "", str(count)) for name, wide, gone, count in rows))
    instances = make(design)
    assert len(instances) == sum(count for *_, count in rows)
    (piece,) = design.pieces
    for row, (name, wide, gone, count) in zip(design.roster.rows, rows, strict=True):
        by_hand = edited(
            design,
            change("piece p1", copies=str(count)),
            change("part a2", width=wide),
            change("part a3", text=f"Guide {name}"),
            {"do": "mark-parts", "piece": "p1", "parts": ["a4"], "hidden": gone},
        )
        bound = bind(design, piece, row)
        assert not bound.troubles
        assert resolve(bound.piece).outline.shape.equals(resolve(by_hand.pieces[0]).outline.shape)
        assert resolve(bound.piece).engraved.shape.equals(resolve(by_hand.pieces[0]).engraved.shape)


def test_a_row_that_cannot_be_is_its_own_trouble_and_the_others_are_made() -> None:
    design = markers(("Ysolde", "80", "", ""), ("Orrin", "wide", "", ""), ("", "70", "", "2"))
    job = plan(design)
    assert [laid.label for laid in job.layout.instances] == [
        "Guide tag “Ysolde”",
        "Guide tag “row 3” 1",
        "Guide tag “row 3” 2",
    ]
    found = [(finding.level, finding.title) for finding in check(job)]
    assert ("stop", "Guide tag “Orrin” cannot be made") in found
    assert any("“wide”" in finding.sentence for finding in check(job))
    assert plan(edited(design, change("project", name="Dome"))).program is job.program


def test_what_is_for_one_row_only_stays_and_the_other_changes_of_the_piece_reach_it() -> None:
    design = markers(("Ysolde", "", "", ""), ("Orrin", "", "", ""))
    first, second = design.roster.rows
    own = {"do": "for-row", "row": first.id, "edit": change("part a3", cap_height="3")}
    elsewhere = change("part a2", height="36")
    one, other = edited(design, own, elsewhere), edited(design, elsewhere, own)
    (piece,) = one.pieces
    assert bind(one, piece, one.roster.rows[0]).piece == bind(other, other.pieces[0], other.roster.rows[0]).piece
    sizes = [bind(one, piece, row).piece.part("a3").shape.cap_height for row in one.roster.rows]  # type: ignore[union-attr]
    assert sizes == [3, 4.7]
    assert {bind(one, piece, row).piece.part("a2").shape.height for row in one.roster.rows} == {36}  # type: ignore[union-attr]
    turned = edited(one, {"do": "sort-rows", "column": one.roster.columns[0].id})
    assert [row.id for row in turned.roster.rows] == [second.id, first.id]
    assert {i.identity for i in make(turned)} == {i.identity for i in make(one)}
    back = edited(one, {"do": "revert-row", "row": first.id})
    assert bind(back, back.pieces[0], back.roster.rows[0]).piece.part("a3").shape.cap_height == 4.7  # type: ignore[union-attr]
    with pytest.raises(Refused, match="least"):
        edited(design, {**own, "edit": change("part a3", cap_height="0.1")})


HANDS: list[dict[str, Any]] = [
    {"do": "move-parts", "piece": "p1", "parts": ["a3", "a4"], "dx": 1.25, "dy": -0.3},
    {"do": "resize-parts", "piece": "p1", "parts": ["a2"], "width": "60"},
    {"do": "rotate-parts", "piece": "p1", "parts": ["a3"], "by": 12},
    {"do": "set-role", "piece": "p1", "parts": ["a3"], "role": "scores", "also": True},
    {"do": "mark-parts", "piece": "p1", "parts": ["a4"], "hidden": True},
    {"do": "change-parts", "piece": "p1", "parts": ["a3"], "values": {"font": "pacifico"}},
    {"do": "treat-parts", "piece": "p1", "parts": ["a3"], "treatment": "grown", "values": {"distance": "0.2"}},
    {"do": "set-letters", "piece": "p1", "parts": ["a3"], "what": "joined", "to": "on"},
    {"do": "flip-parts", "piece": "p1", "parts": ["a3", "a4"], "axis": "across"},
    {"do": "align-parts", "piece": "p1", "parts": ["a4"], "to": "piece", "across": "near", "down": "far", "gap": "2"},
]


@pytest.mark.parametrize("hand", HANDS, ids=lambda edit: edit["do"])
def test_what_hands_do_for_one_row_is_done_for_it_and_for_no_other(hand: dict[str, Any]) -> None:
    design = markers(("Ysolde", "", "", ""), ("Orrin", "", "", ""))
    first, second = design.roster.rows
    own = edited(design, {"do": "for-row", "row": second.id, "edit": hand})
    (piece,) = own.pieces
    assert piece == design.pieces[0]
    assert bind(own, piece, first).piece == bind(design, piece, first).piece
    wanted = resolve(edited(with_row(design, second.id), hand).pieces[0])
    made = resolve(bind(own, piece, own.roster.rows[1]).piece)
    for region in ("outline", "engraved"):
        given, found = getattr(wanted, region).shape, getattr(made, region).shape
        assert given.symmetric_difference(found).area < 0.01


def test_what_is_done_to_all_rows_is_left_undone_for_one() -> None:
    grown = {"do": "treat-parts", "piece": "p1", "parts": ["a3"], "treatment": "grown", "values": {"distance": "0.2"}}
    bare = {"do": "untreat-parts", "piece": "p1", "parts": ["a3"], "treatment": "grown"}
    design = edited(markers(("Ysolde", "", "", ""), ("Orrin", "", "", "")), grown)
    second = design.roster.rows[1].id
    own = edited(design, {"do": "for-row", "row": second, "edit": bare})
    wide = [bind(own, own.pieces[0], row).piece.part("a3").treatments.grown for row in own.roster.rows]
    assert [found and found.distance for found in wide] == [0.2, None]
    again = edited(own, {"do": "for-row", "row": second, "edit": {**grown, "values": {"distance": "0.3"}}})
    assert bind(again, again.pieces[0], again.roster.rows[1]).piece.part("a3").treatments.grown.distance == 0.3
    back = edited(again, {"do": "revert-row", "row": second, "of": "grown a3 on"})
    assert back.roster.rows == design.roster.rows


def test_what_comes_or_goes_cannot_be_for_one_row() -> None:
    design = markers(("Ysolde", "", "", ""))
    row = design.roster.rows[0].id
    for edit in ({"do": "remove-parts", "piece": "p1", "parts": ["a4"]}, put("hole", width=3, height=3)):
        with pytest.raises(Refused, match="one row only"):
            edited(design, {"do": "for-row", "row": row, "edit": edit})


def test_a_value_that_names_a_column_comes_from_it_and_one_that_is_typed_plain_no_longer_does() -> None:
    design = edited(markers(("Ysolde", "80", "", "")), change("part a3", text="For {name in capitals}"))
    assert dict(design.pieces[0].part("a3").ties) == {"part text": f"For {{{design.roster.columns[0].id} in capitals}}"}
    plain = edited(design, change("part a3", text="Warden"), change("part a2", width="50"))
    (bound,) = bound_rows(plain, plain.pieces[0])
    assert (bound.piece.part("a3").shape.text, bound.piece.part("a2").shape.width) == ("Warden", 50)  # type: ignore[union-attr]


def test_lengths_of_a_roster_stay_what_they_are_in_another_unit() -> None:
    design = markers(("Ysolde", "80", "", ""))
    inches = edited(design, {"do": "set-unit", "unit": "in"})
    row = inches.roster.rows[0].id
    own = edited(inches, {"do": "for-row", "row": row, "edit": change("part a3", cap_height="0.25", text="7")})
    (bound,) = bound_rows(own, own.pieces[0])
    assert bound.piece.part("a2").shape.width == 80  # type: ignore[union-attr]
    words = bound.piece.part("a3").shape
    assert (words.cap_height, words.text) == (6.35, "7")  # type: ignore[union-attr]


def test_rows_reach_what_is_locked_and_whatever_a_file_holds_opens() -> None:
    design = edited(
        markers(("Ysolde", "80", "", "")), {"do": "mark-parts", "piece": "p1", "parts": ["a3"], "locked": True}
    )
    (bound,) = bound_rows(design, design.pieces[0])
    words = bound.piece.part("a3")
    assert (words.shape.text, words.locked, bound.troubles) == ("Guide Ysolde", True, ())  # type: ignore[union-attr]
    with pytest.raises(Refused, match="locked"):
        edited(design, tie("part a3 cap_height", "{wide}"))
    row = design.roster.rows[0]
    strange = {"zz a3 x": "1", "node a3": "1", "node a3 0 0 x": "1", "a3": "", "part a3 zz": "2", "a3 a3 a3": "x"}
    roster = design.roster.model_copy(update={"rows": (Row(id=row.id, cells=row.cells, own=strange),)})
    job = plan(design.model_copy(update={"roster": roster}))
    assert {finding.check for finding in check(job)} >= {"rows_can_be_made"}


def test_rows_that_ask_for_a_million_are_stopped() -> None:
    design = markers(*((name, "", "", "500") for name in NAMES * 7))
    assert len(make(design)) == 10_000
    titles = [finding.title for finding in check(plan(design))]
    assert "The rows ask for more than 10,000" in titles


def test_a_column_that_goes_leaves_what_its_values_show() -> None:
    design = markers(("Ysolde", "80", "x", ""))
    name, wide, inside, _ = (column.id for column in design.roster.columns)
    gone = edited(design, *({"do": "remove-column", "column": one} for one in (name, wide, inside)))
    plate, words, hole = gone.pieces[0].parts
    assert hole.hidden
    assert (plate.shape.width, words.shape.text) == (80, "Guide Ysolde")  # type: ignore[union-attr]
    assert not plate.ties
    copied = edited(design, {"do": "duplicate-parts", "piece": "p1", "parts": ["a3"]})
    assert copied.pieces[0].parts[-1].ties == words_ties(design)
    text = json.dumps({"format": "foliant-parts", "parts": [design.pieces[0].part("a3").model_dump(mode="json")]})
    paste = {"do": "paste-parts", "piece": "p1", "text": text}
    assert edited(design, paste).pieces[0].parts[-1].ties == words_ties(design)
    assert edited(one_piece(PLATE), paste).pieces[0].parts[-1].ties == ()  # its column is not here
    with pytest.raises(Refused, match="in braces"):
        edited(design, tie("part a3 text", "Guide {nobody}"))
    with pytest.raises(Refused, match="no value"):
        edited(design, tie("part a3 colour", "{name}"))
    with pytest.raises(Refused, match="Only values of a piece"):
        edited(design, tie("ticket machine", "{name}"))


def words_ties(design: Design) -> Any:
    return design.pieces[0].part("a3").ties


def test_text_takes_names_capitals_first_letters_and_numbers() -> None:
    design = edited(Design(), table(("élan vega",), heading=("Given name",)))
    roster, row = design.roster, design.roster.rows[0]

    def said(text: str) -> str:
        stored = template(text, roster)
        assert stored is not None
        assert shown(stored, roster).casefold() == text.casefold()
        return filled(stored, roster, row, 7)

    assert said("{given name} and co.") == "élan vega and co."
    assert said("{Given Name in capitals}") == "ÉLAN VEGA"
    assert said("{first letter of Given name} {number in two digits}") == "é 07"
    assert template("{nobody} {", roster) is None


def test_a_table_taken_anew_keeps_columns_and_rows_that_are_called_the_same() -> None:
    design = markers(("Ysolde", "80", "", ""), ("Orrin", "90", "", ""))
    again = edited(design, table(("Orrin", "95"), ("Maud", "70"), heading=("NAME", "wide")))
    assert again.roster.rows[0].id == design.roster.rows[1].id
    assert [laid.label for laid in plan(again).layout.instances] == ["Guide tag “Orrin”", "Guide tag “Maud”"]
    block = {"do": "put-cells", "row": again.roster.rows[1].id, "cells": [["Mab", 71.5], ["Una", None], ["Ida", True]]}
    pasted = edited(again, block)
    assert [pasted.roster.label(row) for row in pasted.roster.rows] == ["Orrin", "Mab", "Una", "Ida"]
    with pytest.raises(Refused, match="at most 2,000 rows"):
        edited(pasted, {"do": "put-cells", "cells": [["x"]] * 1999})


def workbook(*rows: tuple[Any, ...]) -> bytes:
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append(row)  # type: ignore[union-attr]
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


@pytest.mark.parametrize(
    ("content", "found"),
    [
        ("name;wide\nZoë;80\nŽeljko;90\n".encode(), "UTF-8, semicolons between cells, with a heading"),
        ("name,wide\r\nZoë,80\r\nŽeljko,90".encode("utf-8-sig"), "UTF-8, commas between cells, with a heading"),
        ("name\twide\nZoë\t80\nŽeljko\t90\n".encode("utf-16"), "UTF-16, tabs between cells, with a heading"),
        ("name\twide\nZoë\t80\nŽeljko\t90\n".encode("utf-16-le"), "UTF-16, tabs between cells, with a heading"),
        ("name,wide\nZoë,80\nŽeljko,90\n".encode("cp1252"), "Windows-1252, commas between cells, with a heading"),
        (workbook(("name", "wide"), ("Zoë", 80), ("Željko", 90.0)), "workbook, sheet “Sheet”, with a heading"),
    ],
)
def test_the_same_rows_give_the_same_instances_however_they_come(content: bytes, found: str) -> None:
    read = read_table(content)
    assert (read.heading, read.rows, read.found) == (("name", "wide"), (("Zoë", "80"), ("Željko", "90")), found)
    assert read_table(write_csv(read.heading, read.rows).encode()).rows == read.rows
    design = one_piece(PLATE, put("words", text="Guide {name}", cap_height=5))
    assert [laid.label for laid in plan(with_rows(design, content)).layout.instances] == [
        "Guide tag “Zoë”",
        "Guide tag “Željko”",
    ]


def test_a_list_without_a_heading_is_all_names_and_ragged_rows_are_filled_up() -> None:
    plain = read_table(b"Ysolde\nOrrin\n\nMaud\n")
    assert (plain.heading, plain.rows, plain.headed) == (("name",), (("Ysolde",), ("Orrin",), ("Maud",)), False)
    ragged = read_table(b'guest,title\n"Orrin, the\nElder",\nMaud,Dame,extra\n=1+1\n')
    assert ragged.heading == ("guest", "title", "column 3")
    assert ragged.rows == (("Orrin, the Elder", "", ""), ("Maud", "Dame", "extra"), ("=1+1", "", ""))


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"x" * 5_000_001, "5 MB"),
        (b"\n , \n", "nothing in this table"),
        (",".join("abc" for _ in range(300)).encode(), "300 columns"),
        (b"Maud\n" * 2001, "2,001 rows"),
        (b"\xd0\xcf\x11\xe0" + b"0" * 600, "encrypted"),
        (b"PK\x03\x04" + b"0" * 60, "damaged"),
        (b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR", "not a table"),
        (("Maud" * 300).encode(), "at most 1,000 characters"),
    ],
)
def test_what_is_no_table_gets_a_sentence(content: bytes, says: str) -> None:
    with pytest.raises(Refused, match=says):
        read_table(content)


@given(st.sampled_from(("Bo", "Ysolde", "Petronella Quillmoor", "a" * 60)), st.sampled_from((20.0, 44.0)))
def test_words_are_never_wider_than_they_may_be(name: str, most: float) -> None:
    free = one_piece(PLATE, put("words", text=name, cap_height=7.5))
    bound = edited(free, change("part a3", at_most=str(most)))
    wide = [right - left for left, _, right, _ in (shape_bounds(d.pieces[0].part("a3").shape) for d in (free, bound))]
    assert wide[1] == pytest.approx(min(wide[0], most), abs=0.02)
    assert edited(bound, change("part a3", at_most="")) == edited(free, change("part a3", text=name))


def test_words_of_a_list_stay_within_their_plate_and_each_column_takes_its_words() -> None:
    two = one_piece(PLATE, put("words", text="Peg", x=36, y=10), put("words", text="gate", cap_height=3, x=36, y=22))
    taken = edited(two, table(("Petronella Quillmoor", "2"), heading=("name", "gate")) | {"words": ["a3", "a4"]})
    (bound,) = bound_rows(taken, taken.pieces[0])
    assert [bound.piece.part(one).shape.label() for one in ("a3", "a4")] == ["Petronella Quillmoor", "2"]
    assert not check(plan(taken))
    again = edited(taken, table(("Bo", "3"), heading=("gate", "name")) | {"words": ["a3", "a4"]})
    (bound,) = bound_rows(again, again.pieces[0])
    assert [bound.piece.part(one).shape.label() for one in ("a3", "a4")] == ["3", "Bo"]  # columns keep their values


def test_a_part_is_there_in_the_rows_that_say_so() -> None:
    design = markers(("Ysolde", "", "", ""), ("Orrin", "", "x", ""))
    inside = next(column.id for column in design.roster.columns if column.name == "inside")
    design = edited(design, {"do": "untie", "of": "part a4 hidden"}, tie("part a4 shown", "{inside}"))
    assert [bound.piece.part("a4").hidden for bound in bound_rows(design, design.pieces[0])] == [True, False]
    assert design.roster.column(inside).kind == "switch"


def test_motifs_roles_and_counts_come_from_columns_as_makers_say_them() -> None:
    design = one_piece(PLATE, put("motif", motif="planet", height=10), put("words", text="Bo", cap_height=4))
    rows = (("A", "moon", "cut", "2"), ("B", "Star", "scored", "0"), ("C", "", "engraved", "1"), ("D", "", "sung", ""))
    design = edited(
        design,
        table(*rows, heading=("name", "picture", "how", "how many")) | {"words": ["a4"]},
        tie("part a3 motif", "{picture}"),
        tie("part a4 roles", "{how}"),
        tie("piece p1 copies", "{how many}"),
    )
    found = list(bound_rows(design, design.pieces[0]))
    assert [bound.piece.part("a3").shape.motif for bound in found] == ["moon", "star", "planet", "planet"]  # type: ignore[union-attr]
    assert [bound.piece.part("a4").roles for bound in found[:3]] == [("cuts",), ("scores",), ("engraves",)]
    assert [bound.piece.copies for bound in found] == [2, 0, 1, 1]
    assert [len(bound.troubles) for bound in found] == [0, 0, 0, 1]
    typed = edited(one_piece(PLATE, put("words", text="Peg")), change("part a3", text="No {number}"))
    assert not typed.pieces[0].tied  # without a roster, braces are braces


def test_a_workbook_that_unpacks_to_more_than_a_table_is_not_read() -> None:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as book:
        for number in range(4):
            book.writestr(f"xl/worksheets/sheet{number}.xml", b"0" * 20_000_000)
    assert len(packed.getvalue()) < 400_000
    with pytest.raises(Refused, match="unpacks to more"):
        read_table(packed.getvalue())


@pytest.mark.parametrize("order", [(0, 1, 2, 3), (3, 2, 1, 0), (2, 0, 3, 1)])
def test_the_column_of_words_is_the_one_whose_cells_are_words_and_rows_are_called_by_it(order: tuple[int, ...]) -> None:
    lines = [
        ("No", "Plant", "How", "Sown"), ("1", "Sea holly", "seed", "3 May"), ("2", "Thyme", "seed", "12 May"),
        ("3", "Rosemary", "plant", "1 June"), ("4", "Éloïse’s mint", "seed", "2 June"),
    ]  # fmt: skip
    read = read_table("\n".join(",".join(line[at] for at in order) for line in lines).encode())
    assert [read.heading[at] for at in read.words[:2]] == ["Plant", "How"]
    design = edited(one_piece(PLATE), table(*read.rows, heading=read.heading))
    called = [design.roster.called(row, at) for at, row in enumerate(design.roster.rows, 1)]
    assert called == ["Sea holly", "Thyme", "Rosemary", "Éloïse’s mint"]


@pytest.mark.parametrize(("sized", "tall"), [("capitals", 7), ("height", 9)])
@pytest.mark.parametrize("names", [("Ivy", "Maximiliana", "Jörg"), ("GYPSY", "ace", "Éa"), ("1", "22", "333")])
def test_names_of_one_list_have_one_size_where_that_is_asked(sized: str, tall: float, names: tuple[str, ...]) -> None:
    design = markers(*((name, "", "", "") for name in names))
    size = {"sized_by": sized, {"capitals": "cap_height"}.get(sized, sized): str(tall), "at_most": "30 mm"}
    design = edited(design, change("part a3", **size), change("part a3", at_most_high="8 mm"))

    def words(design: Design) -> list[Words]:
        return [bind(design, design.pieces[0], row).piece.part("a3").shape for row in design.roster.rows]

    for one in words(design):
        left, top, right, bottom = join(one.paths()).bounds
        assert right - left < 30.001
        assert bottom - top < 8.001
    even = words(edited(design, change("part a3", over_rows="one")))
    assert {round(one.cap, 4) for one in even} == {round(min(one.cap for one in words(design)), 4)}
    assert len({one.text for one in even}) == 3


@pytest.mark.parametrize(
    ("typed", "first", "last", "count"),
    [
        ("1 … 60", "1", "60", 60),
        ("Bay 1...12", "Bay 1", "Bay 12", 12),
        ("Bay 01 … Bay 40", "Bay 01", "Bay 40", 40),
        ("0, 5 … 60", "0", "60", 13),
        ("12 … 1", "12", "1", 12),
        ("A … H", "A", "H", 8),
        ("Row c ... f", "Row c", "Row f", 4),
        ("1 Dec … 24 Dec", "1 Dec", "24 Dec", 24),
        ("28 February 2027 to 2 March 2027", "28 February 2027", "2 March 2027", 3),
        ("2026-12-30 … 2027-01-02", "2026-12-30", "2027-01-02", 4),
        ("Mon … Sun", "Mon", "Sun", 7),
        ("October … March", "October", "March", 6),
    ],
)
def test_a_list_is_made_from_the_ends_of_a_series(typed: str, first: str, last: str, count: int) -> None:
    table = read_table(typed.encode())
    assert (len(table.rows), table.rows[0][0], table.rows[-1][0]) == (count, first, last)
    assert not table.headed


def test_what_is_no_series_is_a_name_and_too_long_a_one_is_refused() -> None:
    for text in ("From here to there", "Ada … Bo", "A … 9", "Wait ...", f"{'1a' * 400} ... 2"):
        assert read_table(f"Ysolde\n{text}\nOrrin".encode()).rows[1] == (text,)
    with pytest.raises(Refused, match="makes more than"):
        read_table(b"1 ... 99999999")
