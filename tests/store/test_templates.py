"""Templates: what ships fills, what is hostile neither leaves its box nor hangs, and the window shows what comes of each key."""

from __future__ import annotations

import re
import time
from pathlib import Path
from typing import Any

import pytest

from urban_mule.desk.frame.templates_window import TemplatesWindow
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.template_data import template_data
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.listing import Pattern, lines_of, numbers_in, read_listing, taught_and_read
from urban_mule.store.settings import GAINS, follower_settings, settings_of
from urban_mule.store.templates import templates
from urban_mule.store.templates.templates import fill, keep_template, own_templates, shipped_templates
from urban_mule.store.text_files import BadFile

pytestmark = pytest.mark.every_axis

HOSTILE = {
    '{{ "".__class__.__mro__ }}': "unsafe", "{{ project.upper.__globals__ }}": "no attribute",
    "{% for i in range(10**9) %}x{% endfor %}": "'range' is undefined", '{% set x = "a" * 10**9 %}{{ x }}': "memory",
    '{% import "os" as os %}': "no loader", '{% include "/etc/passwd" %}': "no loader", "{{ nosuch }}": "'nosuch' is undefined",
    "{% for %}": "line 1", "{% for a in 'x' * 99999 %}{% for b in 'x' * 99999 %}y{% endfor %}{% endfor %}": "more than 1000000",
    "{% macro f() %}{{ f() }}{% endmacro %}{{ f() }}": "calls itself too deeply", "{{ 1 / 0 }}": "a division by nothing",
    "{% for a in 'x' * 9999 %}{% for b in 'x' * 9999 %}{% for c in 'x' * 9999 %}{% endfor %}{% endfor %}{% endfor %}":
    "too long|does not end",
}


@pytest.fixture(autouse=True)
def _own_folder(monkeypatch: Any, tmp_path: Path) -> None:
    monkeypatch.setattr(templates, "own_folder", lambda: tmp_path / "templates")


@pytest.mark.parametrize("template", HOSTILE)
def test_hostile_templates_are_a_sentence_within_seconds(template: str, monkeypatch: Any) -> None:
    if "does not end" in HOSTILE[template]:  # of the others none needs its time
        monkeypatch.setattr(templates, "PATIENCE", 1.0)
    began = time.monotonic()
    with pytest.raises(BadFile, match=HOSTILE[template]) as why:
        fill(template, {"project": "p", "axes": []})
    assert time.monotonic() - began < templates.PATIENCE + 2 and "\n" not in str(why.value) and "Traceback" not in str(why.value)


def test_what_ships_fills_with_the_demo_and_mine_are_kept(demo_copy: Path, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    data = template_data(window.session)
    made = {name: fill(text, data) for name, text in shipped_templates().items()}
    assert "X steps_per_unit = 44.4444 per mm" in made["settings"] and "Axis X" in made["plain words"]
    assert made["correction table"].count("\n") > 8 and "go X " in made["moves of a run"]
    box = TemplatesWindow(window.session, window)
    box.show()
    box.which.setCurrentIndex(box.which.findText("settings"))
    box._choose()
    qtbot.waitUntil(lambda: "X steps_per_unit" in box.preview.toPlainText(), timeout=10_000)
    assert "practice project" in box.said.text()
    box.text.setPlainText("{% for axis in axes %}{{ axis.nam }}{% endfor %}")
    qtbot.waitUntil(lambda: "has no attribute 'nam'" in box.said.text(), timeout=10_000)
    assert "X steps_per_unit" in box.preview.toPlainText(), "the former preview stays"
    box.write()
    assert "not written while something is wrong" in box.said.text()
    box.name.setText("../shop")
    box.text.setPlainText("{{ project }}!")
    box.keep()
    assert own_templates() == {"___shop": "{{ project }}!"} and box.which.currentText() == "___shop"
    assert keep_template("b", "x") == "b" and len(own_templates()) == 2
    with pytest.raises(BadFile, match="at most"):
        fill("x" * 200_000, {})
    box.close()
    window.close()


LINE = re.compile(r"^(?P<axis>[XYZCW])(?P<second>2?) (?P<name>\w+) = (?P<number>\S+) ?(?P<unit>.*)$")
UNITS = {"% ": "%", "A peak": "A", "A RMS": "A"}


def test_every_number_of_the_settings_is_read_back_as_the_tag_has_it(demo_copy: Path, qtbot: Any) -> None:
    """Each line names its unit; taught by its own number, the listing reader comes to the value of the tag, number by number."""
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    session = window.session
    lines = lines_of(fill(shipped_templates()["settings"], template_data(session)))
    rows = {(axis.name, False): settings_of(session.state_of(axis)) for axis in session.project.axes}
    rows |= {(axis.name, True): follower_settings(follower) for axis in session.project.axes
             if (follower := session.follower_of(axis)) is not None}
    assert ("Y", True) in rows
    read = 0
    for place, line in enumerate(lines):
        found = LINE.match(line)
        if found is None:
            assert not line or line.startswith(";"), line
            continue
        axis, follower = found["axis"], bool(found["second"])
        row = next((row for row in rows[axis, follower] if row.name == found["name"]), None)
        if row is None or not isinstance(row.value, (int, float)):
            continue
        assert len(re.sub(r"\D", "", found["number"]).strip("0")) <= 6, line
        unit = UNITS.get(found["unit"], found["unit"])
        typed = row.name == "steps_per_unit" or row.name in GAINS
        held = "" if typed else session.state_of(session.project.axis(axis)).sheet.unit(row.name)
        unit = unit if held or unit == "%" else ""
        rule = taught_and_read(lines, place, line.index(found["number"], line.index("=")), row.name, axis, unit, follower=follower,
                               axes=[one.name for one in session.project.axes])
        value = read_listing(Pattern("own", (rule,)), lines, {axis: [row]}, {axis: {row.name: held}})
        assert [one.value for one in value if one.line == place + 1] == [pytest.approx(row.value, rel=3e-3, abs=1e-7)], line
        read += 1
    assert read > 25


def test_the_numbers_of_tables_and_moves_are_those_of_the_data(demo_copy: Path, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    data = template_data(window.session)
    for name, wanted in (
            ("correction table", [(one["target"], one["correction"]) for axis in data["axes"] for one in axis["corrections"]
                                  if one["worth"]]),
            ("moves of a run", [(place,) for axis in data["axes"] for place in axis["moves"]])):
        lines = [line for line in fill(shipped_templates()[name], data).splitlines() if line and not line.startswith(";")]
        read = [tuple(float(line[begin:end]) for begin, end in numbers_in(line)) for line in lines]
        assert [one[-len(wanted[0]):] for one in read] == [pytest.approx(one, abs=6e-4) for one in wanted], name
        said = [line for line in fill(shipped_templates()[name], data).splitlines() if line.startswith(";")]
        heads = [line for line in said if not line.startswith("; repeats with")]
        assert heads and all(line.endswith(("mm", "°")) for line in heads), "one unit, said above the numbers"
        waves = [wave for axis in data["axes"] if axis["corrections"] for wave in axis["waves"]]
        assert name != "correction table" or len(said) - len(heads) == len(waves) > 0, "what repeats, beneath its table"
