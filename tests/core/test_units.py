import re

import pytest

from rhytonic.core.units import BadExpression, parse_length, parse_number


@pytest.mark.parametrize("text, unit, value", [
    ("12.5", "cm", 12.5), ("12,5", "cm", 12.5), ("12 cm + 3 mm", "cm", 12.3), ("12 cm + 3 mm", "mm", 123), ("1 1/2 in", "in", 1.5),
    ("1 1/2 in", "mm", 38.1), ("1/2 in", "mm", 12.7), ("1/2", "m", 0.5), ("5 ft 3 in", "in", 63), ("5' 3\"", "in", 63),
    ("2 * 3 cm", "mm", 60), ("(1 cm + 2 cm) / 2", "cm", 1.5), ("-3", "cm", -3), ("−3 mm", "cm", -0.3),
    ("1 m - 20 cm", "cm", 80), ("3 + 2 mm", "cm", 3.2), ("2×4", "cm", 8), (".5", "m", 0.5), ("1e2 mm", "m", 0.1)])
def test_lengths(text, unit, value):
    assert parse_length(text, unit) == pytest.approx(value, abs=1e-12)


@pytest.mark.parametrize("text", ["", "  ", "abc", "3 km", "1 +", "2 cm * 3 cm", "1 / 0", "1 cm / 2 mm * 1 cm * 1 cm", "9" * 400,
                                  "__import__('os')", "1;2", "1e999", "2 ** 2", "(((", "1 cm cm", "x" * 300, "16 45 15", "1 2", "5 ft 3", "2 3 cm"])
def test_what_cannot_be_read_says_what_would_work(text):
    with pytest.raises(BadExpression):
        parse_length(text, "cm")


@pytest.mark.parametrize("text, value", [("12", 12), ("3*8", 24), ("1/2", 0.5), ("0,5", 0.5), ("−7.25", -7.25), ("360/16", 22.5),
                                         ("1 1/2", 1.5), ("1 m / 20 cm", 5)])
def test_plain_numbers(text, value):
    assert parse_number(text) == pytest.approx(value, abs=1e-12)


@pytest.mark.parametrize("text, told", [("12 cm", "a plain number is asked for"), ("2 apples", "at 'apples'"), ("1/0", "divides by zero"),
                                        ("1e999", "too large"), ("2 cm * 3 cm", "cannot be read"), ("", "such as"), ("2*(3", "cannot be read")])
def test_what_is_no_plain_number_says_what_would_work(text, told):
    with pytest.raises(BadExpression, match=re.escape(told)):
        parse_number(text)


@pytest.mark.parametrize("text", ["0", "7", "-3", "12.5", "12,5", "0.1", "-0,25", "123456789.125"])
def test_a_number_by_itself_is_what_any_reader_takes_it_for(text):
    """Interfaces read these without asking."""
    assert parse_number(text) == parse_length(text, "in") == float(text.replace(",", "."))
