"""How a value of the session reads on screen: number, unit, or why there is none."""

from __future__ import annotations

from typing import Any

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import words
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import PLACE
from urban_mule.store.document.project import Axis

LABELS = {
    "current_peak": "Current, peak", "current_rms": "Current, RMS", "step_length": "One pulse",
    "hold_fraction": "Current while idle", "working_margin": "Torque margin", "peak_torque": "Torque needed",
    "rms_torque": "RMS torque", "available_torque_at_peak_speed": "Left at top speed",
    "temperature_rise": "Winding rise", "holding_temperature_rise": "Winding rise, idle",
    "reversal_microsteps": "Microsteps swallowed", "incremental_torque": "Torque of one microstep",
    "positioning_accuracy": "Accuracy A", "repeatability": "Repeatability R", "reversal_value": "Reversal value B",
    "systematic_deviation": "Systematic deviation E", "mean_deviation_range": "Mean deviation M",
    "scale_ratio": "Measured scale", "holding_force": "Force to push it off", "drag_torque": "Motor drag",
    "rated_current_is": "Rated current is", "figures_for": "Sheet is for",
    "thermal_time_constant": "Warming time τ", "torque_constant_rms": "Torque per A RMS", "winding_figures_are": "R and L are of",
    "moving_mass": "Moving mass", "travel_per_turn": "Travel per motor turn",
    "load_inertia_at_motor": "Load inertia at motor", "corner_speed": "Corner speed", "max_pulse_rate": "Most pulses",
    "motor_count": "Motors on this axis", "phase_inductance": "Phase inductance", "jump_travel": "Pushed off after",
    "regenerated_energy": "Energy given back", "static_torque": "Torque at standstill", "travel": "Travel",
    "accuracy_wanted": "Accuracy wanted", "backlash_uncertainty": "Its uncertainty", "module": "Module",
    "finest_moving_microsteps": "Finest that still moves", "motor_peak_torque": "Peak torque",
    "frictionless_static_torque": "Brake must hold", "voltage_by_inductance": "Voltage by inductance",
    "scale_ratio_uncertainty": "Its uncertainty", "corrected_steps_per_unit": "Corrected steps",
    "reversal_lag": "Lag at a reversal", "braking_distance": "Distance to stop", "copper_loss": "Heat in the winding",
    "counterbalance_force": "Counterbalance", "friction_coefficient": "Guide friction, µ",
    "voltage_limit": "Driver takes at most", "electronic_gear_numerator": "Gear, counts",
    "electronic_gear_denominator": "Gear, pulses", "voltage_needed": "Supply needed",
    "train_stiffness": "Stiffness of the train", "first_axial_mode": "First mode on it",
    "cycle_temperature_rise": "Rise in this cycle",
    "predicted_lost_motion": "Lost motion expected", "warm_up_time": "Nearly warm after", "safety_factor": "Torque in hand",
    "brake_delay": "Brake bites after", "fall_distance": "Falls before it stands",
    "cycle_copper_loss": "Mean heat in the cycle", "current_limit": "Driver gives at most",
    "minimum_pulse_width": "Shortest pulse seen", "speed": "Speed",
}
SUFFIX = {"inertia_ratio": "to 1", "working_margin": "×"}


def label(name: str) -> str:
    """What a quantity or given is called on screen."""
    return LABELS.get(name) or words(name)


def place_label(axis: Axis, name: str) -> str:
    """What an input of the sheet is called where links and moves have fields of one name: `train[1].efficiency`."""
    found = PLACE.match(name)
    if found is None:
        return label(name)
    place = int(found["place"])
    if found["list"] == "cycle":
        return f"{label(found['field'])} of move {place + 1}"
    stages = axis.train or ()
    return f"{label(found['field'])} of the {stages[place].kind}" if place < len(stages) else label(found["field"])


def value_text(sheet: Sheet, name: str, value: Any, system: str, digits: int = 3, axis_unit: str = "") -> units.Shown:
    """A value with its unit; a dash where there is none."""
    if value is None or isinstance(value, Unknown):
        return units.Shown("–", "")
    if isinstance(value, str):
        return units.Shown(value, "")
    if name == "scale_ratio":
        return units.Shown(f"{float(value):.6f}", "")
    if name in ("steps_per_unit", "corrected_steps_per_unit"):
        return units.Shown(units.number_text(float(value), 6), f"per {axis_unit}")
    shown = units.show(float(value), name, sheet.unit(name), system, digits)
    return units.Shown(shown.number, SUFFIX.get(name, shown.unit))
