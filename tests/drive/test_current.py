"""A driver's current in each of its languages, by what flows over the sense resistor, and what cannot be set or is not said."""

from __future__ import annotations

import math
from typing import Any

import pytest

from urban_mule.core.drive.banks import SwitchBank, SwitchRow, SwitchTable
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.subjects import axis_sheet

LANGUAGES = ("current_entry_value", "reference_voltage", "current_register")


def bank(*rows: tuple[str, float]) -> tuple[SwitchBank, ...]:
    wide = len(rows[0][0])
    table = SwitchTable(tuple(range(1, wide + 1)), tuple(SwitchRow(positions=p, current_peak=i) for p, i in rows))
    return (SwitchBank("S1", "switches", wide, (table,)),)


def driver(**more: Any) -> Solution:
    return axis_sheet("linear", "stepper").solve(**{"current_peak": 2.0, "sense_resistance": 0.11, **more})


@pytest.mark.parametrize(("fitted", "assumed", "extra"), [(0.11, 0.075, 0.02), (0.1, 0.11, 0.0), (0.05, 0.05, 0.01)])
def test_a_number_typed_for_another_resistor_makes_the_current_that_is_meant(fitted: float, assumed: float, extra: float) -> None:
    """The driver holds a voltage: the one it thinks right for the resistor that it assumes."""
    typed = driver(sense_resistance=fitted, sense_resistance_entered=assumed, sense_resistance_extra=extra, entry_is="peak")
    held = typed["current_entry_value"] * (assumed + extra)
    assert held / (fitted + extra) == pytest.approx(2.0)
    rms = driver(sense_resistance=fitted, sense_resistance_entered=assumed, sense_resistance_extra=extra, entry_is="rms")
    assert rms["current_entry_value"] * math.sqrt(2) == pytest.approx(typed["current_entry_value"])
    assert rms["current_peak_real"] == 2.0


def test_each_way_of_entry_has_its_own_language_and_the_others_stand_nowhere() -> None:
    row = bank(("0", 1.5), ("1", 2.5))
    for more, spoken in (({"entry_is": "rms"}, "current_entry_value"), ({"switch_banks": row}, ""),
                         ({"current_entry": "trimmer", "trimmer_gain": 8.0}, "reference_voltage"),
                         ({"current_entry": "register", "full_scale_voltage": 0.325, "register_steps": 32}, "current_register")):
        solution = driver(**more)
        for name in LANGUAGES:
            found = solution.find(name)
            assert isinstance(found, Unknown) == (name != spoken)
            assert not isinstance(found, Unknown) or not found.applies, (more, name)
    assert driver(switch_banks=row)["current_peak_real"] == 1.5


def test_a_register_takes_the_highest_step_that_is_not_above() -> None:
    steps = [0.325 / 0.13 * (k + 1) / 32 for k in range(32)]
    for meant in (0.08, 0.5, 1.484375, 2.0, 2.5, 9.0):
        solution = driver(current_peak=meant, current_entry="register", full_scale_voltage=0.325, register_steps=32,
                          sense_resistance_extra=0.02)
        expected = max((k for k, flows in enumerate(steps) if flows <= meant * (1 + 1e-9)))
        assert solution["current_register"] == expected and solution["current_peak_real"] == pytest.approx(steps[expected])


@pytest.mark.parametrize(("more", "name", "reason", "missing"), [
    ({}, "current_entry_value", "whether the number is RMS or peak is not given", ("entry_is",)),
    ({"sense_resistance": None, "sense_resistance_entered": 0.1, "entry_is": "rms"}, "current_entry_value", "sense resistance",
     ("sense_resistance",)),
    ({"current_entry": "trimmer"}, "reference_voltage", "trimmer gain", ("trimmer_gain",)),
    ({"current_entry": "register"}, "current_register", "full scale", ("full_scale_voltage", "register_steps")),
    ({"current_entry": "register", "full_scale_voltage": 3.0, "register_steps": 2}, "current_peak_real", "first step", ()),
    ({"current_peak": 0.4, "switch_banks": bank(("1", 1.0))}, "current_peak_real", "more current than is wanted", ()),
    ({"driver_temperature_limit": 20.0, "driver_thermal_resistance": 20.0, "bridge_resistance": 0.3, "driver_standing_loss": 2.0},
     "driver_current_limit", "hotter than it may", ()),
])
def test_what_is_missing_is_named(more: dict[str, Any], name: str, reason: str, missing: tuple[str, ...]) -> None:
    found = driver(**more).find(name)
    assert isinstance(found, Unknown) and reason in found.reason and found.missing == missing and found.applies


def test_a_driver_at_its_own_limit_is_as_hot_as_it_may_be() -> None:
    given = {"driver_temperature_limit": 110.0, "driver_thermal_resistance": 24.0, "bridge_resistance": 0.34,
             "driver_standing_loss": 0.5, "ambient_temperature": 28.0}
    limit = driver(**given)["driver_current_limit"]
    assert driver(**given, current_peak=limit)["driver_temperature"] == pytest.approx(110.0)
