"""Another axis: stages that nobody looks at follow when they are looked at, and never hold the fields of the former one."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QPoint, Qt
from tests.driving import leaf_of, shown, type_in

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.paged import page_said, page_with
from urban_mule.desk.stages.view import LONG_CYCLE
from urban_mule.desk.walk import settle
from urban_mule.store.document.made import MOTOR_MODELS

pytestmark = pytest.mark.every_axis


def test_a_hidden_stage_is_of_the_shown_axis_when_it_is_seen_again(window: Window, qtbot: Any) -> None:
    """What is typed there goes to the axis whose name is on the tag, and nowhere else."""
    session = window.session
    for stage in STAGES:
        window.show_stage(stage)
        assert window.stage.isVisible()
    window.show_stage("Load")
    before = session.project.axes
    for index in (1, 2, 0, 2):
        window.show_stage("Brief")
        session.show_axis(index)
        window.show_stage("Load")
        assert window.stage.field("moving_mass").path == ("axes", index, "moving_mass")
        assert float(window.stage.field("moving_mass").editor.text()) == pytest.approx(session.axis.moving_mass)
    type_in(qtbot, window.stage.field("moving_mass"), "4.5")
    assert [axis.moving_mass for axis in session.project.axes] == [before[0].moving_mass, before[1].moving_mass, 4.5,
                                                                   before[3].moving_mass, before[4].moving_mass]
    window.show_stage("Motor")
    assert window.stage.field("holding_torque").path == ("axes", 2, "motor", "holding_torque")
    number = shown(window, "working_margin").split()[0]
    assert float(number) == pytest.approx(session.solution["working_margin"], rel=0.01)


def test_an_axis_that_goes_while_its_stages_are_hidden_leaves_no_field_behind(window: Window, qtbot: Any) -> None:
    """The last axis is shown on every stage and removed from another one; each stage opens on the axis that is left."""
    session = window.session
    last = len(session.project.axes) - 1
    session.show_axis(last)
    for stage in STAGES:
        window.show_stage(stage)
        window.stage.leaves.turn(window.stage.leaves.all_words[-1])
    window.show_stage("Log")
    session.replace(session.project.model_copy(update={"axes": session.project.axes[:-1]}), "the last axis is gone")
    assert session.index < last
    for stage in STAGES:
        window.show_stage(stage)
        for field in window.stage.fields.fields:
            assert field.path[0] != "axes" or field.path[1] == session.index, (stage, field.path)
    session.undo_stack.undo()
    assert len(session.project.axes) == last + 1


@pytest.mark.parametrize("left", [7, *(pytest.param(one, marks=pytest.mark.long) for one in (4, 1))])
def test_an_axis_that_goes_while_a_stage_is_being_built_leaves_no_field_behind(window: Window, left: int) -> None:
    """Duplicate an axis, look at Motor, undo: whichever part of Motor is built by then, its fields are of the axis that is left."""
    session = window.session
    session.edit(("axes",), (*session.project.axes, session.axis.model_copy(update={"name": "T"})), "one more")
    session.show_axis(len(session.project.axes) - 1)
    motor = window._view("Motor")
    while len(motor._steps) > left:
        motor.step()
    session.undo_stack.undo()
    window.show_stage("Motor")
    motor.finish()
    assert {field.path[:2] for field in motor.findChildren(Field)} == {("axes", session.index)}
    session.edit(("axes", session.index, "moving_mass"), 6.5)
    with pytest.raises(BadValue, match="not there any more"):
        session.edit(("axes", len(session.project.axes), "moving_mass"), 7.5)


@pytest.mark.parametrize("left", [7, *(pytest.param(one, marks=pytest.mark.long) for one in (4, 1))])
def test_a_stage_that_is_half_built_or_in_a_round_follows_to_another_kind(demo_copy: Path, qtbot: Any, left: int) -> None:
    """Its rows would ask for what the other kind has not."""
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    session = window.session
    servo = session.axis.model_copy(update={"name": "V", "motor": None}).model_copy(update={
        "motor": MOTOR_MODELS["servo"].model_validate({"kind": "servo", "rated_torque": 1.3})})
    session.edit(("axes",), (*session.project.axes, servo), "a servo")
    for seen in (False, True):
        for view in list(window._stages.values()):
            view.stop()
        window._stages.pop("Drive", None)
        session.show_axis(0)
        drive = window._view("Drive")
        while len(drive._steps) > left:
            drive.step()
        if seen:
            window.show_stage("Drive")
            drive.finish()
            drive.open_round(drive.spec.readings[0])
        session.show_axis(len(session.project.axes) - 1)
        window.show_stage("Drive")
        drive.finish()
        settle(session)
        assert all(session.sheet.has(row.name) or row.isHidden() for row in drive.results.rows)
        window.show_stage("Brief")
    window.close()


def test_of_twenty_axes_each_has_its_plate_and_the_shown_one_is_in_sight(window: Window) -> None:
    session, plates = window.session, window.plates
    axes = tuple(axis.model_copy(update={"name": f"{axis.name}{n}"}) for n in range(5) for axis in session.project.axes)
    session.edit(("axes",), axes, "twenty")
    for place in (19, 7, 0):
        session.show_axis(place)
        settle(session)
        assert plates.rect().contains(plates.plates[place].mapTo(plates, QPoint(0, 0)))
    assert not any(one.geometry().intersects(other.geometry()) for one, other in pairwise(plates.plates))
    for place, fit in ((0, 4.9), (9, 4.9), (19, 4.9), (3, 0.2), (3, 64)):
        page = page_with(place, 20, fit)
        assert place in page and len(page) <= max(1, fit) and page_said("Axes", page, 20).startswith(
            f"Axes {page.start + 1} to {page.stop} of 20" if len(page) < 20 else "")


def test_with_a_long_cycle_the_headline_follows_once_its_advice_is_tried(window: Window, qtbot: Any) -> None:
    session = window.session
    session.edit(session.axis_path("cycle"), session.axis.cycle[:1] * (LONG_CYCLE + 1))
    window.show_stage("Motor")
    window.stage.finish()
    for mass in (60.0, 4.0, 90.0):
        session.edit(session.axis_path("moving_mass"), mass)
        wanted = session.state.headline("Motor")
        assert wanted is not None
        said, lower = window.stage.words(wanted)
        qtbot.waitUntil(lambda said=said, lower=lower: (window.stage.headline.text(), window.stage.subline.text()) == (said, lower))
        assert shown(window, "working_margin").split()[0] == f"{session.solution['working_margin']:.3g}"


def test_a_chosen_link_is_not_taken_along_to_another_axis(window: Window) -> None:
    """A link of the chain is chosen on one axis; the other axis begins with its load, seen or unseen meanwhile."""
    session = window.session
    window.show_stage("Load")
    window.stage.chain.choose(0)
    assert window.stage.link == 0
    session.show_axis(1)
    assert window.stage.link == window.stage.chain.link and window.stage.field("moving_mass") is not None
    window.stage.chain.choose(0)
    window.show_stage("Brief")
    session.show_axis(2)
    window.show_stage("Load")
    assert window.stage.link == window.stage.chain.link and window.stage.field("moving_mass") is not None


def test_a_round_under_way_follows_its_axis_to_another_name(window: Window, qtbot: Any) -> None:
    session = window.session
    window.show_stage("Slack")
    window.stage.open_round("reversal")
    window.stage.round.plan.begin()
    for number in ("-12", "-11", "-12"):
        qtbot.keyClicks(window.stage.round.editor, number)
        qtbot.keyClick(window.stage.round.editor, Qt.Key.Key_Return)
    window.stage.close_round()
    session.edit(session.axis_path("name"), "Q")
    assert window.stage.measure.rounds["reversal"].text() == "Go on: backlash, 3 taken"
    assert [one.subject for one in session.rounds] == [session.axis.id] == [one["subject"] for one in session.file.open_rounds()]
    session.undo_stack.undo()
    assert window.stage.measure.rounds["reversal"].text() == "Go on: backlash, 3 taken"
