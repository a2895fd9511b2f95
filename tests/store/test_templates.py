"""Templates: what ships fills, what is hostile neither leaves its box nor hangs, and the window shows what comes of each key."""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

import pytest

from urban_mule.desk.frame.templates_window import TemplatesWindow
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.template_data import template_data
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.templates import templates
from urban_mule.store.templates.templates import PATIENCE, fill, keep_template, own_templates, shipped_templates
from urban_mule.store.text_files import BadFile

HOSTILE = {
    '{{ "".__class__.__mro__ }}': "unsafe", "{{ project.upper.__globals__ }}": "no attribute",
    "{% for i in range(10**9) %}x{% endfor %}": "'range' is undefined", '{% set x = "a" * 10**9 %}{{ x }}': "memory",
    '{% import "os" as os %}': "no loader", '{% include "/etc/passwd" %}': "no loader", "{{ nosuch }}": "'nosuch' is undefined",
    "{% for %}": "line 1", "{% for a in 'x' * 99999 %}{% for b in 'x' * 99999 %}y{% endfor %}{% endfor %}": "more than 1000000",
    "{% macro f() %}{{ f() }}{% endmacro %}{{ f() }}": "recursion", "{{ 1 / 0 }}": "ZeroDivisionError",
    "{% for a in 'x' * 9999 %}{% for b in 'x' * 9999 %}{% for c in 'x' * 9999 %}{% endfor %}{% endfor %}{% endfor %}":
    "too long|does not end",
}


@pytest.fixture(autouse=True)
def _own_folder(monkeypatch: Any, tmp_path: Path) -> None:
    monkeypatch.setattr(templates, "own_folder", lambda: tmp_path / "templates")


@pytest.mark.parametrize("template", HOSTILE)
def test_hostile_templates_are_a_sentence_within_seconds(template: str) -> None:
    began = time.monotonic()
    with pytest.raises(BadFile, match=HOSTILE[template]) as why:
        fill(template, {"project": "p", "axes": []})
    assert time.monotonic() - began < PATIENCE + 2 and "\n" not in str(why.value) and "Traceback" not in str(why.value)


def test_what_ships_fills_with_the_demo_and_mine_are_kept(demo_copy: Path, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    data = template_data(window.session)
    made = {name: fill(text, data) for name, text in shipped_templates().items()}
    assert "X_steps_per_unit = 44.44" in made["settings"] and "Axis X" in made["plain words"]
    assert made["correction table"].count("\n") > 8 and "go X " in made["moves of a run"]
    box = TemplatesWindow(window.session, window)
    box.show()
    box.which.setCurrentIndex(box.which.findText("settings"))
    box._choose()
    qtbot.waitUntil(lambda: "X_steps_per_unit" in box.preview.toPlainText(), timeout=10_000)
    assert "practice project" in box.said.text()
    box.text.setPlainText("{% for axis in axes %}{{ axis.nam }}{% endfor %}")
    qtbot.waitUntil(lambda: "has no attribute 'nam'" in box.said.text(), timeout=10_000)
    assert "X_steps_per_unit" in box.preview.toPlainText(), "the former preview stays"
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
