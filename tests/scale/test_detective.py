"""Wrong settings named by the axis' own numbers; both sides of the wire; a value to begin with."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from tests.driving import leaf_of, type_in

from urban_mule.core.readings.travel import TravelReading
from urban_mule.core.scale.detective import Suspect, plain_ratio
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.links import Belt, Rack, Reduction, Screw
from urban_mule.store.document.readings import READING_MODELS

ENTERED: dict[str, Any] = {"step_angle": np.pi / 100, "microsteps": 16, "unit": "mm"}


def axis(**given: Any) -> Solution:
    return axis_sheet("linear", "stepper").solve(**{**ENTERED, **given})


def suspects(entered: Solution, really: Solution) -> tuple[Suspect, ...]:
    """Move an axis as it really is by the steps it was entered with, measure, and ask. A true error of 0.1 % comes on top."""
    pulses = 0.3 * entered["steps_per_unit"] / entered["unit_size"]
    moved = pulses * really["step_length"] * 1.001
    reading = TravelReading(0.3, np.array([moved, moved + 2e-6]), 1e-5)
    return entered.changed(travel_reading=reading, scale_reading=reading).get("scale_suspects", ())


TRAINS: dict[str, Any] = {
    "belt": (Belt(pitch=0.003, teeth=20),), "screw": (Screw(lead=0.01),), "starts": (Screw(thread_pitch=0.002, starts=1),),
    "rack": (Reduction(ratio=3.0), Rack(module=0.001, teeth=22))}


@pytest.mark.parametrize(("train", "real", "setting", "really"), [
    ("belt", {"microsteps": 8}, "microsteps", "8"), ("screw", {"microsteps": 32}, "microsteps", "32"),
    ("belt", {"train": (Belt(pitch=0.003, teeth=24),)}, "driving pulley", "24 teeth"),
    ("belt", {"train": (Belt(pitch=0.003, teeth=16),)}, "driving pulley", "16 teeth"),
    ("belt", {"train": (Belt(pitch=0.005, teeth=20),)}, "belt", "5 mm pitch"),
    ("screw", {"train": (Screw(lead=0.012),)}, "screw", "12 mm lead"),
    ("starts", {"train": (Screw(thread_pitch=0.002, starts=4),)}, "screw", "4 starts"),
    ("rack", {"train": (Reduction(ratio=4.0), Rack(module=0.001, teeth=22))}, "reduction", "4"),
    ("rack", {"train": (Reduction(ratio=3.0), Rack(module=0.00125, teeth=22))}, "rack", "module 1.25"),
    ("screw", {"step_angle": np.pi / 200}, "motor", "400 steps a turn"),
])
def test_every_wrong_number_of_this_axis_is_among_the_suspects(train: str, real: dict[str, Any], setting: str, really: str) -> None:
    entered = axis(train=TRAINS[train])
    found = suspects(entered, axis(**{"train": TRAINS[train], **real}))
    assert (setting, really) in [(one.setting, one.really) for one in found[:4]], found
    assert found[0].setting == setting or found[0].odds >= next(one.odds for one in found if one.setting == setting)
    assert all(one.look and "mark on its shaft" in one.test for one in found)


def test_a_true_error_of_scale_is_no_wrong_setting_and_servos_have_suspects_of_their_own() -> None:
    entered = axis(train=TRAINS["belt"])
    assert suspects(entered, axis(train=(Belt(pitch=0.003 * 1.003, teeth=20),))) == ()
    servo = axis_sheet("linear", "servo").solve(train=TRAINS["screw"], unit="mm", counts_per_turn=10_000,
                                                electronic_gear_numerator=3, electronic_gear_denominator=1)
    reading = TravelReading(0.3, np.array([0.1]), 1e-5)
    found = servo.changed(travel_reading=reading, scale_reading=reading)["scale_suspects"]
    assert (found[0].setting, found[0].really) == ("electronic gear", "not set in the drive")
    bridge = axis(train=TRAINS["rack"], motor_count=2)
    half = TravelReading(0.3, np.array([0.45]), 1e-5)
    named = [one.setting for one in bridge.changed(travel_reading=half, scale_reading=half)["scale_suspects"]]
    assert "microsteps of the follower" in named
    assert [str(plain_ratio(ratio)) for ratio in (2.001, 0.5, 1.2004, 25.39)] == ["2", "1/2", "6/5", "127/5"]


def test_a_nominal_value_stands_where_no_train_can_be_computed_and_readings_correct_it() -> None:
    entered = axis(nominal_steps_per_unit=80.0)
    assert entered["steps_per_unit"] == 80.0
    reading = TravelReading(0.3, np.array([0.303, 0.303]), 1e-5)
    assert entered.changed(travel_reading=reading, scale_reading=reading)["corrected_steps_per_unit"] == pytest.approx(80 / 1.01)
    assert "train" in axis().find("steps_per_unit").missing, "without it the train is still asked for"


@pytest.mark.every_axis
def test_a_change_is_walked_on_both_sides_for_every_motor(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Scale", "all axes", axis=1)
    assert [one.motor for one in leaf.drawn.wires] == ["X", "Y", "Y follower", "Z", "C", "W"]
    assert leaf.drawn.wires[1].moves == "apart: do not move it", "the demo's follower is still as delivered"
    assert [one.lies for one in leaf.drawn.wires] == ["along", "across", "across", "up", "turns", "along"]
    assert not leaf.sides and "go apart" in leaf.says()[0]
    window.session.edit(("axes", 1, "follower", "driver", "microsteps"), None)
    qtbot.waitUntil(lambda: len(leaf.sides) == 1)
    qtbot.mouseClick(leaf.walk.buttons["Y follower: Switches", "Done"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "Both sides of the wire agree on Y" in leaf.says()[0])
    type_in(qtbot, window.stage.field("microsteps"), "16")
    qtbot.waitUntil(lambda: len(leaf.sides) == 3)
    assert list(leaf.sides) == ["Y: Switches", "Y follower: Switches", "controller: Steps per mm"], "drivers first"
    assert leaf.says()[0] == "Y: still to be set, 3 of 3.", "as it stands both sides still fit each other"
    old_new = {row.name: row.texts for row in leaf.walk.rows}
    assert old_new["controller: Steps per mm"] == ("69.4494", "138.899")
    qtbot.mouseClick(leaf.walk.buttons["Y: Switches", "Done"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: len(leaf.sides) == 2)
    assert "its two motors go apart. Do not move it until both are set alike" in leaf.says()[0]
    qtbot.mouseClick(leaf.walk.buttons["Y follower: Switches", "Done"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: len(leaf.sides) == 1)
    assert "until all of it is set, it moves 0.5 times what is commanded" in leaf.says()[0]
    qtbot.mouseClick(leaf.walk.buttons["controller: Steps per mm", "Done"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "agree on Y" in leaf.says()[0])
    on_machine = window.session.hardware.values()
    assert float(on_machine["steps_per_unit"].value) == pytest.approx(138.8988, rel=1e-4)
    follower = window.session.follower_of(window.session.axis)
    assert "switches" in on_machine and follower is not None and "switches" in follower.applied


def test_the_causes_stand_on_their_leaf(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Scale", "causes")
    assert "no setting is wrong" in leaf.says()[0] and not leaf.listed.isVisible()
    window.session.edit(("axes", 0, "train", 1, "teeth"), 20)
    window.session.edit(("axes", 0, "readings"), (READING_MODELS["travel"].model_validate(
        {"kind": "travel", "commanded": 0.76, "measured": [0.9120, 0.9121], "gauge_uncertainty": 1e-5, "source": "practice"}),))
    leaf.bring_up_to_date()
    assert "near 6/5" in leaf.says()[0] and leaf.listed.rows[0].texts[:2] == ("20 teeth", "24 teeth")
    window.stage.leaves.turn("chain")
    assert "driving pulley: 24 teeth, not 20 teeth" in window.stage.headline.text()
