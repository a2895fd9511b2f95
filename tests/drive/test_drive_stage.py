"""The Drive stage as its user meets it: what the demo hides, banks described, wiring typed, drivers kept, paper, the supply."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QInputDialog, QLineEdit, QTableWidgetItem
from tests.driving import choose, set_all, shown, type_in

from urban_mule.desk.frame.window import Window
from urban_mule.desk.out.cards import begin_sheet, card_html, wiring_html
from urban_mule.desk.shared.pick_part import PickPart
from urban_mule.desk.stages.drive.banks_window import BanksWindow
from urban_mule.desk.stages.drive.stage import DriveStage
from urban_mule.desk.walk import settle
from urban_mule.store.document.plain import plain
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.library.parts import own_parts, read_parts


def drive(window: Window, axis: str, leaf: str) -> DriveStage:
    window.session.show_axis([one.name for one in window.session.project.axes].index(axis))
    window.show_stage("Drive")
    stage = window.stage
    assert isinstance(stage, DriveStage)
    stage.leaves.turn(leaf)
    stage.finish()
    return stage


def aloud(stage: DriveStage) -> str:
    """What the picture says of itself once it is drawn."""
    stage.picture.grab()
    return stage.picture.accessibleName()


def write(qtbot: Any, line: Any, text: str) -> None:
    assert isinstance(line, QLineEdit)
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, text) if text else qtbot.keyClick(line, Qt.Key.Key_Delete)
    qtbot.keyClick(line, Qt.Key.Key_Return)


@pytest.mark.every_axis
def test_the_two_slips_of_the_first_build_are_found_on_the_screen(window: Window, qtbot: Any) -> None:
    """A current typed for another sense resistor on Z, and a follower of Y that is set otherwise; both mended."""
    stage = drive(window, "Z", "current")
    assert "75 mΩ" in stage.headline.text() and "1.36 times" in stage.headline.text()
    assert "takes 1.88 A RMS" in aloud(stage)
    row = next(row for row in window.tag.rows if row.name == "current_entry_value")
    assert row.on_machine == "on the machine: 2.55 A" and row.beneath == "3.6 A peak, 2.55 A RMS"
    assert row.lines[0] == ("1.88", "A RMS")
    type_in(qtbot, stage.field("sense_resistance_entered"), "50")
    assert "Type 2.55 A RMS" in next(v.sentence for v in window.session.verdicts("Drive") if v.check == "current setting")
    row = next(row for row in window.tag.rows if row.name == "current_entry_value")
    assert not row.differs, "what was typed is right after all"
    stage = drive(window, "Y", "switches")
    assert "Y follower: J1 1 open, 2 open, 3 fitted" in aloud(stage)
    assert window.tag.motors.isVisible() and "differs" in window.tag.motors.follower.text()
    qtbot.mouseClick(window.tag.motors.follower, Qt.MouseButton.LeftButton)
    told = {row.name: row for row in window.tag.rows}
    assert told["microsteps"].leader == "the leader has 8" and told["switches"].banks[0].positions == "001"
    window.session.edit(window.session.axis_path("follower", "driver", "microsteps"), None)
    told = {row.name: row for row in window.tag.rows}
    assert not told["microsteps"].leader and told["switches"].banks[0].positions == "110"
    assert told["switches"].banks[0].on_machine == "001" and told["switches"].differs, "on the machine they stand as before"
    set_all(window)
    assert not any(row.differs for row in window.tag.rows)
    assert "of the follower" in window.session.entries()[-1].text
    there = window.session.hardware.values()
    follower = window.session.follower_of(window.session.axis)
    assert follower is not None and there["switches"].value == follower.applied["switches"].value == "110"
    drive(window, "X", "current")
    assert not window.tag.motors.isVisible() and not window.tag.motors.following


def fill(board: BanksWindow, rows: list[list[str]]) -> None:
    """Type the rows of the shown table."""
    while board.grid.rowCount() < len(rows):
        board._add_row()
    for place, cells in enumerate(rows):
        for column, text in enumerate([*cells, *[""] * (board.grid.columnCount() - len(cells))]):
            board.grid.setItem(place, column, QTableWidgetItem(text))


@pytest.mark.every_axis
def test_a_bank_is_described_checked_as_it_is_typed_and_taken_in_one_step(window: Window, qtbot: Any) -> None:
    stage = drive(window, "C", "switches")
    before = window.session.axis.driver
    stage.describe()
    board = stage.findChild(BanksWindow)
    assert board is not None and board.name.text() == "J1"
    board._add_bank()
    qtbot.keyClicks(board.name, "W")
    board.switches.setText("1-2")
    board.switches.textEdited.emit("1-2")
    fill(board, [["00", "1,2"], ["00", "1.9"]])
    assert "rows 1 and 2 of the table are both 00" in board.fault.text() and not board.yes.isEnabled()
    for wrong, said in (("much", "Row 2, current peak"), ("-1", "Row 2, current peak: is -1 A; allowed is a number above 0")):
        fill(board, [["00", "1.2"], ["01", wrong]])
        assert said in board.fault.text() and board.grid.item(1, 1).text() == wrong, "what is typed stays"
    fill(board, [["00", "1.2"], ["01", "1.9"]])
    assert board.fault.text() == "" and "W2 says nothing yet of 10, 11" in board.holes.text().replace("S2W", "W2")
    board._all_positions()
    assert board.grid.rowCount() == 4 and "sets nothing" in board.fault.text()
    fill(board, [["00", "1.2"], ["01", "1.9"], ["10", "2.2", "16"], ["11", "", "", "", "loud"]])
    assert "chopping: is 'loud'; allowed is one of quiet, strong, both" in board.fault.text()
    fill(board, [["00", "1.2"], ["01", "1.9"], ["10", "2.2"], ["11", "2.4", "", "50"]])
    count = window.session.undo_stack.count()
    board.accept()
    assert window.session.undo_stack.count() == count + 1
    driver = window.session.axis.driver
    assert driver is not None and [len(bank.tables[0].rows) for bank in driver.banks] == [2, 4]
    assert driver.banks[1].tables[0].rows[3].hold_fraction == 0.5
    choose(stage.show_field("current_entry"), "switches")
    assert window.session.solution["current_peak_real"] == 2.2, "2.3 A are meant; the next row gives more"
    saved = ProjectFile.open(window.session.path).project().axis("C").driver
    assert plain(saved) == plain(window.session.axis.driver)
    for _ in range(2):
        window.session.undo_stack.undo()
    assert window.session.axis.driver == before


@pytest.mark.every_axis
def test_wiring_is_checked_at_each_key_and_goes_out_on_paper(window: Window, qtbot: Any, tmp_path: Path) -> None:
    stage = drive(window, "C", "wiring")
    assert "no terminal is used twice" in stage.headline.text()
    write(qtbot, stage.field("step").editor, "3A")  # type: ignore[union-attr]
    assert "Terminal 3A is used for step of Z and for step of C" in stage.headline.text() and window.trail.level("Drive") == "short"
    assert "3A is used" in aloud(stage) and "Look here:" in wiring_html(window.session)
    write(qtbot, stage.field("step").editor, "")  # type: ignore[union-attr]
    write(qtbot, stage.field("enable").editor, "")  # type: ignore[union-attr]
    assert "Left open: enable of C" in stage.headline.text()
    window.session.undo_stack.setIndex(0)
    for sheet in ("card", "wiring"):
        begin_sheet(window.session, sheet, tmp_path / f"{sheet}.pdf")
        settle(window.session)
        assert (tmp_path / f"{sheet}.pdf").read_bytes().startswith(b"%PDF")
    card = card_html(window.session)
    order = [card.index(word) for word in ("Power off", "wait 5 minutes", "Set", "Photograph", "Power on", "controller's side")]
    assert order == sorted(order) and "S coasts" in card and "measure below 5 V" in card and "Block Z first" in card
    assert "Y follower" in card and "Not yet:" in card and "does not match its leader" in card
    assert "1 open, 2 open, 3 fitted" not in card, "what racks the beam is not ordered"
    assert "<script>" not in wiring_html(window.session)
    window.session.edit(window.session.axis_path("driver", "terminals", "step"), "<script>alert(1)</script>")
    assert "<script>" not in wiring_html(window.session)


def test_a_driver_comes_from_the_library_and_ones_own_are_kept_handed_on_and_taken_in(
    window: Window, qtbot: Any, tmp_path: Path
) -> None:
    stage = drive(window, "X", "current")
    kept = window.session.axis.driver
    stage.pick()
    picker = stage.findChild(PickPart)
    assert picker is not None and len(picker.shown) >= 25
    qtbot.keyClicks(picker.filter, "3.2 register bus")
    picker.accept()
    driver = window.session.axis.driver
    assert driver.name.startswith("3.2 A register") and driver.current_entry == "register" and driver.banks != kept.banks
    assert (driver.current_peak, driver.microsteps, driver.terminals) == (kept.current_peak, kept.microsteps, kept.terminals)
    type_in(qtbot, stage.show_field("register_steps"), "64")
    stage.keep()
    ask = stage.findChild(QInputDialog)
    assert ask is not None
    ask.setTextValue("bench driver")
    ask.accept()
    assert [(part.name, part.values["register_steps"]) for part in own_parts().parts] == [("bench driver", 64)]
    window.files.export_parts(tmp_path / "mine.csv")
    lines = (tmp_path / "mine.csv").read_text(encoding="utf-8").splitlines()
    bad = [line.replace("bench driver", f"bad {place}").replace(one, other) for place, (line, one, other) in enumerate((
        (lines[1], '""kind"": ""jumpers""', '""kind"": ""levers""'), (lines[1], ",64,", ",0,"), (lines[1], "[{", "{")))]
    (tmp_path / "mixed.csv").write_text("\n".join([*lines, *bad]) + "\n", encoding="utf-8")
    read = read_parts(tmp_path / "mixed.csv")
    assert [part.name for part in read.parts] == ["bench driver"] and len(read.refused) == 3
    assert "kind is 'levers'" in read.refused[0] and "register_steps is 0" in read.refused[1] and "not JSON" in read.refused[2]
    doubled = json.loads(json.dumps(read.parts[0].row))
    doubled["banks"][0]["tables"][0]["rows"] *= 2
    (tmp_path / "one.json").write_text(json.dumps({"format": "urban-mule-parts/1", "parts": [doubled]}), encoding="utf-8")
    assert "are both" in read_parts(tmp_path / "one.json").refused[0]


@pytest.mark.every_axis
def test_the_supply_belongs_to_all_and_its_working_leads_to_its_own_fields(window: Window, qtbot: Any) -> None:
    stage = drive(window, "X", "supply")
    assert "71.3 % of the circuit" in stage.headline.text() and shown(window, "supply_power_needed") == "602 W"
    type_in(qtbot, stage.field("supply_power", "project"), "400")
    qtbot.waitUntil(lambda: "the supply gives 400 W" in stage.headline.text())
    assert window.trail.level("Drive") == "short"
    drive(window, "C", "current")
    assert "supply gives" not in window.stage.headline.text() and window.trail.level("Drive") == "short", "it concerns every axis"
    stage = drive(window, "X", "supply")
    stage.open_working("supply_power_by_phases")
    stage.slip.deeper("supply_voltage")
    stage.slip.jump.emit("project.supply_voltage")
    field = window.stage.field("supply_voltage", "project")
    assert field is not None and QApplication.focusWidget() is field.editor and field.path == ("supply_voltage",)
    type_in(qtbot, field, "36")
    assert window.session.solution["supply_voltage"] == 36.0, "an axis that names no other takes the shared one"
    type_in(qtbot, stage.field("supply_voltage", "driver"), "24")
    assert window.session.solution["supply_voltage"] == 24.0
    qtbot.waitUntil(lambda: "X hangs on another supply" in next(
        v.sentence for v in window.session.together_verdicts if v.check == "axes on the supply"))
    window.go_to_field("project.supply_headroom")
    found = window.stage.field("supply_headroom")
    assert found is not None and QApplication.focusWidget() is found.editor, "what is seldom changed is brought in"


def test_only_what_this_way_of_setting_asks_is_asked(window: Window) -> None:
    mine = {"trimmer": "reference_voltage", "register": "current_register", "number": "current_entry_value"}
    for way, asked, gone in (("trimmer", "trimmer_gain", "entry_is"), ("register", "full_scale_voltage", "trimmer_gain"),
                             ("number", "entry_is", "register_steps")):
        stage = drive(window, "X", "current")
        choose(stage.field("current_entry"), way)
        names = {field.name for field in stage.fields.fields}
        assert asked in names and gone not in names
        rows = {row.name for row in stage.results.rows if not row.isHidden()}
        assert rows & set(mine.values()) == {mine[way]}
    for gone in ("register_steps", "entry_is", "trimmer_gain"):
        window.go_to_field(gone)
        focused = QApplication.focusWidget()
        assert focused is not None and focused is getattr(window.stage.field(gone), "editor", None)
