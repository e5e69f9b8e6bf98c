"""A share of the whole jobs whose presses `make presses` counts, and what ready pieces take instead."""

import pytest
from playwright.sync_api import Page, expect

from foliant.core.design.shapes import Words
from tests.journeys.acting import Maker, design_of
from tests.presses.jobs import JOBS, Job, done, from_starter

pytestmark = pytest.mark.journey

SHARE = {"fob", "pennants", "topper", "stand"}
OTHERS = {"platter": (0.6, {"Quillmoor": "Ada", "open night": "2 to 9"}), "keyring": (1.7, {"Orrin": "Bartholomew"})}
"""Jobs that are done with other sizes and words."""


@pytest.mark.parametrize("job", [job for job in JOBS if job.name in SHARE | set(OTHERS)], ids=lambda job: job.name)
def test_a_job_takes_few_presses_and_comes_clean(page: Page, job: Job) -> None:
    presses, made, findings = done(page, job, *OTHERS.get(job.name, ()))
    assert findings == []
    assert presses <= job.most
    assert made.is_whole()
    assert job.meant(made)


def test_a_starter_takes_a_third_of_the_presses(page: Page) -> None:
    """Of what its job takes. That each comes clean with any words is a test of the core."""
    maker = Maker(page)
    from_starter(maker, "Round lettering", "Quillmoor", "open night")
    assert maker.actions <= 4
    shapes = [part.shape for piece in design_of(page).pieces for part in piece.parts]
    assert [shape.text for shape in shapes if isinstance(shape, Words)] == ["Quillmoor", "open night"]
    maker.follow("Check")
    expect(page.get_by_role("heading", name="Nothing to look at")).to_be_visible()
