"""Any controller's way of writing its settings down: what one example of each setting teaches reads every value of every axis."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from urban_mule.store.listing import Pattern, Rule, as_held, lines_of, numbers_in, read_listing, taught, units_for
from urban_mule.store.settings import SettingRow

AXES = ("X", "Y", "Z", "C", "Across")
NAMES = ("microsteps", "steps_per_unit", "top_speed", "backlash")
WORDS = {"microsteps": "micro", "steps_per_unit": "steps a mm", "top_speed": "fastest", "backlash": "play"}
Values = dict[tuple[str, str], str]  # axis and setting: the number as it is written


def in_sections(values: Values) -> str:
    made = ["; written by the board", ""]
    for axis in AXES:
        made.append(f"§ motor {axis.lower()}")
        made += [f"{n:02} | {WORDS[name]} | {values[axis, name]} | as set" for n, name in enumerate(NAMES)]
        made.append("")
    return "\n".join([*made, "§ tool", "00 | micro | 3 | as set"])


def one_a_line(values: Values) -> str:
    return "\n".join(f"{axis.lower()}.{WORDS[name]} = {values[axis, name]}" for name in NAMES for axis in AXES)


def side_by_side(values: Values) -> str:
    return "\n".join(f"{WORDS[name]} " + " ".join(f"{axis}{values[axis, name]}" for axis in AXES) for name in NAMES)


def in_words(values: Values) -> str:
    return "\n".join(f"The axis {axis} has as its {WORDS[name]} the value {values[axis, name]} since 2026"
                     for axis in AXES for name in NAMES)


def line_with(text: str, axis: str, name: str, number: str) -> tuple[int, int]:
    """The number of an axis and a setting: in the line that names both, or beneath the heading that names the axis."""
    beneath = ""
    for place, line in enumerate(lines_of(text)):
        if line.startswith("§"):
            beneath = line.removeprefix("§ motor ")
        if WORDS[name] not in line:
            continue
        if line.startswith(WORDS[name] + " "):  # all axes side by side
            return place, line.index(f"{axis}{number}") + len(axis) + (number[0] in "+-")
        if axis.lower() == beneath or line.lower().startswith((f"{axis.lower()}.", f"the axis {axis.lower()} ")):
            after = line.index(WORDS[name]) + len(WORDS[name])
            return place, line.index(number, after) + (number[0] in "+-")
    raise AssertionError((axis, name))


WAYS = {"sections": in_sections, "a line each": one_a_line, "side by side": side_by_side, "in words": in_words}
NUMBER = st.one_of(st.integers(0, 9999).map(str), st.floats(-999, 999).map(lambda value: f"{value:.3f}"))
ROWS = {axis: [SettingRow(name, name, 1.0, ()) for name in NAMES] for axis in AXES}


@pytest.mark.parametrize("way", WAYS)
@settings(max_examples=25, deadline=None)
@given(data=st.data())
def test_one_example_of_each_setting_reads_all_of_it(way: str, data: st.DataObject) -> None:
    values = {(axis, name): data.draw(NUMBER) for axis in AXES for name in NAMES}
    text = WAYS[way](values)
    shown = data.draw(st.sampled_from(AXES))
    rules = []
    for name in NAMES:
        place, at = line_with(text, shown, name, values[shown, name])
        rules.append(taught(lines_of(text), place, at, name, shown))
    found = read_listing(Pattern("any", tuple(rules)), lines_of(text), ROWS, {})
    told = {(one.axis, one.setting): one.value for one in found}
    assert told == {key: pytest.approx(float(number)) for key, number in values.items()}, rules
    lines = lines_of(text)
    assert all(any(float(lines[one.line - 1][begin:end]) == pytest.approx(one.value)
                   for begin, end in numbers_in(lines[one.line - 1])) for one in found), "each is named with its line"


@settings(max_examples=60, deadline=None)
@given(st.floats(1e-6, 1e6), st.sampled_from(["m", "m/s", "m/s²", "A", "rad/s", "s"]))
def test_every_unit_that_is_offered_leads_to_the_same_value(value: float, held: str) -> None:
    found = set()
    for unit in units_for("backlash", held):
        one = as_held("1", unit, held)
        found.add(round(as_held(f"{value / one:.12g}", unit, held) / value, 6))
    assert found == {1.0} and len(units_for("backlash", held)) >= 2


@settings(max_examples=80, deadline=None)
@given(st.floats(-1e6, 1e6), st.sampled_from(["point", "comma"]))
def test_a_number_is_read_as_it_was_written_by_either_sign(value: float, decimal: str) -> None:
    written = f"{value:.4f}".replace(".", "," if decimal == "comma" else ".")
    line = f"before {written} behind"
    begin, end = numbers_in(line, decimal)[0]
    assert line[begin:end] == written and as_held(written, "", "", decimal) == pytest.approx(round(value, 4))


@given(st.integers(1, 10**9))
def test_a_register_in_sixteens_is_its_number(value: int) -> None:
    assert as_held(hex(value), "", "") == value and numbers_in(f"REG {hex(value)} end") == [(4, 4 + len(hex(value)))]


def test_the_last_line_that_says_a_value_counts_and_a_setting_that_no_axis_has_is_passed_by() -> None:
    text = lines_of("X micro 8\nX micro 16\nQ micro 4\nX unknown 3")
    rules = (Rule("microsteps", "{axis} micro {number}"), Rule("no_such", "{axis} unknown {number}"))
    found = read_listing(Pattern("p", rules), text, ROWS, {})
    assert [(one.axis, one.value, one.line) for one in found] == [("X", 16.0, 2)]
