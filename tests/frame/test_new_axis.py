"""The first dialog: each number in the unit that stands beside it, and what is far off is asked about once."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from urban_mule.desk.app import application, blank_project
from urban_mule.desk.frame.new_axis import NewAxis
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.store.file.project_file import ProjectFile


@pytest.fixture
def window(tmp_path: Path, qtbot: Any) -> Window:
    application()
    found = Window(Session(ProjectFile.create(tmp_path / "new.mule", blank_project("Lantern rail"))), "Brief")
    qtbot.addWidget(found)
    found.show()
    return found


@pytest.mark.parametrize(("system", "labels", "expected"), [
    ("metric", ("travel, mm", "speed, m/s", "acceleration, m/s²"), (0.4, 0.5, 2.0)),
    ("inch", ("travel, in", "speed, in/min", "acceleration, in/s²"), (400 * 0.0254, 0.5 * 0.0254 / 60, 2 * 0.0254))])
def test_a_number_without_a_unit_is_read_in_the_one_beside_it(
        window: Window, system: str, labels: tuple[str, ...], expected: tuple[float, ...]) -> None:
    window.session.edit(("unit_system",), system)
    dialog = NewAxis(window.session, window)
    dialog.name.setText("L")
    assert tuple(label.text() for label in dialog.fast_labels) == labels
    assert dialog.size_labels[0].text() == f"lead, {'mm' if system == 'metric' else 'in'}"
    for line, text in ((dialog.travel, "400"), (dialog.speed, "0.5"), (dialog.acceleration, "2")):
        line.setText(text)
    dialog.accept()
    axis = window.session.axis
    assert (axis.travel, axis.speed_wanted, axis.acceleration_wanted) == pytest.approx(expected)


def test_two_hundred_metres_a_second_are_asked_about_once_and_kept_if_meant(window: Window) -> None:
    dialog = NewAxis(window.session, window)
    dialog.name.setText("L")
    dialog.speed.setText("200")
    dialog.accept()
    assert "200 m/s is far beyond" in dialog.fault.text() and "200 mm/s" in dialog.fault.text()
    assert all(axis.name != "L" for axis in window.session.project.axes)
    dialog.speed.setText("200 mm/s")
    dialog.accept()
    assert window.session.axis.speed_wanted == pytest.approx(0.2)
    again = NewAxis(window.session, window)
    again.name.setText("M")
    again.speed.setText("200")
    again.accept()
    again.accept()
    assert window.session.axis.name == "M" and window.session.axis.speed_wanted == 200.0, "asked once, then kept"
