"""Whole jobs from New project to a clean Check, with every press and every typed value counted.

A Tab or Enter belongs to the value before it. What a job may take at most stands beside it.
"""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from foliant.core.design import resolve
from foliant.core.design.shapes import Hole, Motif, Surround, Words
from tests.journeys.acting import Maker, box_of, free, new_project
from tests.journeys.test_board import design_of

pytestmark = pytest.mark.journey


class Hands(Maker):
    """A maker who knows the keys."""

    def key(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)
            self.actions += 1

    def step(self, says: str) -> None:
        """Take one of the likely next steps."""
        free(self.page)
        self.page.locator(".next-steps").get_by_role("button", name=says, exact=True).click()
        self.actions += 1

    def part(self, label: str) -> None:
        free(self.page)
        self.page.locator(".part", has=self.page.locator(".label", has_text=label)).first.click()
        self.actions += 1

    def value(self, label: str, typed: str) -> None:
        free(self.page)
        self.page.locator(".spec").get_by_role("button", name=f"{label}:").first.click()
        self.actions += 1
        self.type(typed, "Enter")

    def shelf(self, name: str) -> None:
        """One of the further shapes."""
        free(self.page)
        self.press("More ▾", first=True)
        self.press(name)

    def drag(self, part: str, dx: float, dy: float) -> None:
        """A part, so many pixels."""
        box = box_of(self.page, self.page.locator(f'.hit[data-part="{part}"]').first)
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + dx, y + dy, steps=8)
        self.page.mouse.up()
        self.actions += 1

    def lines(self, *lines: str) -> None:
        """Words of several lines."""
        for line in lines:
            if line != lines[0]:
                self.page.keyboard.press("Shift+Enter")
            self.page.keyboard.type(line)
        self.actions += 1

    def command(self, name: str) -> None:
        """Any command by its name."""
        self.key("Control+k")
        self.type(name, "Enter")

    def role(self, role: str, also: bool = False) -> None:
        free(self.page)
        self.page.locator(".role-switch button", has_text=role).click(modifiers=["Shift"] if also else [])
        self.actions += 1


def tag(maker: Hands) -> None:
    """110 × 190, scooped corners 14, a scored frame, a hole of 8, a motif 60 wide and a name."""
    maker.key("1")
    maker.type("110", "Tab", "190", "Tab")
    maker.choose("scooped")
    maker.type("14", "Enter")
    maker.step("A line inside its edge")
    maker.type("5", "Enter")
    maker.key("5")
    maker.type("8", "Enter")
    maker.key("6")
    maker.type("moon", "Enter", "60", "Enter")
    maker.key("4")
    maker.type("Hollis", "Enter")


def fob(maker: Hands) -> None:
    """A key fob with an engraved and outlined name and a scored second line."""
    maker.key("1")
    maker.type("60", "Tab", "28", "Enter")
    maker.key("5")
    maker.press("Words", first=True)  # the hole is as large as it should be, so nothing is typed for it
    maker.type("Orrin", "Enter")
    maker.role("scores", also=True)
    maker.step("Words below it")
    maker.type("gate 4", "Enter")
    maker.role("scores")


def pennants(maker: Hands) -> None:
    """Five of one word, swallow-tailed, with two holes each."""
    maker.shelf("Swallow-tail")
    maker.type("50", "Tab", "70", "Enter")
    maker.key("5")
    maker.type("4", "Enter")
    maker.drag("a3", -80, 1)
    maker.step("Another across from it")
    maker.key("4")
    maker.type("COMET", "Enter")
    maker.value("The height of the capitals", "26")
    maker.command("one piece a letter")


def coaster(maker: Hands) -> None:
    """A script word as plain curves."""
    maker.key("2")
    maker.type("95", "Enter")
    maker.key("4")
    maker.type("Quillmoor", "Tab", "pacifico", "Enter")
    maker.step("Join its letters")
    maker.command("make plain")


def ornament(maker: Hands) -> None:
    """A ring with a fitted name and an eye."""
    maker.key("3")
    maker.type("80", "Tab", "6", "Enter")
    maker.key("4")
    maker.type("Ysolde", "Tab", "pacifico", "Enter")
    maker.step("Fit it to Ring")
    maker.step("An eye to hang it by")
    maker.type("4", "Enter")


