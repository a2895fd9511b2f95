"""A newcomer's way: an empty window, one axis of each kind, nothing read but what stands on the screen."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QPushButton, QWidget
from tests.driving import choose, shown, type_in

from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.app import application, blank_project
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.field import Field
from urban_mule.desk.model.session import Session
from urban_mule.desk.stages.motor.stage import FIND
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import ProjectFile

KINDS = [pytest.param(motion, motor, train, marks=[] if train == (motor == "stepper") else [pytest.mark.long])
         for motion in ("linear", "rotary") for motor in ("stepper", "servo") for train in (False, True)]


def empty_window(qtbot: Any, path: Path, **axis: Any) -> Window:
    application()
    project = Project.model_validate({**dict(blank_project("Empty")), "axes": [{"name": "A", **axis}]})
    window = Window(Session(ProjectFile.create(path, project)))
    qtbot.addWidget(window)
    window.show()
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    return window


def reached() -> tuple[QWidget | None, Field | None]:
    """Where the cursor stands, and the field around it."""
    focused = here = QApplication.focusWidget()
    while here is not None and not isinstance(here, Field):
        here = here.parentWidget()
    return focused, here


@pytest.mark.parametrize(("motion", "motor", "train"), KINDS)
def test_every_missing_thing_is_named_and_leads_to_its_field(
    qtbot: Any, tmp_path: Path, motion: str, motor: str, train: bool
) -> None:
    links = [{"kind": "reduction"}, {"kind": "screw" if motion == "linear" else "direct"}] if train else []
    window = empty_window(qtbot, tmp_path / "empty.mule", motion=motion, motor={"kind": motor}, train=links)
    assert window.session.worst().level == "unknown", "nothing known is not good"  # type: ignore[union-attr]
    followed = set()
    for stage in STAGES:
        window.show_stage(stage)
        assert window.trail.level(stage) == "unknown", stage
        for name, words in window.stage.missing.links:
            window.show_stage(stage)
            window.stage.leaves.turn(window.stage.leaves.all_words[0])
            button = next(b for b in window.stage.missing.buttons if b.text() == words)
            button.click()
            focused, field = reached()
            if name.endswith("_reading"):
                assert isinstance(focused, QPushButton) and focused.text().startswith("Measure "), (stage, name)
            elif name in ("train", "cycle"):
                assert focused is not None and window.trail.stage == {"train": "Load", "cycle": "Moves"}[name], (stage, name)
                assert field is not None or isinstance(focused, QPushButton), (stage, name, focused)
            else:
                assert field is not None and field.name == name.rpartition(".")[2], (stage, name, focused)
            followed.add(name)
    of_train = {"train[0].ratio", *(("train[1].lead", "train[1].diameter", "train[1].length") if motion == "linear" else ())}
    of_load = {"cycle", "moving_mass" if motion == "linear" else "load_inertia"}
    assert {*of_load, *(of_train if train else {"train"}), "accuracy_wanted"} <= followed, followed
    window.close()


def test_following_the_links_alone_finishes_load_motor_and_drive(qtbot: Any, tmp_path: Path) -> None:
    """What is missing is typed where its link leads, until the stages say good, tight or short."""
    typed = {"moving_mass": "4", "holding_torque": "2.2", "rated_current": "3", "phase_resistance": "0.7",
             "phase_inductance": "2.4", "rotor_inertia": "0.5", "step_angle": "1.8",
             "supply_voltage": "48", "current_peak": "4", "current_limit": "6", "voltage_limit": "60",
             "supply_power": "600", "supply_capacitance": "10", "mains_voltage": "230", "circuit_rating": "10",
             "supply_efficiency": "85", "power_factor": "0.65", "standing_load": "10", "microsteps": "16",
             "thermal_resistance": "2", "max_pulse_rate": "100", "pitch": "5", "teeth": "20", "travel": "500",
             "accuracy_wanted": "100", "minimum_pulse_width": "2", "rated_force": "500", "speed_wanted": "0.3",
             "acceleration_wanted": "2"}
    window = empty_window(qtbot, tmp_path / "empty.mule", motor={"kind": "stepper"}, train=[])
    window.show_stage("Load")
    window.stage.missing.buttons[[n for n, _ in window.stage.missing.links].index("train")].click()
    focused, _ = reached()
    qtbot.mouseClick(focused, Qt.MouseButton.LeftButton)
    for name in ("pitch", "teeth"):
        _, field = reached()
        assert field is not None and field.name == name, "after inserting a link its first field has the focus"
        type_in(qtbot, field, typed[name])
        window.stage.begin_here()
    for stage in ("Load", "Motor", "Drive", "Moves", "Brief"):
        for _ in range(30):
            window.show_stage(stage)  # type: ignore[arg-type]
            links = [one for one in window.stage.missing.links if one[0] != FIND and not one[0].endswith("_reading")]
            leaves = window.stage.leaves
            if not links and leaves.word != leaves.all_words[0]:
                leaves.turn(leaves.all_words[0])
                continue
            if not links:
                break
            window.stage.missing.chosen.emit(links[0][0])
            _, field = reached()
            if links[0][0] == "cycle":
                focused, _ = reached()
                assert isinstance(focused, QPushButton) and focused.text() == "Add a move"
                qtbot.mouseClick(focused, Qt.MouseButton.LeftButton)
                _, field = reached()
                if field is not None and window.session.axis.cycle is None:
                    type_in(qtbot, field, typed[field.name])
            else:
                assert field is not None, links
                chosen = {"entry_is": "rms", "supply_kind": "linear"}.get(field.name)
                choose(field, chosen) if chosen else type_in(qtbot, field, typed[field.name])
    for stage in ("Load", "Motor", "Drive", "Moves"):
        window.show_stage(stage)  # type: ignore[arg-type]
        assert window.trail.level(stage) in ("good", "tight", "short"), (stage, window.stage.missing.links)  # type: ignore[arg-type]
        assert "Unfinished" not in window.stage.headline.text()
    window.show_stage("Motor")
    window.stage.leaves.turn("torque")
    assert "×" in shown(window, "working_margin")
    window.close()


def test_what_is_next_is_named_and_the_eye_is_led_to_the_number_when_the_last_is_filled_in(qtbot: Any, tmp_path: Path) -> None:
    screw = {"kind": "screw", "lead": 0.01, "diameter": 0.016}
    window = empty_window(qtbot, tmp_path / "next.mule", motor={"kind": "stepper"}, moving_mass=5.0, train=[screw],
                          cycle=[{"distance": 0.2, "speed": 0.2, "acceleration": 2.0}])
    window.show_stage("Motor")
    assert window.stage.headline.text() == "Next: length of the screw"
    assert window.stage.missing.links[1] == ("holding_torque", "Holding torque"), "what is looked up first stands first"
    qtbot.mouseClick(window.stage.missing.buttons[0], Qt.MouseButton.LeftButton)
    _, field = reached()
    assert field is not None and field.path[-2:] == (0, "length") and window.trail.stage == "Load"
    type_in(qtbot, field, "500")
    window.show_stage("Motor")
    assert window.stage.headline.text() == "Next: a motor for A" and window.stage.missing.links[0][0] == FIND
    for name, text in (("holding_torque", "1.5"), ("rated_current", "2.8"), ("step_angle", "1.8"), ("phase_resistance", "0.9"),
                       ("phase_inductance", "2.5"), ("rotor_inertia", "0.3")):
        type_in(qtbot, window.stage.field(name), text)
    assert window.stage.headline.text() == "Next: current, peak", "what is merely tight does not hide what is missing"
    window.session.edit(window.session.axis_path("driver", "current_peak"), 3.0)
    row = next(row for row in window.stage.results.rows if row.name == "working_margin")
    assert not row.is_pointed_at
    type_in(qtbot, window.stage.field("supply_voltage"), "36")
    assert row.is_pointed_at and "×" in row.shown()
    window.session.undo_stack.undo()
    window.session.edit(window.session.axis_path("driver", "current_peak"), None)
    qtbot.mouseClick(window.stage.missing.buttons[0], Qt.MouseButton.LeftButton)
    assert window.trail.stage == "Drive"
    window.session.edit(("supply_voltage",), 36.0)
    assert not window.notice.isVisible()
    window.session.edit(window.session.axis_path("driver", "current_peak"), 3.0)
    assert window.notice.isVisible() and window.notice.said.text().startswith("Motor: ")
    window.notice.show_it.click()
    assert window.trail.stage == "Motor" and not window.notice.isVisible()
    window.close()


def test_where_nothing_is_decided_nothing_is_said_to_agree(qtbot: Any, tmp_path: Path) -> None:
    window = empty_window(qtbot, tmp_path / "bare.mule")
    window.show_stage("Scale")
    window.stage.leaves.turn("all axes")
    leaf = window.stage.leaves.picture
    leaf.bring_up_to_date()
    assert "Nothing of A is decided yet" in leaf.says()[0] and "agree" not in leaf.says()[0]
    window.close()
