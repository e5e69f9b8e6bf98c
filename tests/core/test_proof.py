"""The proof: every row on a page, true to size where wanted, the same in every backend."""

import json
import re
import zlib
from pathlib import Path

import pytest

from foliant.core.cli import main
from foliant.core.design import Design, resolve
from foliant.core.equipment import SHIPPED
from foliant.core.errors import Refused
from foliant.core.formats.design_file import write_design
from foliant.core.pricing import price_csv, price_of_all, prices_by_order
from foliant.core.proof import Paper, paper_pages, proof_pages, write_proof
from foliant.core.proof.pages import Page
from foliant.core.ticket import plan_all
from tests.core.test_cli import foliant
from tests.making import edited, one_piece, put, tag

FACE = SHIPPED.material("birch-ply").face


def tags(count: int) -> Design:
    rows = [[f"Guide {number}"] for number in range(1, count + 1)]
    return edited(tag(), {"do": "take-table", "heading": ["name"], "rows": rows, "words": ["a4"]})


def outlines(pages: list[Page]) -> list[tuple[float, float]]:
    """How wide and tall every piece on the pages is shown."""
    boxes = [shape.path.bounds for page in pages for shape in page.shapes if shape.fill == FACE]
    return [(round(right - left, 2), round(bottom - top, 2)) for left, top, right, bottom in boxes]


@pytest.mark.parametrize("count", [1, 7, 40])
def test_every_row_stands_on_a_page_with_nothing_on_another(count: int) -> None:
    design = tags(count)
    for true_size in (False, True):
        pages = proof_pages(design, SHIPPED, true_size)
        sizes = outlines(pages)
        assert len(sizes) == count
        assert not true_size or set(sizes) == {(72.0, 30.0)}
        for page in pages:
            boxes = [shape.path.bounds for shape in page.shapes if shape.fill == FACE]
            assert all(box[0] > 0 and box[2] < page.width and box[1] > 0 and box[3] < page.height for box in boxes)
            for at, one in enumerate(boxes):
                for other in boxes[at + 1 :]:
                    assert one[2] < other[0] or other[2] < one[0] or one[3] < other[1] or other[3] < one[1]
    (page,) = proof_pages(design, SHIPPED, one_page=True)
    assert len(outlines([page])) == count


def test_what_cannot_be_made_is_listed_and_what_is_too_large_is_shown_smaller() -> None:
    design = edited(tags(2), {"do": "tie", "of": "part a2 width", "text": "{name}"})
    assert outlines(proof_pages(design, SHIPPED)) == []  # “Guide 1” is no width; both are named all the same
    assert len(proof_pages(design, SHIPPED)[0].shapes) > 4
    wide = edited(tag(), {"do": "change", "of": "part a2", "values": {"width": "400"}})
    ((width, height),) = outlines(proof_pages(wide, SHIPPED, true_size=True))
    assert (width, height) == pytest.approx((182, 182 * 30 / 400), abs=0.01)
    with pytest.raises(Refused, match="nothing to show"):
        proof_pages(Design(), SHIPPED)
    with pytest.raises(Refused, match="save a PDF"):
        proof_pages(tags(301), SHIPPED, one_page=True)


