"""Pictures in place of words: places on the train, lines between terminals, ladders, windings, a year, bars of money."""

from __future__ import annotations

import math
from datetime import date, timedelta
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter
from tests.driving import leaf_of

from urban_mule.bench.sessions.kinds import PLAN_KINDS, possible
from urban_mule.core.drive.wiring import DriverWiring, used_twice
from urban_mule.core.scale.detective import NEAR, Suspect
from urban_mule.core.sheet.units import with_doubt
from urban_mule.core.slack.repairs import BY_LINK, slack_repairs
from urban_mule.core.train.links import LINKS
from urban_mule.desk.shared.on_train import AxisPart, draw_places
from urban_mule.desk.shared.setup_view import parts_of
from urban_mule.desk.stages.brief.money_and_days import there_on
from urban_mule.desk.stages.drive.wiring import at_sides, pins_of
from urban_mule.desk.stages.moves.windings import colour_of
from urban_mule.desk.stages.scale.ratio_ladder import AS_ENTERED, height_of, rungs_of
from urban_mule.store.shopping import DAY, Item


@settings(max_examples=200, deadline=None)
@given(st.floats(1e-9, 1e9), st.floats(1e-9, 1e9))
def test_a_value_stands_with_two_digits_of_its_doubt_and_to_the_same_place(value: float, doubt: float) -> None:
    """JCGM 100, 7.2.6, at k = 2; what is said is never farther off than half of the last place."""
    said = with_doubt(value, doubt)
    if " ± " not in said:
        assert 2 * doubt <= 1e-9 * value
        return
    number, sure = said.split(" ± ")
    place = 10.0 ** (math.floor(math.log10(float(f"{2 * doubt:.1e}"))) - 1)
    assert float(sure) == pytest.approx(2 * doubt, abs=0.51 * place) and float(number) == pytest.approx(value, abs=0.51 * place)
    assert number.partition(".")[2].__len__() == sure.partition(".")[2].__len__()
    assert len(sure.replace(".", "").strip("0")) <= 2


