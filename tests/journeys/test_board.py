"""Exact placing on the Shape station, with mouse and keys, as makers do it; each journey counts its actions."""

import math
from itertools import pairwise

import pytest
from playwright.sync_api import Page, expect

from foliant.core.design import resolve
from foliant.core.design.placing import part_bounds
from tests.journeys.acting import Maker, at, begin, centre_of, design_of, drag, new_project, put_hole, spec

pytestmark = pytest.mark.journey


def two_holes(maker: Maker) -> None:
    """Two holes, 10 and 60 mm across."""
    for place in ("10", "60"):
        put_hole(maker)
        maker.page.get_by_role("button", name="The place across").click()
        maker.type(place, "Enter")
        expect(spec(maker.page)).to_contain_text(f"its middle {place} mm across")


def test_four_circles_snapped_to_the_corners_scoop_a_tag(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    maker.press("Circle")
    maker.type("12", "Enter")
    maker.press("cuts")
    expect(spec(page)).to_contain_text("cuts away from")
    here = (36.0, 15.0)
    corners = ((0, 0), (72, 0), (72, 30), (0, 30))
    names = ("upper left", "upper right", "lower right", "lower left")
    for number, (corner, name) in enumerate(zip(corners, names, strict=True)):
        if number:
            maker.type("d")
            expect(page.locator('[data-role="cuts"] .part')).to_have_count(number + 1)
            newest = design_of(page).pieces[0].parts[-1]
            here = (newest.x, newest.y)
        # Let go half a millimetre beside the corner: it goes there by itself.
        drag(page, (here[0] + 1, here[1] + 0.5), (corner[0] + 1.5, corner[1] + 0.2))
        maker.actions += 1
        expect(page.locator(".over-status")).to_contain_text(f"{name} corner of Rectangle")
        here = corner
    design = design_of(page)
    assert [(part.x, part.y) for part in design.pieces[0].parts[1:]] == [pytest.approx(corner) for corner in corners]
    assert resolve(design.pieces[0]).outline.path.area == pytest.approx(72 * 30 - math.pi * 36, abs=0.05)
    print(f"scooped tag: {maker.actions} actions")
    assert maker.actions <= 15


def test_the_same_tag_by_keys_alone(page: Page) -> None:
    new_project(Maker(page))
    page.keyboard.press("1")
    for key in ("72", "Tab", "30", "Enter", "2", "12", "Enter"):
        page.keyboard.press(key) if key.isalpha() else page.keyboard.type(key)
    expect(spec(page)).to_contain_text("Circle 12 mm across, adds to")
    page.keyboard.press("r")
    expect(spec(page)).to_contain_text("cuts away from")
    for number, name in enumerate(("upper left", "upper right", "lower right", "lower left")):
        if number:
            page.keyboard.press("d")
            expect(page.locator('[data-role="cuts"] .part')).to_have_count(number + 1)
        page.keyboard.press("g")
        expect(page.get_by_role("combobox")).to_be_focused()
        page.keyboard.type(f"{name} corner of rect")
        expect(page.get_by_role("option")).to_have_count(1)
        page.keyboard.press("Enter")
        expect(page.locator(".over-status")).to_contain_text(f"{name} corner of Rectangle")
    assert resolve(design_of(page).pieces[0]).outline.path.area == pytest.approx(72 * 30 - math.pi * 36, abs=0.05)


def test_a_column_of_nine_letters_evenly_spread_and_centred(page: Page) -> None:
    maker = Maker(page)
    begin(maker, "40", "200")
    maker.press("Words")
    maker.type("QUILLMOOR", "Enter")
    expect(page.locator('[data-role="engraves"] .part')).to_contain_text("QUILLMOOR")
    page.keyboard.press("Control+k")
    maker.type("split words", "Enter")
    expect(page.locator('[data-role="engraves"] .part')).to_have_count(9)
    page.keyboard.press("Control+a")
    page.locator('[data-role="adds"] .part').click(modifiers=["Shift"])
    maker.actions += 3
    expect(spec(page)).to_contain_text("9 parts of")
    maker.type("a")
    page.locator("#panel-align").get_by_role("button", name="middles").first.click()
    maker.type("s")
    page.locator("#panel-spread select").nth(0).select_option("down")
    page.locator("#panel-spread select").nth(2).select_option("piece")
    page.get_by_label("The distance kept to the edges").fill("6")
    page.get_by_role("button", name="Spread them").click()
    maker.actions += 5
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("title", "Undo: spread 9 parts")
    parts = design_of(page).pieces[0].parts[1:]
    baselines = sorted(part.y + part.shape.cap_height / 2 for part in parts)  # type: ignore[union-attr]
    steps = [below - above for above, below in pairwise(baselines)]
    assert steps == pytest.approx([steps[0]] * 8, abs=1e-3)
    for part in parts:
        left, _, right, _ = part_bounds(part)
        assert (left + right) / 2 == pytest.approx(20, abs=1e-3)
    print(f"column of nine letters: {maker.actions} actions")
    assert maker.actions <= 20


def test_a_hole_is_held_level_and_5_mm_from_the_edge_when_the_tag_is_made_longer(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    maker.press("Hole")
    maker.type("4", "Enter")
    expect(spec(page)).to_contain_text("held 3 mm inside the left edge and level with the middle of")
    page.locator('[data-dimension="hold-across"]').click()
    maker.actions += 1
    expect(page.get_by_role("textbox", name="Distance of the hold")).to_be_focused()
    maker.type("5", "Enter")
    expect(spec(page)).to_contain_text("held 5 mm inside the left edge and level with the middle of Rectangle")
    expect(page.locator(".hold")).to_have_count(2)
    page.locator('[data-role="adds"] .part').click()
    page.get_by_role("button", name="The point it is placed by").click()
    page.get_by_role("option", name="lower right corner").click()
    page.get_by_role("button", name="The width: 72 mm").click()
    page.keyboard.type("100")
    page.keyboard.press("Tab")
    page.keyboard.type("44")
    page.keyboard.press("Enter")
    expect(page.locator(".piece-head .size")).to_have_text("100 × 44 mm")
    piece = design_of(page).pieces[0]
    plate, hole = (part_bounds(part) for part in piece.parts)
    assert hole[0] - plate[0] == pytest.approx(5)
    assert hole[1] + hole[3] == pytest.approx(plate[1] + plate[3])
    print(f"held hole: {maker.actions} actions before the tag is made longer")
    # One key lets it go again.
    page.locator('[data-role="cuts"] .part').click()
    page.keyboard.press("h")
    expect(page.locator(".hold")).to_have_count(0)
    expect(spec(page)).to_contain_text("its middle")


def test_a_spike_is_made_by_node_editing_a_triangle(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("More ▾", first=True)
    maker.press("Polygon")
    maker.type("3", "Tab", "30", "Enter")
    expect(spec(page)).to_contain_text("Polygon of 3 sides, 30 mm across its corners")
    maker.type("8")
    page.locator(".toast").get_by_role("button", name="Make plain").click()
    maker.actions += 1
    expect(page.locator(".node")).to_have_count(3)
    page.locator('[data-node="0 0"]').click()
    maker.actions += 1
    expect(spec(page)).to_contain_text("Node 1 of Drawn shape")
    page.get_by_role("button", name="The place down").click()
    maker.actions += 1
    maker.type("-60", "Enter")
    expect(spec(page)).to_contain_text("-60 mm down")
    shape = design_of(page).pieces[0].parts[0].shape
    (tip, right, left) = shape.contours[0].nodes  # type: ignore[union-attr]
    assert abs((right.x + left.x) / 2 - tip.x) < 0.01
    assert abs(right.y - left.y) < 0.01
    assert right.y - tip.y > 80
    print(f"spike: {maker.actions} actions")
    # The same node by hand, kept upright, and a curve on one side.
    x, y = centre_of(page, '[data-node="0 0"]')
    page.mouse.move(x, y)
    page.mouse.down()
    page.keyboard.down("Shift")
    page.mouse.move(x + 5, y + 44, steps=6)
    page.mouse.up()
    page.keyboard.up("Shift")
    expect(spec(page)).not_to_contain_text("-60 mm down")
    moved = design_of(page).pieces[0].parts[0].shape.contours[0].nodes  # type: ignore[union-attr]
    assert abs((moved[1].x + moved[2].x) / 2 - moved[0].x) < 0.01
    page.locator('[data-node="0 0"]').click()
    page.get_by_role("button", name="To a curve").click()
    expect(page.locator(".arm-end")).to_have_count(1)


def test_a_ring_of_24_marks(page: Page) -> None:
    maker = Maker(page)
    new_project(maker)
    maker.press("Circle")
    maker.type("80", "Enter")
    maker.press("More ▾", first=True)
    maker.press("Line")
    maker.type("6", "Enter")
    maker.type("e", "a")
    page.locator("#panel-align").get_by_role("button", name="upper edges").click()
    maker.actions += 1
    page.keyboard.press("Escape")
    maker.type("p")
    page.get_by_role("button", name="Around the middle of the piece").click()
    maker.actions += 1
    maker.press("The number: 6. Change it.")
    maker.type("24", "Enter")
    expect(spec(page)).to_contain_text("24 of it around Piece 1 over 360°, turned to it")
    expect(page.locator(".chosen-shape")).to_have_count(24)
    scored = resolve(design_of(page).pieces[0]).scored
    assert len(scored) == 24
    assert all(math.hypot(x - 40, y - 40) == pytest.approx(37) for x, y in scored.points[:, [0, 3]].mean(axis=1))
    print(f"ring of 24 marks: {maker.actions} actions")
    # Any one can be let go, and the rest still follow the first.
    page.locator('.hit[data-copy="6"]').click(force=True)
    page.keyboard.press("p")
    page.get_by_role("button", name="Let this copy go").click()
    expect(page.locator('[data-role="scores"] .part')).to_have_count(2)


def test_a_box_chooses_what_it_touches_or_encloses_and_groups_are_chosen_as_one(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    two_holes(maker)
    page.keyboard.press("Escape")
    drag(page, (-6, -6), (10, 40))
    expect(spec(page)).to_contain_text("2 parts of Piece 1")
    page.get_by_role("button", name="enclose").click()
    drag(page, (-6, -6), (14, 40))
    expect(spec(page)).to_contain_text("Round hole 6 mm across")
    page.reload()
    expect(page.get_by_role("button", name="enclose")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="touch", exact=True).click()

    # Groups are chosen as one, and reached through.
    page.locator('[data-role="cuts"] .part').nth(0).click()
    page.locator('[data-role="cuts"] .part').nth(1).click(modifiers=["Shift"])
    page.keyboard.press("Control+g")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("title", "Undo: group 2 parts")
    page.keyboard.press("Escape")
    page.mouse.click(*at(page, 10, 15))
    expect(spec(page)).to_contain_text("2 parts of Piece 1, together 56 mm × 6 mm")
    page.mouse.dblclick(*at(page, 10, 15))
    expect(spec(page)).to_contain_text("Round hole")
    # A locked part lets the pointer through.
    page.locator('[data-role="adds"] .part').click()
    page.keyboard.press("k")
    expect(page.locator('[data-role="adds"] .part')).to_contain_text("locked")
    page.mouse.click(*at(page, 36, 15))
    expect(spec(page)).to_contain_text("one body")


def test_the_pen_draws_lines_curves_and_closed_shapes(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    page.keyboard.press("7")
    for x, y in ((20, 10), (40, 10), (30, 24)):
        page.mouse.click(*at(page, x, y))
    page.mouse.click(*at(page, 20, 10))
    expect(spec(page)).to_contain_text("Drawn shape of 3 nodes, 20 mm × 14 mm, adds to")
    page.keyboard.press("7")
    page.mouse.click(*at(page, 50, 20))
    page.mouse.move(*at(page, 60, 10))
    page.mouse.down()
    page.mouse.move(*at(page, 66, 10), steps=4)
    page.mouse.up()
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("Drawn line of 2 nodes, 10 mm × 10 mm, scores")
    found = design_of(page).pieces[0].parts
    assert found[1].shape.contours[0].closed  # type: ignore[union-attr]
    assert found[2].shape.contours[0].nodes[1].kind == "symmetric"  # type: ignore[union-attr]
    page.keyboard.press("7")
    page.mouse.click(*at(page, 5, 5))
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    assert len(design_of(page).pieces[0].parts) == 3
    page.keyboard.press("7")
    page.mouse.click(*at(page, 10.2, 27))
    page.mouse.dblclick(*at(page, 24.2, 27))
    expect(spec(page)).to_contain_text("Drawn line of 2 nodes, 14 mm, scores")


def test_a_distance_is_measured_and_typed(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    put_hole(maker)
    page.keyboard.press("9")
    page.mouse.click(*at(page, 0.3, 15.2))
    page.mouse.click(*at(page, 4.1, 15.1))
    expect(page.locator('[data-dimension="measure"]')).to_have_text("4")
    page.locator('[data-dimension="measure"]').click()
    page.keyboard.type("1/2 in")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("title", "Undo: set the distance of Round hole")
    left, _, right, _ = part_bounds(design_of(page).pieces[0].parts[1])
    assert (left + right) / 2 == pytest.approx(12.7)


def test_handles_size_and_turn(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    page.mouse.move(*centre_of(page, '[data-handle="right"]'))
    page.mouse.down()
    page.mouse.move(*at(page, 80.1, 15), steps=6)
    page.mouse.up()
    expect(page.locator(".piece-head .size")).to_have_text("80 × 30 mm")
    page.keyboard.press("b")
    page.locator('[data-dimension="piece-width"]').click()
    page.keyboard.type("40")
    page.keyboard.press("Enter")
    expect(page.locator(".piece-head .size")).to_have_text("40 × 15 mm")
    page.keyboard.press("e")
    expect(page.locator(".piece-head .size")).to_have_text("15 × 40 mm")
    page.keyboard.press("Control+z")
    expect(page.locator(".piece-head .size")).to_have_text("40 × 15 mm")


def test_motifs_are_found_by_words_kept_among_the_favourites_and_taken_by_keys(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    maker.press("Motif ▾")
    maker.type("space")
    expect(page.locator(".motif").first).to_be_visible()
    page.locator(".motif", has=page.get_by_role("button", name="Planet", exact=True)).hover()
    page.get_by_role("button", name="Keep Planet among the favourites").click()
    page.get_by_role("button", name="Planet", exact=True).click()
    expect(spec(page)).to_contain_text("Motif Planet")
    page.keyboard.press("Escape")
    page.reload()
    expect(page.get_by_role("button", name="Motif ▾")).to_be_visible()  # keys count once the page is there
    page.keyboard.press("6")
    page.get_by_role("button", name="Favourites", exact=True).click()
    expect(page.locator(".motif")).to_have_count(1)
    page.get_by_role("button", name="Recent", exact=True).click()
    expect(page.get_by_role("button", name="Planet", exact=True)).to_be_visible()
    page.get_by_label("Find a motif by a word").fill("zzz")
    expect(page.locator(".found")).to_contain_text("No motif is found by “zzz”.")
    page.keyboard.press("Escape")

    # By plurals, the best first, and taken by keys.
    for words, name in (("rockets", "Rocket"), ("cherries", "Cherries"), ("dogs", "Dog"), ("bicycle", "Bicycle")):
        page.keyboard.press("6")
        page.get_by_label("Find a motif by a word").fill(words)
        expect(page.locator(".motif-put").first).to_have_attribute("aria-label", name)
        page.keyboard.press("Enter")
        expect(spec(page)).to_contain_text(f"Motif {name}")
        page.keyboard.press("Escape")
    page.keyboard.press("6")
    page.get_by_label("Find a motif by a word").fill("fish")
    expect(page.locator(".motif-put").nth(1)).to_be_visible()
    second = page.locator(".motif-put").nth(1).get_attribute("aria-label") or ""
    for key in ("ArrowDown", "ArrowRight", "Enter"):
        page.keyboard.press(key)
    expect(spec(page)).to_contain_text(f"Motif {second}")

    # In the sentence another is chosen from the same pictures, tried as they are walked over.
    page.keyboard.press("Escape")  # of the width that was opened
    spec(page).get_by_role("button", name=f"The motif: {second}").click()
    expect(page.locator(".instead")).to_contain_text(f"Instead of {second}")
    page.get_by_label("Find a motif by a word").fill("rocket")
    page.keyboard.press("ArrowDown")
    expect(spec(page)).to_contain_text("Motif Rocket")
    page.keyboard.press("Escape")
    expect(spec(page)).to_contain_text(f"Motif {second}")
    expect(spec(page).get_by_role("button", name=f"The motif: {second}")).to_be_focused()
    before = design_of(page).pieces[0].parts
    page.keyboard.press("Enter")
    maker.type("anchor")
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("Motif Anchor")
    after = design_of(page).pieces[0].parts
    assert len(after) == len(before)
    assert after[-1] == before[-1].model_copy(update={"shape": after[-1].shape})


PASTE = """text => document.dispatchEvent(Object.assign(new Event("paste", {bubbles: true, cancelable: true}),
  {clipboardData: {getData: () => text}}))"""


def test_parts_are_copied_into_another_project_with_their_holds(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    page.keyboard.press("Escape")
    maker.press("Hole")
    maker.type("4", "Enter")
    expect(spec(page)).to_contain_text("held 3 mm inside the left edge and level with the middle of Piece 1")
    text = page.evaluate(
        """() => { let kept = ""; document.dispatchEvent(Object.assign(new Event("copy", {bubbles: true}),
           {clipboardData: {setData: (_, text) => (kept = text)}})); return kept; }"""
    )
    expect(page.locator(".toast")).to_contain_text("Round hole is copied")
    new_project(maker)
    page.keyboard.press("1")
    maker.type("50", "Tab", "50", "Enter")
    expect(page.locator(".piece-head .size")).to_have_text("50 × 50 mm")
    page.evaluate(PASTE, text)
    expect(spec(page)).to_contain_text("held 3 mm inside the left edge and level with the middle of Piece 1")
    page.evaluate(PASTE, "a shopping list")
    expect(page.locator(".toast.bad")).to_contain_text("not parts of a Foliant piece")


def test_every_command_is_found_by_its_name_and_fractions_are_shown(page: Page) -> None:
    maker = Maker(page)
    begin(maker)
    page.keyboard.press("Control+k")
    page.keyboard.type("fractions")
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("Rectangle ~2 53/64 in × ~1 3/16 in")
    page.get_by_role("button", name="The width").click()
    page.keyboard.type("2 7/8")
    page.keyboard.press("Enter")
    expect(spec(page)).to_contain_text("Rectangle 2 7/8 in")
    expect(page.locator(".spec-keys").first).to_contain_text("1/64 in")
    assert design_of(page).pieces[0].parts[0].shape.width == pytest.approx(2.875 * 25.4)  # type: ignore[union-attr]
    page.keyboard.press("Control+k")
    page.keyboard.type("join two ends")
    expect(page.get_by_role("option")).to_have_attribute("aria-disabled", "true")
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Hold it here, or let it go")
