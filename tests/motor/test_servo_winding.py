"""A servo by its winding against the three phases it is made of, and where such figures come in."""

from __future__ import annotations

import math
from itertools import product
from typing import Any

import numpy as np
import pytest
from scipy.optimize import brentq
from tests.axis.test_independent import SERVO, solve

from urban_mule.core.motor.datasheet import doubts
from urban_mule.core.motor.heat import COPPER_COEFFICIENT
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.studies.search import Rules
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.library.drives import Space, search_drives, search_inputs
from urban_mule.store.library.parts import part_of, shipped_parts

WINDING: dict[str, Any] = {
    "torque_constant_rms": 0.11, "pole_pairs": 4, "phase_resistance": 0.32, "phase_inductance": 9e-4,
    "winding_figures_are": "line to line", "max_speed": None, "rated_speed": None, "rated_voltage": None}


def three_phase_torque(speed: float, limit: float) -> float:
    """Torque by the phases themselves: peak phase current in step with the back-EMF, peak phase voltage V/√3."""
    linkage = 0.11 / (1.5 * math.sqrt(2))  # pole pairs × flux: torque 3/2 · that · i, and back-EMF that · ω
    volts, r, x = (48.0 - 1.0) / math.sqrt(3), 0.16, 4 * speed * 4.5e-4

    def spare(current: float) -> float:
        return volts - abs(complex(r * current + linkage * speed, x * current))

    if spare(0.0) <= 0:
        return 0.0
    most = limit / (1.5 * linkage)
    return 1.5 * linkage * (most if spare(most) >= 0 else float(brentq(spare, 0.0, most, xtol=1e-12)))


def test_the_torque_is_that_of_the_three_phases() -> None:
    solution = solve("linear", "servo", **WINDING)
    speeds = np.linspace(0, 620, 41)
    for name, limit in (("torque_curve", 2.9), ("continuous_curve", 0.9)):
        expected = [three_phase_torque(speed, limit) for speed in speeds]
        assert 0 in expected and limit in expected and any(0 < one < limit for one in expected)
        assert solution[name](speeds) == pytest.approx(expected, abs=1e-9)
    assert three_phase_torque(solution["speed_limit"] - 0.01, 2.9) > 0 == three_phase_torque(solution["speed_limit"] + 0.01, 2.9)


def test_the_sheets_end_of_speed_and_an_unsaid_kind_are_on_the_safe_side() -> None:
    free, ended = (solve("linear", "servo", **{**WINDING, "max_speed": end}) for end in (None, 300.0))
    assert ended["speed_limit"] == 300.0 < free["speed_limit"]
    assert ended["torque_curve"](np.array([299.0, 301.0])) == pytest.approx([free["torque_curve"](np.array([299.0]))[0], 0.0])
    unsaid = solve("linear", "servo", **{**WINDING, "winding_figures_are": None})
    speeds = np.linspace(0, 600, 30)
    assert np.all(unsaid["torque_curve"](speeds) <= free["torque_curve"](speeds))
    assert any(v.check == "winding figures" and "half" in v.sentence for v in unsaid.verdicts())
    assert not any(v.check == "winding figures" for v in free.verdicts())
    assert any(v.check == "kind of motor" and "of its no-load speed" in v.sentence for v in free.verdicts())
    stated = solve("linear", "servo", rated_speed=None, rated_voltage=None)
    assert "rated speed and rated voltage" in stated.find("torque_curve").reason
    assert "rated speed" in stated.find("speed_limit").reason


def test_the_voltage_needed_leaves_just_the_safety_factor_in_hand() -> None:
    fast = {**WINDING, "motor_peak_torque": 50.0, "pole_pairs": 12}
    needed = solve("linear", "servo", **fast)["voltage_needed"]
    at = solve("linear", "servo", **{**fast, "supply_voltage": needed})
    assert at["working_margin"] == pytest.approx(at.inputs["safety_factor"], rel=1e-9)


def test_the_heat_is_what_three_phases_make() -> None:
    solution = solve("linear", "servo", **WINDING, thermal_resistance=1.4, ambient_temperature=25.0, thermal_time_constant=900.0)
    current = solution["rms_torque"] / 0.11  # RMS per phase
    assert solution["cycle_copper_loss"] == pytest.approx(3 * current**2 * 0.16)
    rise = 0.0
    for _ in range(200):  # warmer copper, more loss, warmer copper
        rise = 1.4 * 3 * current**2 * 0.16 * (1 + COPPER_COEFFICIENT * (25.0 + rise - 20.0))
    assert solution["cycle_temperature_rise"] == pytest.approx(rise)
    assert solution["rated_temperature_rise"] > rise and solution["warm_up_time"] > 3 * 900.0


def test_a_sheet_needs_speeds_or_a_winding_and_its_slips_are_found() -> None:
    known = {name: value for name, value in {**SERVO, **WINDING, "peak_time": None}.items()
             if value is not None and name not in ("supply_voltage", "voltage_drop")}
    part = part_of({"kind": "servo", "name": "wound", **known})
    assert part.values["pole_pairs"] == 4 and doubts("servo", part.values) == ()
    del known["phase_inductance"]
    with pytest.raises(BadValue, match=r"rated_speed is not given; .* or torque_constant_rms, pole_pairs"):
        part_of({"kind": "servo", "name": "half wound", **known})
    slipped = doubts("servo", {**part.values, "rated_voltage": 48.0, "max_speed": 480.0, "torque_constant_rms": 11.0})
    assert [doubt.name for doubt in slipped] == ["torque_constant_rms"]


def test_a_search_takes_windings_and_stated_speeds_side_by_side() -> None:
    """Each combination is what it is alone, near the end of its speed too."""
    project = demo_project()
    wound = {"kind": "servo", "rated_torque": 0.6, "motor_peak_torque": 1.9, "rotor_inertia": 3e-5, "thermal_resistance": 1.4,
             **{name: value for name, value in WINDING.items() if value is not None}}
    parts = (part_of({**wound, "name": "quick"}), part_of({**wound, "name": "strong", "torque_constant_rms": 0.55}),
             next(part for part in shipped_parts() if part.kind == "servo"))
    found = search_drives(project, project.axes[0], Space("servo", parts, (), (24.0, 48.0)), Rules(), lambda _done, _total: True)
    sheet, inputs = search_inputs(project, project.axes[0], "servo")
    margins = []
    for motor, supply in product(range(3), range(2)):
        row = {name: value for name, value in found.scan.motors[motor].items() if name in sheet.inputs}
        alone = sheet.solve(**{**inputs, **row, "supply_voltage": found.scan.supplies[supply]})
        margins.append(float(alone["working_margin"]))
        for figure, value in (("working_margin", margins[-1]), ("heat", alone.get("cycle_temperature_rise", math.nan))):
            assert found.figures[figure][motor, supply, 0, 0] == pytest.approx(value, nan_ok=True)
    assert margins[2] < margins[3] == margins[1], "the strong one is slow on the low supply"
