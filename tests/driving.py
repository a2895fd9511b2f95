"""What a person does to the window and sees in it, for the journeys."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QPushButton, QWidget

from urban_mule.bench.practice import TerminalPort, practice_peer
from urban_mule.bench.wire.peer import serve
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.shown import solved_text
from urban_mule.core.sheet.stages import StageName
from urban_mule.desk.app import application, blank_project
from urban_mule.desk.frame.new_axis import NewAxis
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.field import Field
from urban_mule.desk.model.session import Session
from urban_mule.desk.shared.machine_row import MachineRow
from urban_mule.desk.shared.round_view import RoundView
from urban_mule.desk.stages.load.stage import LoadStage
from urban_mule.practice.machine import practice_machine
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import ProjectFile


def type_in(qtbot: Any, field: Field | None, text: str) -> None:
    """What a person does: click, select all, type, Tab."""
    assert field is not None and isinstance(field.editor, QLineEdit)
    field.editor.setFocus()
    field.editor.selectAll()
    qtbot.keyClicks(field.editor, text) if text else qtbot.keyClick(field.editor, Qt.Key.Key_Delete)
    qtbot.keyClick(field.editor, Qt.Key.Key_Return)


def without_records(project: Project) -> Project:
    """The project without its long records, which take a second to write as JSON."""
    return project.model_copy(update={"axes": tuple(axis.model_copy(update={
        "readings": tuple(one for one in axis.readings if one.kind != "acceleration")}) for axis in project.axes)})


def choose(field: Field | None, value: str) -> None:
    assert field is not None and isinstance(field.editor, QComboBox)
    field.editor.setCurrentIndex(field.editor.findData(value))
    field.editor.activated.emit(field.editor.currentIndex())


def shown(window: Window, name: str) -> str:
    """What a result says, without how sure it is: that comes a moment later."""
    row = next(row for row in window.stage.results.rows if row.name == name)
    solution = row.session.solution_with(name)
    if isinstance(solution.find(name), Unknown):
        return row.shown()
    return str(solved_text(solution, name, row.session.system, row.session.axis.unit))


def level(window: Window, check: str) -> str:
    return next(v.level for v in window.session.verdicts() if v.check == check)


def lantern_rail(qtbot: Any, path: Path, practice: bool = False) -> Window:
    """An empty project, and in it an axis L by three questions, its train, motor and driver typed from their papers."""
    application()
    project = blank_project("Lantern rail")
    file = ProjectFile.create(path, project.model_copy(update={"practice": True}) if practice else project)
    window = Window(Session(file), "Brief")
    qtbot.addWidget(window)
    window.show()
    assert {v.level for v in window.session.verdicts()} == {"unknown"} and not window.tag.rows
    dialog = NewAxis(window.session, window)
    dialog.show()
    for asked, text in ((dialog.name, "L"), (dialog.mass, "3.2"), (dialog.travel, "400"), (dialog.speed, "0,2"),
                        (dialog.acceleration, "2")):
        asked.line.setText(text)
    dialog.go_on()
    dialog.sizes["lead"].line.setText("8 mm")
    for _, usual in dialog.usual:
        usual.setCurrentIndex(usual.count() - 1)
    dialog.go_on()
    assert window.session.axis.name == "L" and window.session.axis.train[0].lead == 0.008
    window.show_stage("Brief")
    type_in(qtbot, window.stage.field("accuracy_wanted"), "200")
    window.show_stage("Load")
    stage = window.stage
    assert isinstance(stage, LoadStage)
    stage.picture.setFocus()
    qtbot.keyClick(stage.picture, Qt.Key.Key_Left)
    for name, text in (("diameter", "12"), ("length", "450"), ("efficiency", "90")):
        type_in(qtbot, stage.field(name), text)
    choose(stage.field("end_support"), "fixed-supported")
    qtbot.mouseClick(stage.chips["coupling"], Qt.MouseButton.LeftButton)
    assert [s.kind for s in window.session.axis.train] == ["coupling", "screw"]
    window.show_stage("Motor")
    for name, text in (("holding_torque", "1.1"), ("rated_current", "2.8"), ("phase_resistance", "0.85"),
                       ("phase_inductance", "2.3"), ("rotor_inertia", "280 g·cm²"), ("step_angle", "1.8"),
                       ("supply_voltage", "36")):
        type_in(qtbot, window.stage.field(name), text)
    window.stage.leaves.turn("winding")
    type_in(qtbot, window.stage.field("thermal_resistance"), "2.4")
    window.stage.leaves.turn("torque")
    choose(window.stage.field("rated_current_is"), "rms")
    window.show_stage("Drive")
    for name, text in (("current_peak", "3.5"), ("current_limit", "4.5"), ("voltage_limit", "60"), ("microsteps", "16"),
                       ("max_pulse_rate", "100")):
        type_in(qtbot, window.stage.show_field(name), text)
    choose(window.stage.show_field("entry_is"), "rms")
    return window


def set_all(window: Window, stored: bool = True) -> None:
    """Set it, and say whether it survives a reset where that is asked."""
    window.tag.set_all.click()
    if not window.tag.survives.isHidden():
        (window.tag.survives.stored if stored else window.tag.survives.running).click()


def parents(widget: QWidget) -> Any:
    one = widget.parentWidget()
    while one is not None:
        yield one
        one = one.parentWidget()


def assert_nothing_is_clipped(window: Window, where: str) -> None:
    area = window.rect()
    for widget in window.findChildren(QWidget):
        if not widget.isVisible() or widget.width() < 2:
            continue
        if isinstance(widget, (QLabel, QPushButton, QLineEdit)) and not isinstance(widget.parent(), QComboBox):
            corner = widget.mapTo(window, widget.rect().bottomRight())
            inside_scroll = any(p.inherits("QScrollArea") for p in parents(widget))
            assert inside_scroll or (corner.x() <= area.width() and corner.y() <= area.height()), (where, widget.objectName())
        if isinstance(widget, QAbstractButton) and widget.text() and widget.objectName() != "plain":
            assert widget.fontMetrics().horizontalAdvance(widget.text().replace("&", "")) <= widget.width(), (where, widget.text())
        if isinstance(widget, (QLineEdit, QComboBox)) and (parent := widget.parentWidget()) is not None:
            assert widget.height() >= widget.minimumHeight() and parent.rect().contains(widget.geometry()), (
                where, widget.accessibleName())
        if isinstance(widget, (Field, QPushButton, QLineEdit)):
            assert widget.focusPolicy() != Qt.FocusPolicy.NoFocus or isinstance(widget, Field), (where, widget.objectName())


def leaf_of(demo: Path, qtbot: Any, stage: StageName, word: str, axis: int = 0) -> tuple[Window, Any]:
    """The demo's window with a leaf of a stage on top, and the picture on it."""
    window = Window(Session(ProjectFile.open(demo)))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    window.session.show_axis(axis)
    window.show_stage(stage)
    window.stage.leaves.turn(word)
    picture = window.stage.leaves.picture
    picture.bring_up_to_date()
    return window, picture


