"""A share of the varied jobs (`make jobs`): what was typed is measured, and what a maker would notice is found."""

import pytest

from tests.jobs.drawing import drawn
from tests.jobs.judging import Verdict, judged

LATER = {"what_fits_is_laid", "check_is_right"}
"""Judges that still find something in jobs that come out of a hat; `make jobs` counts it."""


@pytest.mark.parametrize("seed", range(12))
def test_a_job_of_any_size_and_any_words_is_right(seed: int) -> None:
    assert [verdict for verdict in judged(drawn(seed)) if verdict.judge not in LATER] == []


def test_what_is_wrong_is_judged_wrong() -> None:
    """The judges see what they are there for: one job, spoilt in four ways."""
    doing = drawn(0)
    doing.claim("a width", 70, lambda piece: 78.2)
    doing.listed = ["Ysolde"]
    found = {verdict.judge for verdict in judged(doing)}
    assert {"what_was_typed_is_measured", "a_list_is_called_by_its_names"} <= found
    assert Verdict("what_was_typed_is_measured", "a width: 70.00 typed, 78.20 measured") in judged(doing)
