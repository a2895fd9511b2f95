"""Inch throughout: nothing that is typed, computed, set or printed is left in metric units once inch is chosen."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest
from tests.driving import leaf_of, type_in
from tests.frame.test_access import everywhere

from urban_mule.core.sheet.units import FACTORS
from urban_mule.core.sheet.wording import in_inch
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.chart import Chart
from urban_mule.desk.kit.field import Field
from urban_mule.desk.out.machine import wall_html
from urban_mule.desk.out.printing import filled
from urban_mule.desk.out.template_data import template_data
from urban_mule.desk.stages.proof.enter_pair import typed_circle, typed_diagonals
from urban_mule.store.settings import settings_of

pytestmark = pytest.mark.every_axis

METRIC = {"mm", "m", "m/s", "m/s²", "m/s³", "mm/s", "N", "N·m", "kg"}
SAID = r"(-?\d{1,3}(?: \d{3})+|-?\d+(?:\.\d+)?) (µm|mm|in/min|in/s²|in|m/s²|m/s|m|lbf|N)(?![\w·/²³])"
A_NUMBER = re.compile(r"-?[\d.]+ (mm|m/s²|m/s|m)\b")


def inch_window(demo: Path, qtbot: Any) -> Window:
    window, _ = leaf_of(demo, qtbot, "Brief", "goals")
    window.other_units()
    assert window.session.system == "inch"
    return window


def test_no_field_no_result_and_no_chart_of_any_leaf_is_left_in_metric(demo_copy: Path, qtbot: Any) -> None:
    window = inch_window(demo_copy, qtbot)
    left = []
    for where in everywhere(window):
        stage = window.stage
        left += [(where, field.name, field.unit) for field in stage.fields.fields if isinstance(field, Field)
                 and not field.given.choices and field.unit in METRIC]
        left += [(where, row.name, row.shown()) for row in stage.results.rows if row.shown().split(" ")[-1] in METRIC
                 and not row.shown().startswith("not known") and " per " not in row.shown()]  # the controller counts in its own
        left += [(where, axis.labelText) for chart in stage.findChildren(Chart) for axis in chart.axes.values()
                 if axis.labelText.split(", ")[-1] in METRIC]
    assert not left
    window.close()


def test_what_is_typed_in_inch_is_the_same_length(demo_copy: Path, qtbot: Any) -> None:
    window = inch_window(demo_copy, qtbot)
    window.show_stage("Load")
    type_in(qtbot, window.stage.field("moving_mass"), "10")
    assert window.session.axis.moving_mass == pytest.approx(4.5359237)
    window.show_stage("Brief")
    type_in(qtbot, window.stage.show_field("travel"), "36 1/2")
    assert window.session.axis.travel == pytest.approx(0.9271)
    window.stage.leaves.turn("parts")
    picture = window.stage.leaves.picture
    picture.bring_up_to_date()
    picture.lines["shaft"].setText("1/4")
    picture.enter("shaft")
    picture.bring_up_to_date()
    assert window.session.axis.parts[0].shaft == pytest.approx(0.00635) and picture._text(picture.chosen, "shaft") == "0.25 in"
    window.other_units()
    picture.bring_up_to_date()
    assert picture._text(picture.chosen, "shaft") == "6.35 mm"
    window.close()


def test_tag_card_and_tags_on_paper_are_in_inch_too(demo_copy: Path, qtbot: Any) -> None:
    window = inch_window(demo_copy, qtbot)
    session = window.session
    for axis in session.project.axes[:3]:
        for row in settings_of(session.state_of(axis)):
            assert not {unit for _, unit in row.lines} & METRIC, (axis.name, row.name)
            assert row.name == "shaper" or not A_NUMBER.search(row.on_machine), row
    wall = re.sub(r"<[^>]+>", " ", wall_html(session))
    assert not A_NUMBER.search(wall) and " in/min" in wall
    rows = settings_of(session.state)
    pairs = [[{"name": "X", "rows": rows, "holds": []}]]
    tags = filled("tags.html", project=session.project, pairs=pairs, revision=session.revision)
    assert "in/s²" in tags and not A_NUMBER.search(re.sub(r"<[^>]+>", " ", tags))
    window.close()


def lengths_in(said: str) -> list[float]:
    """The lengths, speeds and forces that a sentence says, in SI; how sure one is, at two digits, is no length of its own."""
    said = re.sub(r" ± [\d.]+", "", said)
    return [float(number.replace(" ", "")) * FACTORS[unit] for number, unit in re.findall(SAID, said)]


def test_what_judgements_say_is_in_inch_and_means_the_same(demo_copy: Path, qtbot: Any) -> None:
    window = inch_window(demo_copy, qtbot)
    seen = 0
    for axis in window.session.project.axes:
        state = window.session.state_of(axis)
        for metric, inch in zip(state.all_verdicts, state.verdicts(), strict=True):
            said = " ".join((inch.sentence, inch.next, inch.school))
            assert not A_NUMBER.search(said), said
            before = lengths_in(" ".join((metric.sentence, metric.next, metric.school)))
            assert lengths_in(said) == pytest.approx(before, rel=0.011), said
            seen += len(before)
    assert seen > 35
    window.close()


def test_a_sentence_keeps_what_is_no_length_and_what_is_the_first_half_of_a_unit() -> None:
    assert in_inch("It gives 12.7 µm in 40 ms at 25.4 m/s², 8 N/µm and 3 N·m/rad.") == (
        "It gives 0.0005 in in 40 ms at 1 000 in/s², 8 N/µm and 3 N·m/rad.")
    assert in_inch("From -25.4 mm on, 1 270 mm of M3, 3 starts: 2 N·m, 48 V, 0 mm.") == (
        "From -1 in on, 50 in of M3, 3 starts: 283 ozf·in, 48 V, 0 in.")
    assert in_inch("At 0.0254 m/s it pulls 4.448 N.") == "At 60 in/min it pulls 1 lbf."
    assert in_inch("It runs 1.5 million mm, or 25.4 mm.") == "It runs 59 055 in, or 1 in."


def test_the_numbers_at_a_torque_curve_are_what_its_unit_says(demo_copy: Path, qtbot: Any) -> None:
    window = inch_window(demo_copy, qtbot)
    window.show_stage("Motor")
    picture = window.stage.leaves.picture
    picture.bring_up_to_date()
    left = picture.chart.axes["left"]
    assert left.labelText == "torque, ozf·in" and left.scale == pytest.approx(1 / FACTORS["ozf·in"])
    for spacing, values in left.tickValues(0.0, 2.0, 400):
        said = [float(text) for text in left.tickStrings(values, left.scale, spacing)]
        assert said == pytest.approx([value / FACTORS["ozf·in"] for value in values], abs=1.0) and max(said) > 100
    window.other_units()
    picture.bring_up_to_date()
    assert left.labelText == "torque, N·m" and left.scale == 1.0
    window.close()


def test_both_ways_round_nothing_of_the_project_changes(demo_copy: Path, qtbot: Any) -> None:
    window = inch_window(demo_copy, qtbot)
    before = {axis.name: dict(window.session.solution_of(axis).inputs) for axis in window.session.project.axes}
    window.other_units()
    for axis in window.session.project.axes:
        now = window.session.solution_of(axis).inputs
        assert all(now[name] is value or now[name] == value for name, value in before[axis.name].items()
                   if isinstance(value, (int, float, str)))
    assert window.session.project.unit_system == "metric"
    window.close()


def test_a_round_speaks_inch_and_goes_on_in_inch_whatever_the_project_has_become(demo_copy: Path, qtbot: Any) -> None:
    """Plan, instructions, numbers, paper, typing of diagonals and templates; a round begun in inch is no other in millimetres."""
    window, _ = leaf_of(demo_copy, qtbot, "Slack", "upkeep")
    session = window.session
    session.edit(("unit_system",), "inch")
    window.stage.open_round("reversal")
    plan = window.stage.round.plan
    assert 20 < float(plan.fields["targets"].text().split()[-1]) < 40, "of a travel of 34.6 in"
    plan.fields["targets"].setText("10")
    plan.fields["overrun"].setText("1")
    plan.gauge.setCurrentIndex(0)
    plan.start.click()
    round_ = window.stage.round
    assert "10 in" in round_.instruction.text() and round_.typed.unit == "mil"
    assert round_.step.moves[-1] == pytest.approx(0.254, rel=1e-9)
    round_.editor.setText("2")
    round_.take()
    assert round_.round.taken[-1]["value"] == pytest.approx(5.08e-5, rel=1e-9)
    window.stage.close_round()
    session.edit(("unit_system",), "metric")
    window.stage.open_round("reversal", session.rounds[-1])
    assert "10 in" in window.stage.round.instruction.text(), "what was typed stays what it was"
    window.stage.close_round()
    session.edit(("unit_system",), "inch")
    assert typed_diagonals("16\n12\n20.001\n19.999\n0.001", "", "inch")["side_x"] == pytest.approx(0.4064)
    assert typed_circle("0 1 2", "4", "inch")["clockwise"]["deviation"] == pytest.approx([2.54e-5])
    data = template_data(session)["axes"][0]
    assert data["unit"] == "in" and max(data["moves"]) < 40
    window.show_axis(3)
    window.show_stage("Slack")
    window.stage.open_round("reversal")
    window.stage.round.plan.gauge.setCurrentIndex(0)
    assert "°" in window.stage.round.plan.fields["targets"].accessibleName() and (
        window.stage.round.plan_kind.usual_unit(window.stage.round.axis) == "°")
    window.close()