def keyring(maker: Hands) -> None:
    """A plate round a motif and a word, with an eye."""
    maker.key("4")
    maker.type("Orrin", "Enter")
    maker.key("6")
    maker.type("planet", "Enter")
    maker.key("Escape", "Control+a")
    maker.step("A plate round them")
    maker.type("3", "Enter")
    maker.step("An eye to hang it by")
    maker.type("4", "Enter")


def platter(maker: Hands) -> None:
    """Round, lettered above and below, with a frame and a motif."""
    maker.key("2")
    maker.type("150", "Enter")
    maker.step("Words along its edge")
    maker.type("Quillmoor", "Enter")
    maker.part("Circle")
    maker.step("Words along its lower edge")
    maker.type("open night", "Enter")
    maker.part("Circle")
    maker.step("A line inside its edge")
    maker.type("3", "Enter")
    maker.key("6")
    maker.type("planet", "Enter")


def marker(maker: Hands) -> None:
    """A plate with a name on a spike with a barb on either side."""
    maker.key("1")
    maker.type("90", "Tab", "40", "Enter")
    maker.key("4")
    maker.type("Ysolde", "Enter")
    maker.shelf("Spike")
    maker.type("80", "Tab", "8", "Enter")
    maker.shelf("Triangle")
    maker.type("12", "Tab", "8", "Enter")
    maker.key("e")
    maker.drag("a5", 12, 130)
    maker.step("The same on the right and left")


def bookmark(maker: Hands) -> None:
    """A wavy end, a word across it, a slit round a flap."""
    maker.shelf("Wavy edge")
    maker.type("42", "Tab", "150", "Enter")
    maker.shelf("Flap slit")
    maker.type("16", "Tab", "28", "Enter")
    maker.key("4")
    maker.type("Quillmoor", "Enter")


def topper(maker: Hands) -> None:
    """Two joined words on a spike."""
    maker.key("4")
    maker.lines("Zoë", "thirty")
    maker.type("Tab", "pacifico", "Enter")
    maker.step("Join its letters")
    maker.value("The height of the capitals", "26")
    maker.shelf("Spike")
    maker.type("90", "Enter")


def stirrer(maker: Hands) -> None:
    """Three discs and an initial on a bar, twenty wanted."""
    maker.key("1")
    maker.type("6", "Tab", "88", "Enter")
    maker.key("2")
    maker.type("14", "Enter")
    maker.key("p")
    maker.press("In columns and rows")
    maker.key("4")
    maker.type("Q", "Enter")
    maker.key("Escape")
    maker.value("The number of pieces", "20")


def stand(maker: Hands) -> None:
    """A heart on four tabs in a ring, and a stand that it is lapped with."""
    maker.key("3")
    maker.type("80", "Tab", "6", "Enter")
    maker.shelf("Heart")
    maker.type("40", "Enter")
    maker.step("Hold it with tabs in Ring")
    maker.press("+ New piece")
    maker.key("1")
    maker.type("60", "Tab", "24", "Enter")
    maker.press("Combine ▾")
    maker.page.get_by_label("The piece that crosses this one").select_option(label="with Piece 1")
    maker.actions += 1
    maker.press("Put on the pair of slots")


def bars(maker: Hands) -> None:
    """A name between two bars."""
    maker.key("4")
    maker.type("Ysolde", "Tab", "pacifico", "Enter")
    maker.value("The height of the capitals", "18")
    maker.step("Between two bars")


def board(maker: Hands) -> None:
    """Three stencilled lines and four holes for magnets."""
    maker.key("1")
    maker.type("280", "Tab", "180", "Enter")
    maker.key("5")
    maker.type("6", "Enter")
    maker.step("One in each corner")
    maker.key("4")
    maker.lines("KEEP", "THE GATE", "SHUT")
    maker.type("Tab", "stardos", "Enter")
    maker.value("Tracking", "8")
    maker.role("cuts")


