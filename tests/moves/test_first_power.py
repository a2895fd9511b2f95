"""Stations of an axis: made from it, answered, due again when what they rest on changes; directions and ends by hand."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from tests.driving import choose, leaf_of, set_all

from urban_mule.core.moves.directions import expected_motion
from urban_mule.core.moves.stations import stands, stations_of
from urban_mule.core.subjects import axis_sheet
from urban_mule.desk.shared.photograph import as_kept
from urban_mule.store.text_files import BadFile

pytestmark = pytest.mark.every_axis

BUILT: dict[str, tuple[dict[str, Any], set[str], set[str]]] = {
    "a vertical screw": ({"links": ("coupling", "screw"), "vertical": "yes", "motor kind": "stepper"},
                         {"preload nut", "alignment at the near end", "motor before coupling", "what falls", "coils"},
                         {"belt tension", "leader and follower alike"}),
    "a beam on racks": ({"links": ("reduction", "rack"), "motors": 2, "motor kind": "stepper"},
                        {"pinion seated and sprung", "beam square before its motors", "leader and follower alike"},
                        {"preload nut", "what falls"}),
    "a belt on a bus": ({"links": ("belt",), "interface": "bus", "address": 3, "supply voltage": 75.0},
                        {"belt tension", "interface: bus", "address on the bus"}, {"preload nut"}),
}


@pytest.mark.parametrize("name", BUILT)
def test_stations_are_made_from_this_very_axis(name: str) -> None:
    facts, there, not_there = BUILT[name]
    found = stations_of(facts)
    names = [one.name for one in found]
    assert there <= set(names) and not not_there & set(names) and len(set(names)) == len(names)
    assert names[-1] == "first power" and names.index("emergency stop tried") == len(names) - 2
    assert all(one.caution and one.do and one.see for one in found)
    said = " ".join(one.caution for one in found)
    assert "contactor" in said and "licensed electrician" in said and ("can kill" in said) == ("supply voltage" in facts)


def test_only_what_a_station_rests_on_makes_it_due_again() -> None:
    facts = {"links": ("belt",), "train": "belt of 24 teeth", "motor": "one", "driver": "one", "supply voltage": 48.0}
    found = stations_of(facts)
    answers = {one.name: ("done", {name: facts[name] for name in one.rests_on if name in facts}) for one in found}
    assert {one.state for one in stands(found, answers, facts)} == {"done"}
    changed = {one.station.name: one for one in stands(found, answers, {**facts, "driver": "another"})}
    assert {name for name, one in changed.items() if one.state == "due again"} == {
        name for name, one in changed.items() if "driver" in one.station.rests_on}
    assert changed["first power"].since == "driver was one, is another" and changed["belt tension"].state == "done"


def test_a_table_goes_the_other_way_than_the_tool() -> None:
    for motion, incline in (("linear", 0.0), ("linear", np.pi / 2), ("linear", -np.pi / 2), ("rotary", 0.0)):
        (tool, back), (work, work_back) = (expected_motion(motion, moved, incline) for moved in ("tool", "work"))
        for one, other in ((tool, work_back), (back, work)):
            words = ("plus", "minus", "counter-clockwise", "clockwise", "up", "down")
            assert next(word for word in words if word in one.replace(",", "").split()) in other


def test_soft_limits_by_a_second_way() -> None:
    """The travel as places of the machine, moved by zero: the limits lie the same way from the ends at either home end."""
    for end in ("minus", "plus"):
        solution = axis_sheet("linear", "stepper").solve(travel=0.9, home_end=end, zero_offset=0.03, soft_limit_room=0.01)
        low, high = solution["soft_limit_low"], solution["soft_limit_high"]
        zero = 0.03 if end == "minus" else 0.9 - 0.03
        assert zero + low == pytest.approx(0.01) and zero + high == pytest.approx(0.89)


def test_stations_are_walked_in_the_window(demo_copy: Path, qtbot: Any, tmp_path: Path) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Moves", "first power", axis=2)
    session = window.session
    session.edit(session.axis_path("stations"), None)
    leaf.bring_up_to_date()
    names = [one.station.name for one in leaf.stands]
    assert "preload nut" in names and "what falls" in names and "0 of" in window.stage.headline.text()
    leaf.by.setText("the second builder")
    qtbot.mouseClick(leaf.keys["done"], Qt.MouseButton.LeftButton)
    assert session.axis.stations[0].by == "the second builder" and leaf.shown.station.name == names[1] == "preload nut"
    assert names[0] == "what falls", "a vertical axis is blocked before anything else is touched"
    qtbot.mouseClick(leaf.keys["done"], Qt.MouseButton.LeftButton)
    qtbot.mouseClick(leaf.keys["otherwise"], Qt.MouseButton.LeftButton)
    assert len(session.axis.stations) == 2 and "What was seen?" in leaf.how.text()
    leaf.note.setText("drags at the far end")
    leaf.note.setModified(True)
    qtbot.mouseClick(leaf.keys["otherwise"], Qt.MouseButton.LeftButton)
    assert "1 not as expected" in window.stage.headline.text()
    assert any("drags at the far end" in entry.text for entry in session.entries())
    picture = QImage(2400, 1200, QImage.Format.Format_RGB32)
    picture.fill(Qt.GlobalColor.darkGreen)
    picture.save(str(tmp_path / "wiring.png"))
    leaf.photograph.take(tmp_path / "wiring.png")
    qtbot.waitUntil(lambda: any(one.photograph for one in session.axis.stations))
    kept = session.file.attachment(next(one.photograph for one in session.axis.stations if one.photograph))
    assert QImage.fromData(kept).width() == 1600 and not leaf.photograph.icon().isNull()
    told: list[str] = []
    session.told.connect(told.append)
    (tmp_path / "no.png").write_bytes(b"no picture")
    leaf.photograph.take(tmp_path / "no.png")
    qtbot.waitUntil(lambda: any("no picture that can be read" in one for one in told))
    leaf.only.setText("guard off")
    leaf.set_for_now()
    leaf.set_for_now()
    assert "1 thing is set only for now" in window.stage.subline.text()
    leaf.bring_up_to_date()
    qtbot.mouseClick(leaf.back.buttons["guard off", "Put back"], Qt.MouseButton.LeftButton)
    assert session.axis.for_now[0].put_back and "only for now" not in window.stage.subline.text()
    session.edit(session.axis_path("train", 1, "lead"), 0.005)
    leaf.bring_up_to_date()
    nut = next(one for one in leaf.stands if one.station.name == "preload nut")
    assert nut.state == "due again" and "was coupling, screw of 10 mm, is coupling, screw of 5 mm" in nut.since
    session.undo_stack.undo()
    leaf.bring_up_to_date()
    assert next(one for one in leaf.stands if one.station.name == "preload nut").state == "done"
    window.close()


def test_a_broken_picture_is_a_sentence() -> None:
    for raw in (b"", b"\x89PNG\r\n\x1a\n" + bytes(40), b"GIF89a"):
        with pytest.raises(BadFile, match="no picture"):
            as_kept(raw)


def test_direction_and_ends_are_answered_and_go_on_the_tag(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Moves", "directions", axis=1)
    for name in ("moves_what", "direction_seen", "direction_turned_in"):
        window.session.edit(window.session.axis_path(name), None)
    leaf.bring_up_to_date()
    assert not leaf.keys["as it should"].isEnabled()
    choose(window.stage.field("moves_what"), "work")
    leaf.bring_up_to_date()
    assert "so the table goes to minus" in leaf.plus.text()
    qtbot.mouseClick(leaf.keys["the other way"], Qt.MouseButton.LeftButton)
    leaf.bring_up_to_date()
    assert "in one place only" in leaf.turn.text() and window.stage.headline.text() == "It went the other way."
    choose(window.stage.field("direction_turned_in"), "controller")
    qtbot.mouseClick(leaf.keys["as it should"], Qt.MouseButton.LeftButton)
    assert "turned round in the controller, and only there" in window.stage.headline.text()
    window.stage.leaves.turn("ends")
    for name, value in (("home_by", "switch"), ("home_end", "plus"), ("zero_offset", 0.01), ("soft_limit_room", 0.005),
                        ("homing_speed", 0.02)):
        window.session.edit(window.session.axis_path(name), value)
    rows = {row.name: row for row in window.tag.rows}
    assert rows["home_end"].lines[0][0] == "plus" and rows["direction_turned_in"].value == "controller"
    assert [number for number, _ in rows["soft_limits"].lines] == ["-1385", "5"]
    set_all(window)
    assert not {row.name for row in window.tag.rows if row.differs} & {"home_end", "soft_limits", "homing_speed", "zero_offset"}
    window.session.edit(window.session.axis_path("zero_offset"), 0.02)
    rows = {row.name: row for row in window.tag.rows}
    assert rows["soft_limits"].on_machine == "on the machine: -1385 mm to 5 mm" and rows["zero_offset"].differs
    window.stage.leaves.picture.bring_up_to_date()
    assert "by switch, at plus" in window.stage.leaves.picture.drawn.accessibleName()
    window.close()
