"""Whole jobs at the page, from New project to a clean Check, with every press and every typed value counted.

A Tab or Enter belongs to the value before it. Each job can be done with other sizes and words than the table's.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from playwright.sync_api import Page, expect

from foliant.core.design import Piece, resolve
from foliant.core.design.shapes import Hole, Motif, Surround, Words
from tests.journeys.acting import Maker, at, box_of, design_of, free, new_project


class Hands(Maker):
    """A maker who knows the keys. All that is sized is so many times as large, and each word is another."""

    def __init__(self, page: Page, times: float = 1.0, words: dict[str, str] | None = None) -> None:
        super().__init__(page)
        self.times = times
        self.words = words or {}

    def mm(self, size: float) -> str:
        return f"{size * self.times:.4g}"

    def size(self, *sizes: float) -> None:
        """Sizes in mm, one after another, and Enter."""
        for number, size in enumerate(sizes):
            self.type(self.mm(size), "Tab" if number < len(sizes) - 1 else "Enter")

    def say(self, word: str, *after: str) -> None:
        """A word, and Enter."""
        self.type(self.words.get(word, word), *(after or ("Enter",)))

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

    def drag(self, part: str, x: float, y: float | None = None) -> None:
        """A part by its middle, to so many mm of the piece across and down."""
        box = box_of(self.page, self.page.locator(f'.hit[data-part="{part}"]').first)
        here = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        there = at(self.page, x * self.times, (y or 0) * self.times)
        self.page.mouse.move(*here)
        self.page.mouse.down()
        self.page.mouse.move(there[0], here[1] if y is None else there[1], steps=8)
        self.page.mouse.up()
        self.actions += 1

    def lines(self, *lines: str) -> None:
        """Words of several lines."""
        for line in lines:
            if line != lines[0]:
                self.page.keyboard.press("Shift+Enter")
            self.page.keyboard.type(self.words.get(line, line))
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
    maker.type(maker.mm(110), "Tab", maker.mm(190), "Tab")
    maker.choose("scooped")
    maker.size(14)
    maker.step("A line inside its edge")
    maker.type("5", "Enter")
    maker.key("5")
    maker.type("8", "Enter")
    maker.key("6")
    maker.type("moon", "Enter")
    maker.size(60)
    maker.key("4")
    maker.say("Hollis")


def fob(maker: Hands) -> None:
    """A key fob with an engraved and outlined name and a scored second line."""
    maker.key("1")
    maker.size(60, 28)
    maker.key("5")
    maker.press("Words", first=True)  # the hole is as large as it should be, so nothing is typed for it
    maker.say("Orrin")
    maker.role("scores", also=True)
    maker.step("Words below it")
    maker.say("gate 4")
    maker.role("scores")


def pennants(maker: Hands) -> None:
    """Five of one word, swallow-tailed, with two holes each."""
    maker.shelf("Swallow-tail")
    maker.size(50, 70)
    maker.key("5")
    maker.type("4", "Enter")
    maker.drag("a3", 8)
    maker.step("Another across from it")
    maker.key("4")
    maker.say("COMET")
    maker.value("The height of the capitals", maker.mm(26))
    maker.command("one piece a letter")


def coaster(maker: Hands) -> None:
    """A script word as plain curves."""
    maker.key("2")
    maker.size(95)
    maker.key("4")
    maker.say("Quillmoor", "Tab", "pacifico", "Enter")
    maker.step("Join its letters")
    maker.command("make plain")


def ornament(maker: Hands) -> None:
    """A ring with a fitted name and an eye."""
    maker.key("3")
    maker.size(80, 6)
    maker.key("4")
    maker.say("Ysolde", "Tab", "pacifico", "Enter")
    maker.step("Fit it to Ring")
    maker.step("An eye to hang it by")
    maker.type("4", "Enter")


def keyring(maker: Hands) -> None:
    """A plate round a motif and a word, with an eye."""
    maker.key("4")
    maker.say("Orrin")
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
    maker.size(150)
    maker.step("Words along its edge")
    maker.say("Quillmoor")
    maker.part("Circle")
    maker.step("Words along its lower edge")
    maker.say("open night")
    maker.part("Circle")
    maker.step("A line inside its edge")
    maker.type("3", "Enter")
    maker.key("6")
    maker.type("planet", "Enter")


def marker(maker: Hands) -> None:
    """A plate with a name on a spike with a barb on either side."""
    maker.key("1")
    maker.size(90, 40)
    maker.key("4")
    maker.say("Ysolde")
    maker.shelf("Spike")
    maker.size(80, 8)
    maker.shelf("Triangle")
    maker.size(12, 8)
    maker.key("e")
    maker.drag("a5", 50, 85)
    maker.step("The same on the right and left")


def bookmark(maker: Hands) -> None:
    """A wavy end, a word across it, a slit round a flap."""
    maker.shelf("Wavy edge")
    maker.size(42, 150)
    maker.shelf("Flap slit")
    maker.size(16, 28)
    maker.key("4")
    maker.say("Quillmoor")


def topper(maker: Hands) -> None:
    """Two joined words on a spike."""
    maker.key("4")
    maker.lines("Zoë", "thirty")
    maker.type("Tab", "pacifico", "Enter")
    maker.step("Join its letters")
    maker.value("The height of the capitals", maker.mm(26))
    maker.shelf("Spike")
    maker.size(90)


def stirrer(maker: Hands) -> None:
    """Three discs and an initial on a bar, twenty wanted."""
    maker.key("1")
    maker.size(6, 88)
    maker.key("2")
    maker.size(14)
    maker.key("p")
    maker.press("In columns and rows")
    maker.key("4")
    maker.say("Q")
    maker.key("Escape")
    maker.value("The number of pieces", "20")


def stand(maker: Hands) -> None:
    """A heart on four tabs in a ring, and a stand that it is lapped with."""
    maker.key("3")
    maker.size(80, 6)
    maker.shelf("Heart")
    maker.size(40)
    maker.step("Hold it with tabs in Ring")
    maker.press("+ New piece")
    maker.key("1")
    maker.size(60, 24)
    maker.press("Combine ▾")
    maker.page.get_by_label("The piece that crosses this one").select_option(label="with Piece 1")
    maker.actions += 1
    maker.press("Put on the pair of slots")


def bars(maker: Hands) -> None:
    """A name between two bars."""
    maker.key("4")
    maker.say("Ysolde", "Tab", "pacifico", "Enter")
    maker.value("The height of the capitals", maker.mm(18))
    maker.step("Between two bars")


def board(maker: Hands) -> None:
    """Three stencilled lines and four holes for magnets."""
    maker.key("1")
    maker.size(280, 180)
    maker.key("5")
    maker.type("6", "Enter")
    maker.step("One in each corner")
    maker.key("4")
    maker.lines("KEEP", "THE GATE", "SHUT")
    maker.type("Tab", "stardos", "Enter")
    maker.value("Tracking", maker.mm(8))
    maker.role("cuts")


def from_starter(maker: Maker, starter: str, *typed: str) -> None:
    """Begin with a ready piece, typing what it asks for: Enter makes it."""
    maker.page.goto("/")
    maker.page.locator(".starters").get_by_role("button", name=starter).first.click()
    maker.actions += 1
    # The first time that a server draws it may take seconds.
    expect(maker.page.locator(".starter-bar .editing :is(input, textarea)")).to_be_focused()
    for number, value in enumerate(typed, 1):
        maker.type(value, "Enter" if number == len(typed) else "Tab")
    maker.page.wait_for_url("**/shape/**")
    free(maker.page)


@dataclass(frozen=True)
class Made:
    """What came of a job."""

    pieces: list[Piece]
    times: float

    @property
    def kinds(self) -> list[str]:
        return [part.shape.kind for part in self.pieces[0].parts]

    def shapes(self, kind: type) -> list[Any]:
        return [part.shape for part in self.pieces[0].parts if isinstance(part.shape, kind)]

    def is_whole(self) -> bool:
        return all(len(resolve(piece).outline.bodies) == 1 for piece in self.pieces)


@dataclass(frozen=True)
class Job:
    """A job, how many presses it may take, and whether what came of it is what was meant."""

    do: Callable[[Hands], None]
    most: int
    meant: Callable[[Made], bool]

    @property
    def name(self) -> str:
        return self.do.__name__


JOBS = (
    Job(tag, 18, lambda made: abs(made.shapes(Motif)[0].width - 60 * made.times) < 0.01),
    Job(
        fob,
        12,
        lambda made: (
            [hole.width for hole in made.shapes(Hole)] == [4]
            and [part.roles for part in made.pieces[0].parts if isinstance(part.shape, Words)]
            == [("engraves", "scores"), ("scores",)]
        ),
    ),
    Job(pennants, 16, lambda made: len(made.pieces) > 2 and made.kinds.count("hole") == 2),
    Job(coaster, 11, lambda made: "drawn" in made.kinds),
    Job(ornament, 11, lambda made: made.shapes(Words)[0].fit is not None),
    Job(keyring, 15, lambda made: len(made.shapes(Surround)[0].of) == 2),
    Job(platter, 14, lambda made: len(made.shapes(Words)) == 2 and "motif" in made.kinds),
    Job(marker, 18, lambda made: {"rectangle", "words", "spike", "triangle"} == set(made.kinds)),
    Job(bookmark, 20, lambda made: resolve(made.pieces[0]).slits.length > 60 * made.times),
    Job(topper, 13, lambda made: "\n" in made.shapes(Words)[0].text),
    Job(stirrer, 14, lambda made: made.pieces[0].copies == 20),
    Job(stand, 16, lambda made: {"tabs", "lap"} <= set(made.kinds)),
    Job(bars, 8, lambda made: made.kinds.count("rectangle") == 2),
    Job(board, 18, lambda made: len(resolve(made.pieces[0]).outline.bodies[0].interiors) > 4 + 8),
)


def done(page: Page, job: Job, times: float = 1.0, words: dict[str, str] | None = None) -> tuple[int, Made, list[str]]:
    """A job at the page: its presses, what came of it, and what Check found."""
    maker = Hands(page, times, words)
    new_project(maker)
    job.do(maker)
    free(page)
    made = Made(design_of(page).pieces, times)
    maker.follow("Check")
    expect(page.locator(".finding, .panel h2").first).to_be_visible()
    return maker.actions, made, page.locator(".finding .what").all_inner_texts()
