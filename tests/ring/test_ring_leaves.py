"""The leaves of Ring as one uses them: the trade moved by hand and by key, two records compared."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from tests.driving import leaf_of

from urban_mule.core.readings.shapers import KINDS
from urban_mule.desk.walk import settle
from urban_mule.store.document.modes import NamedMode
from urban_mule.store.exchange.open_json import export_project, parse_project


@pytest.mark.every_axis
def test_the_chosen_point_follows_key_and_hand_and_undo(demo_copy: Path, qtbot: Any) -> None:
    """What the picture says of a point is what the sheet computes once it is chosen."""
    window, whole = leaf_of(demo_copy, qtbot, "Ring", "shapers")
    settle(window.session)  # records are read in the background
    leaf = whole.curves
    leaf.bring_up_to_date()
    session = window.session
    kind, frequency = leaf.point
    qtbot.keyClick(leaf, Qt.Key.Key_Right)
    leaf.bring_up_to_date()
    assert session.axis.shaper_kind == kind and session.axis.shaper_frequency == pytest.approx(frequency + 0.1)
    qtbot.keyClick(leaf, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    leaf.bring_up_to_date()
    assert session.axis.shaper_frequency == pytest.approx(frequency - 0.9)
    qtbot.keyClick(leaf, Qt.Key.Key_Down)
    leaf.bring_up_to_date()
    assert session.axis.shaper_kind == KINDS[(KINDS.index(kind) + 1) % len(KINDS)]
    chosen = session.solution["chosen_shaper"]
    share, allowed = leaf._at(*leaf.point)
    assert share == pytest.approx(chosen["surviving_share"], abs=2e-3)
    assert allowed == pytest.approx(chosen["allowed_acceleration"], rel=5e-3)
    target = KINDS[0]
    _frequencies, shares, allows = leaf.curves[target]
    inside = np.flatnonzero((shares < leaf.most) & (allows < leaf.top))
    at = int(inside[len(inside) // 2])
    x, y = leaf._place(shares[at], allows[at])
    QTest.mousePress(leaf, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))
    pressed = leaf.moved
    assert pressed is not None and session.axis.shaper_frequency != pytest.approx(pressed[1]), "nothing is set while it is held"
    QTest.mouseRelease(leaf, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))
    assert (session.axis.shaper_kind, session.axis.shaper_frequency) == (pressed[0], pytest.approx(pressed[1], abs=0.051))
    there = leaf._place(*leaf._at(*pressed))
    assert np.hypot(there[0] - x, there[1] - y) < 4, "the point of any curve that is nearest to the hand"
    for _ in range(4):
        session.undo_stack.undo()
    leaf.bring_up_to_date()
    assert leaf.point == (kind, pytest.approx(frequency))


def test_the_curves_are_painted_anew_only_when_they_change(demo_copy: Path, qtbot: Any) -> None:
    """A drag paints the point; another tolerance, size or light paints the curves too."""
    window, whole = leaf_of(demo_copy, qtbot, "Ring", "shapers")
    settle(window.session)  # records are read in the background
    leaf = whole.curves
    whole.bring_up_to_date()
    qtbot.wait(50)
    leaf.grab()
    kept = leaf._drawn[1]
    qtbot.keyClick(leaf, Qt.Key.Key_Right)
    leaf.bring_up_to_date()
    leaf.grab()
    assert leaf._drawn[1] is kept
    top = leaf.top
    window.session.edit(window.session.axis_path("path_tolerance"), 2 * window.session.solution["path_tolerance"])
    leaf.bring_up_to_date()
    leaf.grab()
    assert leaf._drawn[1] is not kept and leaf.top > 1.5 * top, "twice the tolerance allows twice the acceleration"
    kept = leaf._drawn[1]
    window.resize(1100, 760)
    qtbot.wait(50)
    leaf.grab()
    assert leaf._drawn[1] is not kept


def test_two_records_are_told_apart_in_words(demo_copy: Path, qtbot: Any) -> None:
    """The shift in words is that of the frequencies of both records; one record alone says what to do."""
    window, leaf = leaf_of(demo_copy, qtbot, "Ring", "compare")
    settle(window.session)  # records are read in the background
    leaf.bring_up_to_date()
    session = window.session
    earlier, modes = session.solution["earlier_record"].modes, session.solution["modes"]
    moved = 100 * (modes[0].frequency / earlier[0].frequency - 1)
    said = next(row for row in leaf.listed.rows if row.name == f"{earlier[0].frequency:.1f} Hz").texts[0]
    assert (f"{abs(moved):.0f} %" in said) if abs(moved) >= 1 else said.startswith("stayed"), (moved, said)
    records = [one for one in session.axis.readings if one.kind == "acceleration"]
    left = (*tuple(one for one in session.axis.readings if one.kind != "acceleration"), records[-1])
    session.edit(session.axis_path("readings"), left)
    qtbot.waitUntil(lambda: session.solution.get("earlier_record") is None)
    leaf.bring_up_to_date()
    assert not leaf.listed.rows


@pytest.mark.every_axis
def test_humps_are_named_and_the_names_stay_with_the_axis(demo_copy: Path, qtbot: Any) -> None:
    """What rings beside the train is named once; the train's own is named on its record, and taken for what is compared."""
    window, _ = leaf_of(demo_copy, qtbot, "Ring", "spectrum")
    settle(window.session)
    naming, session = window.stage.naming, window.session
    naming.refresh()
    train, frame = (float(naming.hump.itemText(n).removesuffix(" Hz")) for n in range(2))
    assert train == pytest.approx(session.solution["first_resonance"], rel=0.08) and frame == pytest.approx(70.0, rel=0.08)
    session.edit(session.axis_path("mode_names"), None)
    naming.hump.setCurrentIndex(1)
    naming.say("the frame")
    named = session.axis.mode_names
    assert [(one.rings, round(one.frequency, 1)) for one in named] == [("frame", frame)] and naming.said_of(frame) == "the frame"
    assert session.solution["other_modes"] == pytest.approx((frame,), rel=1e-3)
    naming.hump.setCurrentIndex(0)
    naming.say("the train")
    assert session.axis.last_reading("acceleration").train_mode == pytest.approx(train, rel=2e-3)
    settle(session)
    verdict = next(v for v in session.verdicts("Ring") if v.check == "first mode")
    assert f"The train rings at {train} Hz" in verdict.sentence and "of what gives way" in verdict.school
    naming.hump.setCurrentIndex(1)
    naming.say("the train")
    assert session.axis.mode_names is None, "what is the train's is nothing else's"
    settle(session)
    verdict = next(v for v in session.verdicts("Ring") if v.check == "first mode")
    assert verdict.level == "tight" and "contradict" in verdict.sentence
    for _ in range(3):
        session.undo_stack.undo()
    assert session.axis.mode_names is None and session.axis.last_reading("acceleration").train_mode is None
    again = parse_project(export_project(session.project.model_copy(update={
        "axes": (session.axis.model_copy(update={"mode_names": named}), *session.project.axes[1:])})).encode())
    assert again.axes[0].mode_names[0].rings == "frame"
    session.show_axis(1)
    settle(session)
    said = {v.check: v for v in session.verdicts("Ring")}["resonance"]
    assert said.level == "tight" and "2 modes share" in said.sentence
    session.edit(session.axis_path("mode_names"), (NamedMode.model_validate({"rings": "frame", "frequency": 40.5}),))
    said = {v.check: v for v in session.verdicts("Ring")}["resonance"]
    assert said.level == "good" and "what else rings there is named" in said.sentence, "what is named needs no explaining"
    window.close()