def begin(maker: Hands, starter: str, *typed: str) -> None:
    """Begin with a ready piece, typing what it asks for: Enter makes it."""
    maker.page.goto("/")
    maker.page.locator(".starters").get_by_role("button", name=starter).first.click()
    maker.actions += 1
    # The first time that a server draws it may take seconds.
    expect(maker.page.locator(".starter-bar .editing :is(input, textarea)")).to_be_focused()
    for at, value in enumerate(typed):
        maker.type(value, "Enter" if at == len(typed) - 1 else "Tab")
    maker.page.wait_for_url("**/shape/**")
    free(maker.page)


@pytest.mark.parametrize(
    ("starter", "typed", "most"),
    [
        ("Hang tag", ("Hollis", "110", "190"), 6),
        ("Pennants", ("COMET",), 5),
        ("Round lettering", ("Quillmoor", "open night"), 4),
    ],
    ids=lambda value: str(value),
)
def test_a_starter_takes_a_third_of_the_presses(page: Page, starter: str, typed: tuple[str, ...], most: int) -> None:
    """Of what its job takes below. That each comes clean with such words is a test of the core."""
    maker = Hands(page)
    begin(maker, starter, *typed)
    assert maker.actions <= most
    said = "".join(
        part.shape.text for piece in design_of(page).pieces for part in piece.parts if isinstance(part.shape, Words)
    )
    assert said.startswith(typed[0])
    maker.follow("Check")
    expect(page.get_by_role("heading", name="Nothing to look at")).to_be_visible()


_FEW = (
    (tag, 18),
    (fob, 12),
    (pennants, 16),
    (coaster, 11),
    (ornament, 11),
    (keyring, 15),
    (platter, 14),
    (marker, 18),
    (bookmark, 20),
    (topper, 13),
    (stirrer, 14),
    (stand, 16),
    (bars, 8),
    (board, 18),
)


@pytest.mark.parametrize(("job", "most"), _FEW, ids=lambda value: getattr(value, "__name__", str(value)))
def test_a_job_takes_few_presses_and_comes_clean(page: Page, job: Callable[[Hands], None], most: int) -> None:
    maker = Hands(page)
    new_project(maker)
    job(maker)
    free(page)
    design = design_of(page)
    page.locator(".stations").get_by_role("link", name=re.compile("^Check")).click()
    maker.actions += 1
    expect(page.get_by_role("heading", name="Nothing to look at")).to_be_visible()
    print(f"{job.__name__}: {maker.actions} presses, at most {most}")
    assert maker.actions <= most
    (first, *others) = design.pieces
    assert all(len(resolve(piece).outline.bodies) == 1 for piece in design.pieces)
    kinds = [part.shape.kind for part in first.parts]
    match job.__name__:
        case "tag":
            assert {"rectangle", "surround", "hole", "motif", "words"} == set(kinds)
            (moon,) = (part.shape for part in first.parts if isinstance(part.shape, Motif))
            assert moon.width == pytest.approx(60, abs=1e-3)
        case "fob":
            assert [part.shape.width for part in first.parts if isinstance(part.shape, Hole)] == [4]
            assert [part.roles for part in first.parts if isinstance(part.shape, Words)] == [
                ("engraves", "scores"),
                ("scores",),
            ]
        case "pennants":
            assert len(others) == 4
            assert kinds.count("hole") == 2
        case "coaster":
            assert "drawn" in kinds
        case "marker":
            assert {"rectangle", "words", "spike", "triangle"} == set(kinds)
        case "bookmark":
            assert resolve(first).slits.length > 60
        case "topper":
            assert next(part.shape for part in first.parts if isinstance(part.shape, Words)).text == "Zoë\nthirty"
        case "stirrer":
            assert first.copies == 20
        case "stand":
            assert {"tabs", "lap"} <= set(kinds)
        case "bars":
            assert kinds.count("rectangle") == 2
        case "board":
            assert len(resolve(first).outline.bodies[0].interiors) > 4 + len("KEEPTHEGATESHUT")
        case "keyring":
            assert any(isinstance(part.shape, Surround) and len(part.shape.of) == 2 for part in first.parts)
