"""How smoothly the page draws while something goes on, by its own frame times."""

import statistics
from collections.abc import Callable

import numpy as np
from playwright.sync_api import Page, expect

Row = Callable[[str, str, str, str, str, bool], None]

FRAMES = """() => {
  window.frames_ = [];
  let last = performance.now();
  const next = () => {
    const now = performance.now();
    window.frames_.push(now - last);
    last = now;
    requestAnimationFrame(next);
  };
  requestAnimationFrame(next);
}"""

EDITS = """async ([project, edits]) => {
  const token = document.cookie.match(/csrftoken=([^;]*)/)[1];
  const headers = {"Content-Type": "application/json", "X-CSRFToken": token};
  const send = async (method, path, body) =>
    (await fetch(`/api/projects/${project}${path}`, {method, headers, body: body && JSON.stringify(body)})).json();
  let state = await send("GET", "");
  for (const edit of edits) {
    state = await send("POST", "/edits", {revision: state.revision, edit});
    if (!state.revision) throw new Error(JSON.stringify(state));
  }
}"""


def frames(page: Page, doing: Callable[[], None]) -> list[float]:
    """How long the page's frames took, ms, while something was done."""
    page.evaluate("frames_.splice(0)")
    doing()
    taken: list[float] = page.evaluate("frames_.splice(0)")[5:]
    return taken


def told(row: Row, what: str, bound: float, idle: list[float], taken: list[float]) -> None:
    """A row of frames a second beside those of the same page at rest."""
    ours, still = 1000 / statistics.mean(taken), 1000 / statistics.mean(idle)
    late = f"p95 {np.percentile(taken, 95):.0f} ms"
    row(what, f"{ours:.0f} fps", f"idle {still:.0f} fps", late, f"{bound:g} fps", ours > bound)


def sheet_of(page: Page, address: str, count: int) -> None:
    """The Sheet station of a new project of so many small tags on one large sheet."""
    page.goto(address)
    page.get_by_role("button", name="New project").click()
    page.wait_for_url("**/shape/**")
    project = page.url.split("/projects/")[1].split("/")[0]
    edits = [
        {"do": "change", "of": "stock", "values": {"width": 800, "height": 600}},
        {"do": "add-part", "piece": "p1", "kind": "rectangle", "values": {"width": 24, "height": 14}},
        {"do": "add-part", "piece": "p1", "kind": "hole", "values": {"width": 3, "height": 3}, "x": 4, "y": 7},
        {"do": "change", "of": "piece p1", "values": {"copies": count}},
    ]
    page.evaluate(EDITS, [project, edits])
    page.goto(f"{address}/projects/{project}/sheet/")
    expect(page.locator("[data-instance]")).to_have_count(count, timeout=60_000)
    page.wait_for_timeout(4000)
    page.evaluate(FRAMES)


def dragged_among_many(row: Row, page: Page, address: str) -> None:
    """One of 500 dragged about on the sheet for two seconds."""
    sheet_of(page, address, 500)
    idle = frames(page, lambda: page.wait_for_timeout(1000))
    box = page.locator("[data-instance]").nth(260).bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def drag() -> None:
        page.mouse.move(x, y)
        page.mouse.down()
        for i in range(150):
            page.mouse.move(x + 90 * np.sin(i / 9), y + 60 * np.sin(i / 13))
            page.wait_for_timeout(10)

    taken = frames(page, drag)
    page.mouse.up()
    told(row, "one of 500 dragged on the sheet", 50, idle, taken)


def packed_beside_the_page(row: Row, page: Page, address: str) -> None:
    """300 packed by a worker, the page watching."""
    sheet_of(page, address, 300)
    idle = frames(page, lambda: page.wait_for_timeout(1000))

    def pack() -> None:
        page.get_by_role("button", name="Pack close together").click()
        page.wait_for_timeout(8000)

    taken = frames(page, pack)
    page.get_by_role("button", name="This will do").click()
    told(row, "the page while 300 are packed", 55, idle, taken)