def begin_round(window: Window, qtbot: Any, kind: str, typed: dict[str, str]) -> RoundView:
    """A round of a kind as it is planned, at its first step. typed: into fields of its plan."""
    window.stage.open_round(kind)
    view = window.stage.round
    assert view is not None
    for name, text in typed.items():
        asked = view.plan.fields[name]
        asked.setText(text) if isinstance(asked, QLineEdit) else asked.setCurrentText(text)
        view.plan.look()
    qtbot.mouseClick(view.plan.start, Qt.MouseButton.LeftButton)
    if view.answers.isVisible():  # of a machine of which nothing was measured yet
        qtbot.mouseClick(view.it_did, Qt.MouseButton.LeftButton)
    return view


def bench_here(row: MachineRow) -> Callable[[], None]:
    """The practice bench in a thread of the test, quicker there than the process that it is to a user; returns what ends it."""
    axis, port, ended = row.axis, TerminalPort(), threading.Event()
    peer = practice_peer(practice_machine(row.session.project, axis, len(axis.readings)), axis.name, axis.motion == "linear", 0.0)
    thread = threading.Thread(target=serve, args=(port, peer, lambda: not ended.is_set()))
    thread.start()
    row._connect(port.name)

    def end() -> None:
        ended.set()
        thread.join()
        port.close()

    return end


def practise(window: Window, qtbot: Any, kind: str, own_process: bool = False, **typed: str) -> None:
    """A whole round of a kind on the practice bench, by itself; what it asks about is kept. typed: into fields of its plan."""
    view, end = begin_round(window, qtbot, kind, typed), _nothing
    if own_process:
        qtbot.mouseClick(view.machine.practise, Qt.MouseButton.LeftButton)
    else:
        end = bench_here(view.machine)
    try:
        _walk_by_itself(window, qtbot, view)
    finally:
        end()


def _walk_by_itself(window: Window, qtbot: Any, view: RoundView) -> None:
    qtbot.waitUntil(lambda: view.machine.machine is not None, timeout=20_000)
    view.machine.by_itself.setChecked(True)
    qtbot.mouseClick(view.machine.press, Qt.MouseButton.LeftButton)

    def through() -> bool:
        if window.stage.round is not None and view.question.text():
            qtbot.keyClick(view.editor, Qt.Key.Key_Return)
        return window.stage.round is None

    qtbot.waitUntil(through, timeout=150_000)


def _nothing() -> None: ...
