"""Motors that ship with the curve that their sheet prints: invented ones of the library, their winding left out or kept in part."""

from __future__ import annotations

import json
import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from urban_mule.core.motor.margin import TorqueCurve
from urban_mule.core.motor.servo_winding import ServoWinding, WoundCurve
from urban_mule.core.motor.stepper import StepperCurve
from urban_mule.core.sheet.units import RPM

NOISE = 0.015  # of a torque: the width of a printed line
ENDS_AT = 0.2  # of its greatest torque: where a printed curve ends
FASTEST = 300.0  # rad/s up to which curves of steppers are printed
VOLTS = {42: 24.0, 57: 48.0, 60: 48.0, 86: 72.0, 110: 72.0}
WINDING = ("phase_resistance [Ω]", "phase_inductance [mH]")


def points(curve: TorqueCurve, end: float, chance: np.random.Generator) -> list[list[float]]:
    """Twelve points as somebody reads them off a sheet [rad/s, N·m]."""
    speeds = np.linspace(0.03 * end, end, 12)
    torques = np.asarray(curve(speeds)) * (1 + NOISE * chance.standard_normal(speeds.size))
    return [[round(float(speed), 2), float(f"{torque:.3g}")] for speed, torque in zip(speeds, torques, strict=True)]


def _stepper(row: dict[str, Any], chance: np.random.Generator) -> dict[str, Any]:
    peak, volts = row["rated_current [A]"] * math.sqrt(2), VOLTS[row["frame [mm]"]]
    constant = row["holding_torque [N·m]"] / peak * chance.uniform(0.8, 0.95)
    given = (constant, 50.0, row[WINDING[0]], row[WINDING[1]] / 1e3, peak, volts, row["drag_torque [N·m]"])
    bare, speeds = StepperCurve(*given), np.linspace(0, FASTEST, 3000)
    gone = bare(speeds) < ENDS_AT * float(bare(np.zeros(1))[0])
    end = float(speeds[np.argmax(gone)]) if gone.any() else FASTEST
    lossy = StepperCurve(*given, 1.0, 0.05 * constant * peak / end)
    curves = [{"shows": "pull-out", "printed_voltage": volts, "points": points(lossy, end, chance)}]
    return {**row, "name": f"{row['name']}, curve at {volts:g} V", "printed_curves": json.dumps(curves)}


def _servo(row: dict[str, Any], chance: np.random.Generator) -> dict[str, Any]:
    volts, end = float(row["rated_voltage [V]"]), 1.2 * row["max_speed [rpm]"] * RPM
    winding = ServoWinding(row["torque_constant_rms [N·m/A]"] / math.sqrt(3), row["pole_pairs"], row[WINDING[0]] / 2,
                           row[WINDING[1]] / 2e3, volts / math.sqrt(2), None)
    made = (("peak", row["motor_peak_torque [N·m]"], 0.04), ("continuous", row["rated_torque [N·m]"] * 1.05, 0.15))
    curves = [{"shows": shows, "printed_voltage": volts,
               "points": points(WoundCurve(winding, level, share * level / end), end, chance)} for shows, level, share in made]
    return {**row, "name": f"{row['name']}, curves", "printed_curves": json.dumps(curves)}


def with_curves(steppers: Sequence[dict[str, Any]], servos: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Nine steppers and four servos with curves; every third keeps its whole winding, every other one its resistance."""
    chance = np.random.default_rng(29)
    four = [row for row in steppers if row["leads"] == 4 and row["step_angle [°]"] == 1.8]
    made = [_stepper(row, chance) for row in four[1:52:6]] + [_servo(row, chance) for row in servos[5::9]]
    for number, row in enumerate(made):
        for column in () if number % 3 == 0 else WINDING[1:] if number % 3 == 1 else WINDING:
            del row[column]
        for column in ("rated_speed [rpm]", "max_speed [rpm]", *(("winding_figures_are",) if number % 3 == 2 else ())):
            row.pop(column, None)
    return made
