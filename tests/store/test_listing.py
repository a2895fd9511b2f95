"""A controller's listing: one example teaches all axes, hostile patterns do no harm, and the window puts it all down."""

from __future__ import annotations

import json
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.driving import leaf_of, set_all
from tests.places import whose

from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.frame.listing_window import ListingWindow
from urban_mule.store import listing
from urban_mule.store.file.project_file import ProjectFile, Where
from urban_mule.store.listing import Pattern, Rule, lines_of, pattern_from, read_listing, taught, taught_and_read
from urban_mule.store.settings import SettingRow

pytestmark = pytest.mark.every_axis

ROWS = {axis: [SettingRow(name, name, 1.0, ()) for name in ("microsteps", "steps_per_unit", "top_speed")] for axis in "XYZ"}
HELD = {axis: {"top_speed": "m/s"} for axis in "XYZ"}
IN_PARTS = """table of today
§ drive x
01 | microsteps | 16
§ drive x1
01 | microsteps | 8
§ drive y
 01|microsteps|32
§ tool
01 | microsteps | 99"""


@pytest.fixture(autouse=True)
def _own_folder(monkeypatch: Any, tmp_path: Path) -> None:
    monkeypatch.setattr(listing, "folder", lambda: tmp_path / "listings")


def values(text: str, rules: Sequence[Rule], decimal: str = "point") -> dict[str, float]:
    found = read_listing(Pattern("mine", tuple(rules), decimal), lines_of(text), ROWS, HELD)
    return {f"{one.axis}{'2' if one.follower else ''} {one.setting}": one.value for one in found}


@pytest.mark.parametrize(("text", "place", "at", "asked", "read"), [
    (IN_PARTS, 2, 18, {}, {"X microsteps": 16, "Y microsteps": 32}),
    (IN_PARTS, 4, 18, {"follower": True}, {"X2 microsteps": 8}),
    ("Steps X80.50 Y40 Z-400.0", 0, 9, {}, {"X microsteps": 80.5, "Y microsteps": 40, "Z microsteps": -400}),
    ("x.steps = 5\nextra.steps = 7\nY.steps   =   6.", 0, 10, {}, {"X microsteps": 5, "Y microsteps": 6}),
    ("§ x\n100 | 1.5\n101 | 2.5", 1, 7, {"alone": True}, {"X microsteps": 1.5}),
    ("axis X 3: 4,5\naxis Z 9: 1,25", 0, 11, {"decimal": "comma"}, {"X microsteps": 4.5, "Z microsteps": 1.25}),
    ("X: 0x1F; 7", 0, 4, {}, {"X microsteps": 31}),
    ("X 2 of 3 = 7 8 9\nY 5 of 6 = 1", 0, 11, {}, {"X microsteps": 7, "Y microsteps": 1}),
])
def test_one_example_teaches_every_axis(text: str, place: int, at: int, asked: dict[str, Any], read: dict[str, float]) -> None:
    rule = taught(lines_of(text), place, at, "microsteps", "X", **asked)
    assert values(text, [rule], asked.get("decimal", "point")) == read
    again = pattern_from(json.loads(json.dumps({"rules": [vars(rule)], "decimal": asked.get("decimal", "point")})), "again")
    assert again.rules == (rule,)


def test_units_are_brought_to_those_of_the_tag_and_a_step_may_be_said_as_a_length() -> None:
    text = "X fast 36000\nX step 0.0225"
    rules = [taught(lines_of(text), 0, 8, "top_speed", "X", "mm/min"),
             taught(lines_of(text), 1, 8, "steps_per_unit", "X", "travel a step")]
    assert values(text, rules) == pytest.approx({"X top_speed": 0.6, "X steps_per_unit": 44.4444}, rel=1e-5)
    with pytest.raises(BadValue, match="kg"):
        values(text, [taught(lines_of(text), 0, 8, "top_speed", "X", "kg")])
    with pytest.raises(BadValue, match="no number"):
        taught(lines_of(text), 0, 2, "top_speed", "X")


REGISTERS = ["R[0x10]=0x0010 ; X microsteps", "R[0x11]=0x0003 ; X current step", "R[0x20]=0x0008 ; Y microsteps"]


def test_the_taught_number_comes_back_on_the_taught_line_or_the_pattern_is_refused() -> None:
    """The x of a register is no axis; a rule that reads another line than the one pointed at is not kept."""
    rule = taught_and_read(REGISTERS, 0, 11, "microsteps", "X", axes="XYZ")
    found = read_listing(Pattern("p", (rule,)), REGISTERS, ROWS, HELD)
    assert [(one.axis, one.value, one.line) for one in found] == [("X", 16.0, 1)], "and not 8 of line 3"
    twice = ["x 5", "gap", "x 7"]
    with pytest.raises(BadValue, match="read in line 3, not as 5 in line 1"):
        taught_and_read(twice, 0, 2, "microsteps", "X", axes="XYZ")
    assert taught_and_read(twice, 2, 2, "microsteps", "X", axes="XYZ").line == "{axis} {number}"


