"""What makers type into a value."""

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from foliant.core.errors import Refused
from foliant.core.units import format_duration, format_length, parse_length, parse_number


@pytest.mark.parametrize(
    ("typed", "millimetres"),
    [
        ("72", 72),
        (" 72 mm ", 72),
        ("1 3/8in", 34.925),
        ('1 3/8"', 34.925),
        ("3/8 in", 9.525),
        ("25.4/2 mm", 12.7),
        ("2*3in", 152.4),
        ("1ft 2in", 355.6),
        ("1in + 2mm", 27.4),
        ("(1+2) cm", 30),
        ("3,5", 3.5),
        ("-4", -4),
        (".5 cm", 5),
        ("100 - 2*14", 72),
    ],
)
def test_lengths_read_as_meant(typed: str, millimetres: float) -> None:
    assert parse_length(typed) == pytest.approx(millimetres)


def test_a_bare_number_takes_the_projects_unit() -> None:
    assert parse_length("1 3/8", "in") == pytest.approx(34.925)
    assert parse_length("10 mm", "in") == pytest.approx(10)


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ("12 parsecs", "not a unit"),
        ("", "Type a value"),
        ("1/0", "divides by zero"),
        ("72+", "stops too early"),
        ("2mm*3mm", "area"),
        ("1in + 2", "bare number"),
        ("nan", "not a unit"),
        ("7 7", "because of"),
        ("1e99999", "not a"),
        ("__import__('os')", "not"),
        ("9" * 400, "finite"),
        ("99999", "longer than 10 m"),
        ("(" * 200, "too long"),
    ],
)
def test_what_cannot_be_read_is_refused_with_a_sentence(typed: str, says: str) -> None:
    with pytest.raises(Refused) as refused:
        parse_length(typed)
    assert says in str(refused.value)
    assert str(refused.value).endswith(".")


@given(st.text(max_size=40))
def test_any_text_is_a_length_or_a_sentence(typed: str) -> None:
    with suppress(Refused):
        assert abs(parse_length(typed)) <= 10_000


@given(st.floats(-5000, 5000), st.sampled_from(["mm", "in"]))
def test_what_is_shown_reads_back_as_itself(millimetres: float, unit: str) -> None:
    shown = format_length(millimetres, unit)  # type: ignore[arg-type]
    assert parse_length(shown) == pytest.approx(millimetres, abs=0.0128 if unit == "in" else 0.0051)


def test_numbers_with_their_suffix() -> None:
    assert parse_number("85 %", ("%",)) == 85
    assert parse_number("6mm/s", ("mm/s",)) == 6


def test_durations() -> None:
    assert [format_duration(s) for s in (0.4, 46, 1120, 3725)] == ["0:00", "0:46", "18:40", "1:02:05"]