def test_the_command_line_writes_the_same_proof(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    design = tags(30)
    file, names, target = tmp_path / "tags.json", tmp_path / "names.csv", tmp_path / "proof.pdf"
    file.write_text(write_design(edited(design, {"do": "change", "of": "part a4", "values": {"text": "{name}"}})))
    names.write_text("name\n" + "\n".join(f"Guide {number}" for number in range(1, 31)))
    assert main(["proof", str(file), "--rows", str(names), "--to", str(target)]) == 0
    pages = len(proof_pages(design, SHIPPED))
    written = target.read_bytes()
    assert len(re.findall(rb"/Type /Page\b", written)) == pages
    drawn = b"".join(zlib.decompress(_ascii85(part)) for part in re.findall(rb"stream\s*(.*?)endstream", written, re.S))
    colour = " ".join(f"{int(FACE[i : i + 2], 16) / 255:.6g}"[:7].lstrip("0") for i in (1, 3, 5)).encode()
    assert drawn.count(colour.split()[0]) >= 30
    assert main(["proof", str(file), "--to", str(tmp_path / "proof.doc")]) == 2
    assert "not “doc”" in capsys.readouterr().err
    assert write_proof(design, SHIPPED, "png").startswith(b"\x89PNG")
    assert resolve(design.pieces[0]).bounds == (0, 0, 72, 30)


def _ascii85(stream: bytes) -> bytes:
    import base64

    return base64.a85decode(b"<~" + stream.strip(), adobe=True)


def sign() -> Design:
    return one_piece(put("rectangle", width=450, height=190, x=225, y=95), put("words", text="BAY 7", cap_height=60))


def test_a_sign_comes_on_pages_in_true_size_that_overlap() -> None:
    pages = paper_pages(sign(), SHIPPED, Paper(), "p1")
    assert [(page.width, page.height) for page in pages] == [(297, 210)] * 2  # across takes fewer
    left, right = (page.inside[0].path.bounds for page in pages)
    assert left[2] - left[0] == pytest.approx(450)
    # What is at the right of the first is shown again at the left of the second, 10 mm of it.
    assert left[0] - right[0] == pytest.approx(297 - 20 - 10)
    covered = [(10 - page.inside[0].path.bounds[0], 287 - page.inside[0].path.bounds[0]) for page in pages]
    assert covered[0][0] == pytest.approx(0)
    assert covered[0][1] - covered[1][0] == pytest.approx(10)
    assert covered[1][1] >= 450


def test_what_is_mirrored_is_seen_from_behind() -> None:
    plain = paper_pages(one_piece(put("rectangle")), SHIPPED, Paper(), "p1")[0].inside[0].path
    behind = paper_pages(one_piece(put("rectangle")), SHIPPED, Paper(mirrored=True), "p1")[0].inside[0].path
    assert behind.bounds == pytest.approx(plain.bounds)
    assert behind.area == pytest.approx(-plain.area)


def test_every_sheet_can_be_printed_with_only_its_lines() -> None:
    pages = paper_pages(tag(copies=20), SHIPPED, Paper(size="letter", look="lines"), sheet=2)
    outlines = [shape for shape in pages[0].inside if shape.width == 0.2]
    assert len(outlines) == 2
    assert not any(shape.fill for shape in pages[0].inside)


@pytest.mark.parametrize(
    ("design", "paper", "says"),
    [
        (one_piece(), Paper(), "nothing to print"),
        (sign(), Paper(size="own", width=60, height=60, overlap=60), "overlap leaves nothing"),
        (sign(), Paper(size="own", width=60, height=60, overlap=30), "at most 200"),
    ],
)
def test_what_cannot_be_printed_is_said(design: Design, paper: Paper, says: str) -> None:
    with pytest.raises(Refused, match=says):
        paper_pages(design, SHIPPED, paper, "p1")


def test_paper_on_the_command_line(tmp_path: Path) -> None:
    (tmp_path / "sign.json").write_text(write_design(sign()))
    command = ("paper", str(tmp_path / "sign.json"), "--to", str(tmp_path / "sign.pdf"), "--piece", "p1", "--mirrored")
    assert foliant(*command).returncode == 0
    content = (tmp_path / "sign.pdf").read_bytes()
    assert content.startswith(b"%PDF")
    assert content.count(b"/Type /Page\n") == 2
    assert "The overlap is too large" in foliant(*command, "--overlap", "5 in").stderr


def test_prices_are_told_by_row_and_by_order_and_on_the_proof(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    rows = [["Ivo", "Marchetti"], ["Bo", "Marchetti"], ["Anneliese", "Okafor"]]
    table = {"do": "take-table", "heading": ["name", "order"], "rows": rows, "words": ["a4"]}
    design = edited(tag(copies=2), table)
    jobs = plan_all(design, SHIPPED)
    whole = price_of_all(jobs).total
    by_row, by_order = dict(prices_by_order(jobs, "row")), dict(prices_by_order(jobs, "order"))
    assert {name: one.pieces for name, one in by_row.items()} == {"Ivo": 2, "Bo": 2, "Anneliese": 2}
    assert {name: one.pieces for name, one in by_order.items()} == {"Marchetti": 4, "Okafor": 2}
    assert sum(one.total for one in by_order.values()) == pytest.approx(whole)
    assert by_row["Anneliese"].machine > by_row["Bo"].machine  # more letters take longer
    with pytest.raises(Refused, match="no column"):
        prices_by_order(jobs, "shelf")
    file = tmp_path / "tags.json"
    file.write_text(design.model_dump_json())
    assert main(["price", str(file), "--by", "order", "--json"]) == 0
    assert [one["order"] for one in json.loads(capsys.readouterr().out)["by_order"]] == ["Marchetti", "Okafor"]
    assert main(["proof", str(file), "--prices", "--to", str(tmp_path / "proof.pdf")]) == 0
    assert "Okafor,2," in price_csv(jobs, "order")
