"""Drives that turn a tool: against an independent integration, at every level of their checks, and what is refused."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest

from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.spindle.command import SpeedTable
from urban_mule.core.subjects import sheet_of
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.solve import solve_subject
from urban_mule.store.text_files import BadFile

WHEEL: dict[str, Any] = {
    "rated_power": 750.0, "max_speed": 420.0, "rated_torque": 2.4, "peak_torque": 7.1, "rated_voltage": 230.0,
    "motor_efficiency": 0.82, "motor_power_factor": 0.7, "rotor_inertia": 1.1e-4, "counts_per_turn": 8192, "ratio": 0.5,
    "efficiency": 0.94, "inertia": 2.4e-3, "friction_torque": 0.12, "phases_in": 1, "single_phase_derate": 0.6,
    "highest_speed": 520.0, "specific_energy": 9e9, "removal_rate": 1.5e-8, "cut_speed": 400.0, "mains_voltage": 230.0,
    "electronic_gear_numerator": 2, "electronic_gear_denominator": 1, "max_pulse_rate": 5e5}


def solve(**changed: Any) -> Any:
    sheet = sheet_of("spindle")
    return sheet.solve(**{**{name: one.default for name, one in sheet.inputs.items()}, **WHEEL, **changed})


def test_it_spins_up_as_small_steps_of_time_say() -> None:
    for changed in ({}, {"friction_torque": 0.0}, {"highest_speed": 60.0}, {"ratio": 0.8, "highest_speed": 500.0}):
        solution, given = solve(**changed), {**WHEEL, **changed}
        whole = given["inertia"] + given["ratio"]**2 * given["rotor_inertia"]
        power, speed, time, step = 0.6 * 1.5 * 750.0, 0.0, 0.0, 2e-5
        while speed < given["highest_speed"]:
            torque = 0.94 * min(7.1 * given["ratio"], power / max(speed, 1e-9)) - given["friction_torque"]
            speed, time = speed + torque / whole * step, time + step
        assert solution["spin_up_time"] == pytest.approx(time, rel=2e-3)


@pytest.mark.parametrize("way", ["coasting", "brake", "drive"])
def test_it_stops_as_small_steps_of_time_say(way: str) -> None:
    solution = solve(stop_by=way, brake_torque=1.5)
    whole, speed, time, step = 2.4e-3 + 0.25 * 1.1e-4, 520.0, 0.0, 2e-5
    while speed > 0:
        by_drive = min(7.1 * 0.5, 0.6 * 1.5 * 750.0 / speed) / 0.94
        speed -= ({"coasting": 0.0, "brake": 1.5, "drive": by_drive}[way] + 0.12) / whole * step
        time += step
    assert solution["spindle_stop_time"] == pytest.approx(time, rel=3e-3)
    assert solution["spindle_stopping_energy"] == pytest.approx(whole * 520.0**2 / 2)


def test_what_it_cannot_do_is_said() -> None:
    table = SpeedTable(np.array([0.0, 10.0]), np.array([0.0, 500.0]))
    for changed, name, said in (
            ({"highest_speed": 900.0}, "spin_up_time", "cannot turn that fast"),
            ({"friction_torque": 5.0}, "spin_up_time", "friction takes"),
            ({"cut_speed": 900.0}, "spindle_torque_share", "cannot turn as fast"),
            ({"mains_voltage": None}, "spindle_speed_limit", "only one"),
            ({"stop_by": "brake"}, "spindle_stop_time", "torque of the brake"),
            ({"stop_by": "coasting", "friction_torque": 0.0}, "spindle_stop_time", "for ever"),
            ({"stop_by": "drive", "peak_torque": None}, "spindle_stop_time", "not known"),
            ({"tool_teeth": 20, "transmission": "v-belt"}, "tooth_frequency", "has no teeth"),
            ({"cut_speed": 900.0, "speed_table": table}, "command_for_speed", "outside")):
        with pytest.raises(NotKnown, match=said):
            solve(**changed)[name]
    bare = solve(mains_voltage=None, rated_voltage=None)
    assert bare["spindle_speed_limit"] == 840.0
    straight = solve(speed_table=SpeedTable(np.linspace(0, 10, 6), np.linspace(0, 530, 6)))
    assert straight["command_residual"] < 1e-12 and straight["command_for_speed"] == pytest.approx(400 / 53)


BENT = SpeedTable(np.array([0.0, 5.0, 10.0]), np.array([0.0, 300.0, 530.0]))


@pytest.mark.parametrize(("check", "level", "said", "changed"), [
    ("cut", "good", "takes 31.9 %", {}), ("cut", "tight", "little is left", {"removal_rate": 4e-8}),
    ("cut", "short", "takes 128 %", {"removal_rate": 6e-8}), ("spindle speed", "good", "on 230 V", {}),
    ("spindle speed", "tight", "as its sheet says", {"mains_voltage": None, "rated_voltage": None}),
    ("spindle speed", "short", "higher mains voltage only", {"mains_voltage": 115.0}), ("spindle inertia", "tight", "87.3"
                                                                                                                    " times", {}),
    ("spindle inertia", "good", "for velocity alone", {"control_mode": "velocity"}),
    ("spindle heat", "good", "Without its fan", {"share_without_fan": 0.6}),
    ("spindle heat", "tight", "Without its fan", {"share_without_fan": 0.2}),
    ("spindle stop", "tight", "By coasting", {"stop_by": "coasting"}),
    ("spindle stop", "tight", "it coasts", {"stop_by": "drive"}),
    ("spindle stop", "good", "it coasts", {"stop_by": "drive", "friction_torque": 3.0}),
    ("spindle stop", "unknown", "for how long is not known", {"stop_by": "drive", "friction_torque": 0.0}),
    ("spindle stop", "good", "By the brake", {"stop_by": "brake", "brake_torque": 2.0}),
    ("spindle teeth", "tight", "ears", {"tool_teeth": 20}), ("spindle teeth", "good", "828 teeth a second", {"tool_teeth": 10}),
    ("spindle inertia", "good", "3.64 times", {"inertia": 1e-4}), ("spindle pulses", "good", "169 kHz", {}),
    ("spindle pulses", "short", "339 %", {"max_pulse_rate": 5e4}), ("speed command", "tight", "departs by", {"speed_table": BENT}),
    ("speed command", "good", "departs by 0 %", {"speed_table": SpeedTable(np.array([0.0, 10.0]), np.array([0.0, 500.0]))})])
def test_each_check_at_each_level(check: str, level: str, said: str, changed: dict[str, Any]) -> None:
    found = next(v for v in solve(**changed).verdicts() if v.check == check)
    assert found.level == level and said in found.sentence, (found.level, found.sentence)


def project(**spindle: Any) -> bytes:
    made = {"name": "Disc", "motor": {"kind": "brushless", "rated_power": 400.0}, **spindle}
    return json.dumps({"format": "urban-mule/1", "axes": [{"name": "X"}], "spindles": [made]}).encode()


@pytest.mark.parametrize(("spindle", "said"), [
    ({"phases_in": 2}, "allowed is 1 or 3"), ({"speeds": {"lowest": 9.0, "highest": 3.0}}, "above highest"),
    ({"speed_table": {"command": [0, 1], "speed": [0, 0]}}, "does not rise"),
    ({"speed_table": {"command": [0], "speed": [0]}}, "one row"),
    ({"speed_table": {"command": [0, 1], "speed": [0, 1, 2]}}, "3 values for 2"), ({"motor": {"kind": "steam"}}, "servo"),
    ({"efficiency": 1.2}, "at most 1"), ({"gears": 3}, "no key 'gears'")])
def test_what_is_no_spindle_is_refused(spindle: dict[str, Any], said: str) -> None:
    with pytest.raises(BadFile, match=said):
        parse_project(project(**spindle))


def test_a_spindle_goes_out_and_in() -> None:
    read = parse_project(project(phases_in=3, cut={"speed": 400.0}))
    again = parse_project(export_project(read).encode())
    assert again == read and solve_subject(read, read.spindles[0]).get("spindle_speed_limit") is None  # type: ignore[index]
    with pytest.raises(BadFile, match="which another spindle has already"):
        parse_project(json.dumps(json.loads(project()) | {"spindles": [json.loads(project())["spindles"][0]] * 2}).encode())
