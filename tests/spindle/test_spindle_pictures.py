"""The pictures of a drive that turns a tool: every school drawn and said, curves as the numbers, a size up by its law."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from tests.driving import leaf_of
from tests.spindle.test_spindle import solve

from urban_mule.core.spindle.schools import BRAKES, CONTROL_MODES, ENCODERS, TRANSMISSIONS
from urban_mule.core.spindle.size import SIZE_UP, one_size_up
from urban_mule.desk.frame.window import Window

SCHOOLS = {"transmission": ("Load", "schools", TRANSMISSIONS), "control_mode": ("Drive", "control", CONTROL_MODES),
           "stop_by": ("Drive", "stop", BRAKES), "encoder_at": ("Drive", "encoder", ENCODERS)}


def shown(window: Window, stage: Any, word: str) -> Any:
    window.show_stage(stage)
    window.stage.leaves.turn(word)
    picture = window.stage.leaves.picture
    picture.bring_up_to_date()
    picture.grab()
    assert picture.property("fault") is None, picture.property("fault")
    return picture


@pytest.mark.parametrize("given", SCHOOLS)
def test_every_school_is_drawn_and_the_chosen_one_is_said(demo_copy: Path, qtbot: Any, given: str) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    stage, word, ways = SCHOOLS[given]
    drawn: list[Any] = []
    for way in ways:
        window.session.edit(("spindles", 0, given), way.name)
        window.show_other(0)
        picture = shown(window, stage, word)
        assert f"{way.name}, chosen" in picture.accessibleName() and picture.accessibleName().count(", chosen") == 1
        assert way.gives_up in picture.accessibleName()
        image = picture.grab().toImage()
        assert all(image != other for other in drawn), "each choice looks another way"
        drawn.append(image)
    window.close()


@pytest.mark.parametrize("between", [way.name for way in TRANSMISSIONS])
@pytest.mark.parametrize("ratio", [0.2, *(pytest.param(ratio, marks=pytest.mark.long) for ratio in (1.0, 6.0))])
def test_motor_and_tool_are_drawn_whatever_lies_between(demo_copy: Path, qtbot: Any, between: str, ratio: float) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    window.session.edit_all([(("spindles", 0, "transmission"), between), (("spindles", 0, "ratio"), ratio)])
    window.show_other(0)
    picture = shown(window, "Load", "turning")
    assert between in picture.accessibleName() and f"{ratio:g} turn" in picture.accessibleName()
    window.close()


def test_the_curve_is_that_of_the_numbers_and_empty_ones_say_what_they_lack(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    window.show_other(0)
    picture = shown(window, "Motor", "curve")
    day = picture.chart._pool["filled"][0]
    speeds, torque = day.getData()
    spindle = window.session.project.spindles[0]
    low = 0.95 * spindle.motor.rated_torque * spindle.ratio
    assert torque[0] == pytest.approx(low) and speeds[-1] == pytest.approx(6000 / 0.625)
    assert torque[-1] == pytest.approx(0.95 * 400.0 / (speeds[-1] * np.pi / 30), rel=1e-6), "power over speed at the end"
    window.session.edit(("spindles", 0, "motor", "rated_torque"), None)
    picture = shown(window, "Motor", "curve")
    assert "Give rated power" in picture.chart._pool["text"][0].toPlainText()
    window.session.edit(("spindles", 0, "speed_table"), None)
    picture = shown(window, "Proof", "command")
    assert "a voltage is not a speed" in " ".join(picture.chart._pool["text"][0].toPlainText().split())
    window.close()


def test_a_size_up_keeps_the_law_of_its_likeness() -> None:
    here = solve()
    larger = here.changed(**one_size_up(here.inputs))
    assert larger["spindle_power_share"] == pytest.approx(here["spindle_power_share"] / SIZE_UP)
    assert larger["spindle_inertia_ratio"] == pytest.approx(here["spindle_inertia_ratio"] / SIZE_UP ** (5 / 3))
    assert larger["spindle_speed_limit"] == here["spindle_speed_limit"] and larger["spin_up_time"] < here["spin_up_time"]
    assert larger["spindle_input_current"] == pytest.approx(here["spindle_input_current"] * SIZE_UP)
    assert one_size_up({"rated_power": None}) == {} and one_size_up({"rated_power": 2.0}, 2.0) == {"rated_power": 4.0}


@pytest.mark.parametrize(("rate", "said"), [(2.1e-8, "This size does"), (3.2e-8, "The reserve is small"), (9e-8, "does not pull")])
def test_whether_a_size_up_is_right_goes_by_what_is_in_hand(demo_copy: Path, qtbot: Any, rate: float, said: str) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    window.session.edit(("spindles", 0, "cut", "removal_rate"), rate)
    window.show_other(0)
    picture = shown(window, "Motor", "size")
    assert said in picture.says()[0]
    assert [row.name for row in picture.listed.rows][:2] == ["Share of the power", "Share of the torque"]
    window.session.edit(("spindles", 0, "cut"), None)
    assert "Give the cut" in shown(window, "Motor", "size").says()[0]
    window.close()