@settings(max_examples=60, deadline=None)
@given(st.text(alphabet="XYZxyz0123456789.,=:[]{}()*+?|\\^$ ;-e\n", max_size=300), st.integers(0, 300))
def test_whatever_is_pasted_is_refused_or_reads_the_number_that_was_pointed_at(text: str, at: int) -> None:
    lines = lines_of(text)
    for place in range(len(lines)):
        try:
            rule = taught_and_read(lines, place, at, "microsteps", "X", axes="XYZ")
        except BadValue:
            continue
        found = read_listing(Pattern("p", (rule,)), [*lines], ROWS, HELD)
        assert [one.line for one in found if one.axis == "X"] == [place + 1], (rule, lines[place])


def test_patterns_that_would_take_for_ever_are_refused(tmp_path: Path) -> None:
    for line in ("{…}" * 30 + "{number}", "{other}" * 30 + "{number}", "no hole", "{number}{number}", 7):
        with pytest.raises(BadValue):
            pattern_from({"rules": [{"setting": "microsteps", "line": line}]}, "bad")
    began = time.monotonic()
    rule = Rule("microsteps", "{…}{axis}{number}")
    read_listing(Pattern("p", (rule,)), ["X" * 2000] * 200, ROWS, HELD)
    assert time.monotonic() - began < 5
    (tmp_path / "listings").mkdir()
    (tmp_path / "listings" / "bad.json").write_text("[" * 9000, encoding="utf-8")
    assert listing.own_patterns() == {}


def test_a_listing_is_taught_in_the_window_put_down_and_what_a_reset_loses_is_said(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Scale", "chain")
    set_all(window, stored=False)
    lost = {row.name for row in window.tag.rows if row.at_reset}
    assert "top_acceleration" in lost and "switches" not in lost and "after a reset" in window.tag.count.text()
    text = ("§ x\n1 | steps per mm | 40\n2 | fast | 36000\n§ y\n1 | steps per mm | 69.4494\n2 | fast | 9\n")
    opened = ListingWindow(window.session, text, "boards.log", window)
    opened.show()

    def teach(line: int, at: int, setting: str, unit: str) -> None:
        document, cursor = opened.text.document(), opened.text.textCursor()
        assert document is not None
        cursor.setPosition(document.findBlockByNumber(line).position() + at)
        opened.text.setTextCursor(cursor)
        opened.setting.setCurrentIndex(opened.setting.findData(setting))
        opened._setting_chosen()
        opened.unit.setCurrentText(unit)
        opened.teach.click()

    teach(1, 20, "steps_per_unit", "per mm")
    teach(2, 12, "top_speed", "mm/min")
    qtbot.waitUntil(lambda: len(opened.read.source.rows) == 4, timeout=10_000)
    told = {row[0]: row[1:4] for row in opened.read.source.rows}
    assert told["≠ X: steps per mm"] == ("40", "44.4444", "44.4444") and told["X: top speed"][0] == "0.6 m/s"
    assert told["Y: steps per mm"][0] == "69.4494" and "differ from what is computed" in opened.said.text()
    opened.put.click()
    row = next(row for row in window.tag.rows if row.name == "steps_per_unit")
    assert row.on_machine == "on the machine: 40" and row.reason.endswith("from boards.log") and not row.at_reset
    with_file = ProjectFile.open(demo_copy)
    assert with_file.applied()[Where(whose(with_file, "Y"))]["top_speed"].value == pytest.approx(9 / 60e3)
    assert [e.text for e in with_file.entries() if "boards.log" in e.text][-1] == "Read from boards.log: steps per unit, top speed."
    with_file.close()
    again = ListingWindow(window.session, text.replace("40", "44.4444"), "", window)
    again.look()
    qtbot.waitUntil(lambda: again.which.currentText() == "my controller" and len(again.found) == 4, timeout=10_000)
    window.close()


def test_a_pattern_of_ones_own_that_is_none_is_left_out() -> None:
    for wrong in (["point"], {"a": 1}, None, 5):
        with pytest.raises(BadValue):
            pattern_from({"rules": [], "decimal": wrong}, "mine")


def test_no_pattern_makes_a_line_of_digits_take_for_ever() -> None:
    """Twelve numbers before the axis teach twelve holes: 28 digits took 49 s before, 2000 would never have ended."""
    text = ["1 2 3 4 5 6 7 8 9 10 11 12 X=16", "9" * 2000, "1 " * 1000, "1.2,3" * 400, "12 X" * 500]
    rule = taught_and_read(text, 0, len(text[0]) - 1, "microsteps", "X")
    found = read_listing(Pattern("", (rule,)), text, ROWS, HELD)
    assert [(one.axis, one.value, one.line) for one in found] == [("X", 16.0, 1)]
    many = pattern_from({"rules": [{"setting": "microsteps", "line": "{other} " * 40 + "{…}{axis}={number}"}]}, "many")
    assert read_listing(many, text, ROWS, HELD) == []
    told = " ".join(str(n) for n in range(40)) + " and so on: y=8"
    assert [(one.axis, one.value) for one in read_listing(many, [*text, told], ROWS, HELD)] == [("Y", 8.0)]
