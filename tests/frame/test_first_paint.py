"""The window stands before the other axes are computed, and says so; nobody is given a number that is not there yet."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.desk.app import application
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.stack import Stack
from urban_mule.desk.model.session import Session
from urban_mule.desk.walk import settle
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.state.machine import Machine

pytestmark = pytest.mark.every_axis


def _solved(machine: Machine) -> list[bool]:
    return [one.is_solved for one in machine.subjects]


def test_the_shown_axis_stands_first_and_the_others_follow(demo_copy: Path, qtbot: Any) -> None:
    application()
    session = Session(ProjectFile.open(demo_copy))
    assert _solved(session.machine) == [True, *[False] * (len(session.machine.subjects) - 1)]
    window = Window(session)
    qtbot.addWidget(window)
    window.show()
    others = [*window.plates.plates[1:], *window.plates.others]
    assert others and all("computing" in plate.accessibleName() for plate in others)
    assert "computing" not in window.plates.plates[0].accessibleName()
    assert window.grab().width() >= 1024 and not any(_solved(session.machine)[1:]), "to paint asks for no other axis"
    assert session.analysing and not session.together_verdicts
    told: list[frozenset[str]] = []
    session.changed.connect(told.append)
    settle(session)
    assert all(_solved(session.machine)) and session.together_verdicts
    assert not any("computing" in plate.accessibleName() for plate in others)
    assert any("supply_power_needed" in names for names in told), "what belongs to all axes is told once it is known"
    window.close()


def test_who_asks_for_another_axis_before_gets_its_numbers_at_once(demo_copy: Path, qtbot: Any) -> None:
    application()
    session = Session(ProjectFile.open(demo_copy))
    second = session.project.axes[1]
    assert not session.is_known(second)
    margin = session.solution_of(second)["working_margin"]
    assert session.is_known(second) and session.state_of(second).solution["working_margin"] == margin
    session.show_axis(1)
    assert session.solution["working_margin"] == margin and session.together["supply_power_needed"] > 0
    session.edit(session.axis_path("moving_mass"), 3.0)
    assert session.solution["working_margin"] != margin, "an edit before the others are there is an edit"
    settle(session)
    assert all(_solved(session.machine))
    session.close()


def test_a_spindle_beside_a_single_axis_is_computed_too(demo_copy: Path, qtbot: Any) -> None:
    application()
    session = Session(ProjectFile.open(demo_copy))
    session.edit(("axes",), session.project.axes[:1])
    window = Window(session)
    qtbot.addWidget(window)
    window.show()
    settle(session)
    assert window.plates.others and "computing" not in window.plates.others[0].accessibleName()
    window.close()


def test_a_stack_is_as_large_as_the_page_that_is_seen(qtbot: Any) -> None:
    application()
    stack, small, large = Stack(), QWidget(), QWidget()
    qtbot.addWidget(stack)
    for page, size in ((small, 40), (large, 900)):
        box = QVBoxLayout(page)
        inside = QWidget()
        inside.setMinimumSize(size, size)
        box.addWidget(inside)
        stack.addWidget(page)
    assert stack.minimumSizeHint() == small.minimumSizeHint() and stack.minimumSizeHint().width() < 100
    stack.setCurrentWidget(large)
    assert stack.minimumSizeHint() == large.minimumSizeHint() and stack.sizeHint() == large.sizeHint()
    assert not stack.hasHeightForWidth()