def test_a_result_and_its_doubt_are_one_tile_at_twice_the_standard_uncertainty(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Slack", "reversal")
    solution = window.session.solution
    row = next(one for one in window.stage.results.rows if one.name == "backlash")
    assert row.shown() == f"{with_doubt(1e6 * solution['backlash'], 1e6 * solution['backlash_uncertainty'])} µm"
    assert not any(one.name.endswith("_uncertainty") for one in window.stage.results.rows)
    assert row.shown().removesuffix(" µm") in window.stage.headline.text(), "headline and tile say the same"
    window.stage.open_working("backlash")
    assert any("± is twice" in key.text() for key in window.stage.slip.findChildren(type(window.stage.results.more)))
    window.close()


def test_what_may_have_play_is_marked_where_it_sits() -> None:
    """Each cause has a place that the drawing knows, in the order of the train from the motor on."""
    image = QImage(900, 240, QImage.Format.Format_RGB32)
    for kind, link in LINKS.items():
        made = link()
        painter = QPainter(image)
        places = draw_places(painter, AxisPart((LINKS["coupling"](), made), None, None, False, 0.0), QRectF(0, 0, 900, 240))
        painter.end()
        assert {one.place for one in slack_repairs((LINKS["coupling"](), made))} <= set(places), kind
        assert places["motor"].x() < places["coupling"].x() < places["carriage"].x() < places["gauge"].x()
        assert all(isinstance(at, QPointF) and 0 <= at.x() <= 900 and 0 <= at.y() <= 240 for at in places.values())
    assert {place for _, repairs in BY_LINK for place in [one.place for one in repairs]} <= set(LINKS)


def test_wires_that_clash_are_red_at_both_ends_and_open_ones_are_drawn() -> None:
    one = DriverWiring(motor="X", axis="X", terminals=(("step", "1A"), ("enable", "E1")), interface_mode="pulse")
    other = DriverWiring(motor="Z", axis="Z", terminals=(("step", "1a"), ("direction", "3B"), ("enable", "E1")))
    clashing = frozenset(place for a, signal, b, second in used_twice((one, other))
                         for place in ((a.motor, signal), (b.motor, second)))
    pins = {wiring.motor: {pin.signal: pin for pin in pins_of(wiring, clashing)} for wiring in (one, other)}
    assert pins["X"]["step"].twice and pins["Z"]["step"].twice and not pins["X"]["enable"].twice, "enable serves many by design"
    assert pins["X"]["direction"].terminal == "" and pins["Z"]["direction"].terminal == "3B", "left open stands there too"
    shown = [(one, pins_of(one, clashing))] * 5
    left, high = at_sides(shown)
    assert left in (2, 3) and high <= 3 * (len(shown[0][1]) + 2), "both sides about as high"


RATIOS = st.lists(st.builds(lambda ratio, odds: Suspect("microsteps", "16", f"{ratio:.4g}", ratio, odds, "", ""),
                            st.floats(0.01, 100), st.floats(0.1, 1)), max_size=30)


@settings(max_examples=80, deadline=None)
@given(RATIOS, st.floats(0.02, 50))
def test_the_measured_ratio_stands_between_the_rungs_that_enclose_it(mistakes: list[Suspect], measured: float) -> None:
    rungs = rungs_of(mistakes, measured)
    assert any(one.ratio == 1.0 and AS_ENTERED in one.words for one in rungs) or any(one.ratio == 1.0 for one in rungs)
    assert all(upper.ratio > lower.ratio for upper, lower in pairwise(rungs)), "the greatest on top"
    at = height_of(measured, rungs)
    above = [n for n, one in enumerate(rungs) if one.ratio > measured * (1 + NEAR)]
    below = [n for n, one in enumerate(rungs) if one.ratio < measured * (1 - NEAR)]
    assert max(above, default=-1) - 1e-9 <= at <= min(below, default=len(rungs)) + 1e-9


@pytest.mark.parametrize(("lead", "there"), [
    ("red", True), ("Blue", True), ("green/white", True), ("brown-white", True), ("A1", False)])
def test_leads_are_drawn_in_the_colour_that_they_are_called_by(lead: str, there: bool) -> None:
    assert (colour_of(lead) is not None) == there


@given(st.floats(0, 400), st.dates(date(2024, 1, 1), date(2030, 1, 1)), st.booleans())
def test_a_part_is_there_no_sooner_than_its_days_allow(days: float, today: date, ordered: bool) -> None:
    item = Item("X", "motor", "motor", "", 1, None, days * DAY, None)
    there = there_on(item, today)
    assert there is not None and timedelta(days=days) - timedelta(days=1) < there - today <= timedelta(days=days)
    assert there_on(Item("X", "motor", "motor", "", 1, None, None, None), today) is None, "without its days nobody knows"


@pytest.mark.every_axis
def test_readings_that_an_axis_cannot_have_are_not_offered(demo_copy: Path, qtbot: Any) -> None:
    """A screw has no tone; a servo has no ladder of steps; what needs nothing is offered to all."""
    window, _ = leaf_of(demo_copy, qtbot, "Slack", "reversal")
    bar = window.stage.measure
    assert bar.rounds["tone"].isVisible() and bar.rounds["drag"].isVisible()
    window.show_axis(2)
    assert not bar.rounds["tone"].isVisible() and bar.rounds["drag"].isVisible()
    assert "tone" not in possible(PLAN_KINDS, parts_of(window.session.axis)) and "ladder" in possible(["ladder"], ("stepper",))
    assert possible(["ladder", "reversal"], ("servo",)) == ("reversal",)
    window.close()


@pytest.mark.every_axis
def test_the_line_of_revisions_is_walked_by_key_and_the_year_shows_what_is_late(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Log", "revisions")
    last = len(leaf.revisions) - 1
    qtbot.keyClick(leaf.line, Qt.Key.Key_Left)
    assert leaf.listed.currentRow() == 1 and leaf.line.at == 1
    qtbot.keyClick(leaf.line, Qt.Key.Key_Home)
    assert leaf.listed.currentRow() == last and "begun" in leaf.line.accessibleName()
    qtbot.mouseClick(leaf.line, Qt.MouseButton.LeftButton, pos=QPointF(leaf.line._x(0), leaf.line.height() / 2).toPoint())
    assert leaf.listed.currentRow() == 0
    window.stage.leaves.turn("due")
    year = window.stage.leaves.picture.drawn
    window.stage.leaves.picture.bring_up_to_date()
    lanes = {one.name: one for one in year.lanes}
    assert lanes["Y: oil the rack and its pinions"].due == -math.inf and lanes["Z: try the brake"].each == 30
    greased = lanes["Z: grease the screw and its nut"]
    assert greased.due == pytest.approx(greased.done[-1] + 90)
    window.close()
