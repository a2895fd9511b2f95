"""How sure numbers are, in the window: rows, the working, fields, headline, tag; a little after an edit and never in its way."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from tests.driving import type_in

from urban_mule.core.sheet.units import with_doubt
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.slip import Share
from urban_mule.desk.model import sureness
from urban_mule.desk.out.report import write_tags
from urban_mule.desk.walk import settle_sure
from urban_mule.store import doubts
from urban_mule.store.doubts import axis_doubts


def row_of(window: Window, name: str) -> Any:
    return next(row for row in window.stage.results.rows if row.name == name)


def test_a_number_says_how_sure_it_is_what_makes_its_doubt_and_where_that_stands(window: Window, qtbot: Any) -> None:
    session = window.session
    window.show_stage("Motor")
    settle_sure(session)
    sure, _ = axis_doubts(session.project, session.axis, session.solution)
    said = with_doubt(session.solution["working_margin"], sure.standard("working_margin"))
    assert row_of(window, "working_margin").shown() == f"{said} ×" and f"Torque margin {said} ×" in window.tag.holds.text()
    row_of(window, "working_margin").opened.emit("working_margin")
    shares = window.stage.slip.findChildren(Share)
    assert [(one.name, one.share) for one in shares] == [
        (session.solution.label(name), share) for name, share in sure.named("working_margin")] and len(shares) == 3
    high = window.stage.slip.height()
    session.edit(session.axis_path("moving_mass"), 5.7)
    assert window.stage.slip.height() > 0.6 * high, "an edit fills it anew, and it does not fall in on itself"
    first = window.stage.slip.findChildren(Share)[0]
    qtbot.mouseClick(first, Qt.MouseButton.LeftButton)
    assert window.stage.field("holding_torque").editor.hasFocus(), "the input that makes most of it"


def test_a_typed_doubt_widens_the_number_and_an_edit_never_waits_for_it(window: Window, qtbot: Any) -> None:
    session = window.session
    window.show_stage("Motor")
    settle_sure(session)
    before = session.sure
    assert before is not None
    usual = before.doubts.standard("inertia_ratio")
    type_in(qtbot, window.stage.field("rotor_inertia"), "0.54 ± 40 %")
    assert session.sure.doubts is before.doubts, "the number stands at once, with the doubt that was known"
    settle_sure(session)
    assert session.sure is not None and session.sure.doubts.standard("inertia_ratio") > 2 * usual
    assert session.sure.doubts.named("inertia_ratio")[0][0] == "rotor_inertia"
    session.undo_stack.undo()
    settle_sure(session)
    assert session.sure.doubts.standard("inertia_ratio") == usual


def test_odds_stand_in_the_headline_only_where_they_say_something(window: Window, qtbot: Any) -> None:
    session = window.session
    window.show_stage("Motor")
    session.edit_all([(session.axis_path("motor", "torque_factor"), None), (session.axis_path("motor", "rotor_inertia"), 6e-4),
                      (session.axis_path("driver", "current_peak"), 2.6)])
    settle_sure(session)
    share = session.sure.share_of_builds("working_margin")  # type: ignore[union-attr]
    assert share is not None and 0.05 < share < 0.95
    assert f"No step is lost in {round(20 * share)} of 20 such builds." in window.stage.subline.text()
    session.edit(session.axis_path("driver", "current_peak"), 6.2)
    session.edit(session.axis_path("moving_mass"), 1.0)
    settle_sure(session)
    assert "of 20 such builds" not in window.stage.subline.text()


@pytest.mark.every_axis
def test_what_the_window_worked_out_is_not_worked_out_again_for_the_printed_tags(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Each axis is looked at once; the tags say the same doubts, and an edit of one axis has only that one worked out anew."""
    session, begun = window.session, []
    doubts_of = sureness.doubts_of
    for place in range(len(session.project.axes)):
        session.show_axis(place)
        settle_sure(session)
    for where in (sureness, doubts):
        monkeypatch.setattr(where, "doubts_of", lambda *of: (begun.append(of[0]), doubts_of(*of))[1])
    write_tags(session, tmp_path / "tags.pdf")
    assert not begun
    session.edit(session.axis_path("moving_inertia" if session.axis.motion == "rotary" else "moving_mass"), 4.3217)
    settle_sure(session)
    assert len(begun) == 1
    write_tags(session, tmp_path / "again.pdf")
    assert len(begun) == 1, "the window had said it already"
