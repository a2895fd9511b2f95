"""The parts, settings and papers of the demo machine, as its builder wrote them down. Everything is invented."""

from __future__ import annotations

import math
from typing import Any

from urban_mule.core.sheet.units import RPM
from urban_mule.store.document.drivers import DriverModel
from urban_mule.store.library.parts import shipped_parts

DEGREE = math.pi / 180
STEP = 1.8 * DEGREE
TENSION, RAILS = "listen to the tone of the belt", "wipe and oil the rails"

X: dict[str, Any] = {
    "name": "X", "motion": "linear", "travel": 0.95, "moving_mass": 5.6, "friction_coefficient": 0.008,
    "friction_force": 6.0, "path_tolerance": 2e-4, "accuracy_wanted": 0.1e-3, "speed_wanted": 0.6,
    "acceleration_wanted": 8.0, "tolerances": {"moving_mass": 0.05, "friction_force": 0.4},
    "train": [
        {"kind": "coupling", "inertia": 2.4e-6, "rated_torque": 3.2, "torsional_stiffness": 150.0},
        {"kind": "belt", "pitch": 0.003, "teeth": 24, "inertia": 1.1e-5, "efficiency": 0.96, "specific_stiffness": 4.2e5,
         "layout": "loop", "span": 1.05, "pretension": 60.0, "rated_force": 220.0, "tolerances": {"efficiency": 0.03}},
    ],
    "cycle": [
        {"distance": 0.6, "speed": 0.6, "acceleration": 8.0, "dwell": 0.4},
        {"distance": -0.6, "speed": 0.6, "acceleration": 8.0, "dwell": 0.4},
    ],
    "motor": {
        "kind": "stepper", "name": "57 mm stepper 2.1 N·m, 4 leads", "holding_torque": 2.1, "rated_current": 4.2,
        "rated_current_is": "rms", "phase_resistance": 0.5, "phase_inductance": 0.0021, "rotor_inertia": 5.4e-5,
        "step_angle": STEP, "drag_torque": 0.04, "thermal_resistance": 1.9, "thermal_time_constant": 1500.0, "frame": 0.057,
        "length": 0.076, "leads": 4, "tolerances": {"holding_torque": 0.1, "phase_inductance": 0.2},
    },
    "home_by": "switch", "home_end": "minus", "switch_overtravel": 0.006, "reaction_time": 0.02, "homing_speed": 0.06,
    "zero_offset": 0.004, "soft_limit_room": 0.002, "switch_free": "low", "switch_pressed": "high", "switch_wire_off": "high",
    "moves_what": "tool", "direction_seen": "as it should", "direction_turned_in": "connector",
    "hours_a_week": 18.0, "maintenance": [{"task": TENSION, "every_distance": 40e3}, {"task": RAILS, "every_days": 60.0}],
    "lean_force": 25.0, "coil_resistances": "red blue 0.51\ngreen black 0.5", "coil_plug": "red blue, green black",
    "driver": {
        "name": "6.2 A switch driver, 60 V", "current_peak": 5.0, "microsteps": 16, "hold_fraction": 0.5, "cooling": "finned",
        "chopping": "strong",
        "terminals": {"step": "1A", "direction": "1B", "enable": "E1", "lower_end_switch": "S1", "upper_end_switch": "S2"},
    },
    "controller": {"name": "four-axis pulse controller", "unit": "mm", "max_pulse_rate": 120000.0},
}
# Left over from the first build: the driver of Y's follower still counts twice as many microsteps, and Z's settings assume
# another sense resistor than the one that is fitted.
Y: dict[str, Any] = {
    "name": "Y", "motion": "linear", "travel": 1.40, "moving_mass": 46.0, "friction_coefficient": 0.008,
    "friction_force": 24.0, "motor_count": 2, "accuracy_wanted": 0.15e-3, "speed_wanted": 0.35, "path_tolerance": 3e-4,
    "tolerances": {"moving_mass": 0.1, "friction_force": 0.5}, "home_by": "switch", "home_end": "minus",
    "switch_overtravel": 0.01,
    "reaction_time": 0.02, "homing_speed": 0.05, "zero_offset": 0.006, "soft_limit_room": 0.003, "moves_what": "tool",
    "direction_seen": "as it should", "direction_turned_in": "nowhere",
    "coil_resistances": "black green 0.53\nred blue 0.52", "coil_plug": "black green, red blue",
    "hours_a_week": 18.0, "maintenance": [{"task": "oil the rack and its pinions", "every_distance": 40e3}],
    "train": [
        {"kind": "reduction", "ratio": 3.0, "efficiency": 0.95, "inertia_in": 1.6e-5, "inertia_out": 2.4e-4,
         "rated_torque": 18.0, "torsional_stiffness": 9000.0},
        {"kind": "rack", "module": 0.001, "teeth": 22, "inertia": 1.8e-5, "efficiency": 0.93, "rated_force": 900.0,
         "mesh_stiffness": 1.5e7, "clearance": 35e-6},
    ],
    "cycle": [
        {"distance": 1.1, "speed": 0.35, "acceleration": 1.5, "dwell": 1.2},
        {"distance": -1.1, "speed": 0.35, "acceleration": 1.5, "dwell": 1.2},
    ],
    "motor": {
        "kind": "stepper", "name": "60 mm stepper 2.9 N·m", "holding_torque": 2.9, "rated_current": 4.2,
        "rated_current_is": "rms", "phase_resistance": 0.52, "phase_inductance": 0.0027, "rotor_inertia": 8.8e-5,
        "step_angle": STEP, "drag_torque": 0.06, "thermal_resistance": 1.6, "thermal_time_constant": 1700.0, "frame": 0.06,
        "length": 0.088,
    },
    "lean_force": 60.0,
    "driver": {
        "name": "5.5 A trimmer driver, 63 V", "current_peak": 5.2, "microsteps": 8, "hold_fraction": 0.6, "cooling": "fan",
        "chopping": "strong", "terminals": {"step": "2A", "direction": "2B", "enable": "E1", "fan": "R2", "lower_end_switch": "S3",
                      "upper_end_switch": "S4"},
    },
    "follower": {"motor": {"kind": "stepper"}, "driver": {
        "microsteps": 16, "terminals": {"step": "2A", "direction": "2B", "enable": "E1", "fan": "R3", "lower_end_switch": "none",
                                     "upper_end_switch": "none"}}},
    "controller": {"unit": "mm", "max_pulse_rate": 120000.0},
}
Z: dict[str, Any] = {
    "name": "Z", "motion": "linear", "travel": 0.18, "incline": math.pi / 2, "moving_mass": 4.2, "friction_force": 8.0,
    "process_force": 70.0, "accuracy_wanted": 0.05e-3, "speed_wanted": 0.15, "hours_a_week": 18.0, "path_tolerance": 1e-4,
    "tolerances": {"process_force": 0.25, "moving_mass": 0.05}, "home_by": "switch", "home_end": "plus",
    "switch_overtravel": 0.004, "reaction_time": 0.02, "homing_speed": 0.02, "zero_offset": 0.003, "soft_limit_room": 0.001,
    "moves_what": "tool", "direction_seen": "as it should", "direction_turned_in": "nowhere",
    "coil_resistances": "red blue 0.86\nblack green 0.61", "coil_plug": "red blue, black green",
    "maintenance": [{"task": "grease the screw and its nut", "every_days": 90.0}, {"task": "try the brake", "every_days": 30.0}],
    "train": [
        {"kind": "coupling", "inertia": 2.5e-6, "rated_torque": 2.0, "torsional_stiffness": 300.0},
        {"kind": "screw", "lead": 0.01, "diameter": 0.012, "length": 0.26, "efficiency": 0.9, "drag_torque": 0.02,
         "end_support": "fixed-supported", "root_diameter": 0.0102, "dynamic_load_rating": 3200.0, "nut_stiffness": 6e7,
         "bearing_stiffness": 3e7, "clearance": 3e-6},
    ],
    "cycle": [
        {"distance": 0.12, "speed": 0.15, "acceleration": 2.0, "dwell": 0.6},
        {"distance": -0.12, "speed": 0.15, "acceleration": 2.0, "jerk": 60.0, "dwell": 1.0},
    ],
    "motor": {
        "kind": "stepper", "name": "57 mm stepper 1.1 N·m with brake", "holding_torque": 1.1, "rated_current": 2.8,
        "rated_current_is": "rms", "phase_resistance": 0.85, "phase_inductance": 0.0023, "rotor_inertia": 2.8e-5,
        "step_angle": STEP, "drag_torque": 0.03, "thermal_resistance": 2.4, "thermal_time_constant": 1200.0,
        "brake_torque": 0.4, "brake_delay": 0.03, "brake_inertia": 5.8e-7, "frame": 0.057, "length": 0.051,
    },
    "lean_force": 40.0,
    "driver": {
        "name": "4 A driver by number, 60 V, single wire", "current_peak": 3.6, "microsteps": 16, "hold_fraction": 0.7,
        "cooling": "finned", "sense_resistance_entered": 0.075, "chopping": "both", "changeover_speed": 0.05,
        "terminals": {"step": "3A", "direction": "3B", "enable": "E1", "bus": "U1", "brake": "R1", "upper_end_switch": "S5",
                   "lower_end_switch": "none"},
    },
    "controller": {"unit": "mm", "max_pulse_rate": 120000.0},
}
C: dict[str, Any] = {
    "name": "C", "motion": "rotary", "travel": 2 * math.pi, "load_inertia": 0.0021, "friction_torque": 0.12,
    "accuracy_wanted": 0.1 * DEGREE, "speed_wanted": 180 * DEGREE, "hours_a_week": 18.0, "tolerances": {"load_inertia": 0.15},
    "maintenance": [{"task": "grease the reduction", "every_days": 365.0}], "home_by": "stall", "home_end": "minus",
    "homing_speed": 30 * DEGREE, "zero_offset": 3 * DEGREE, "soft_limit_room": 2 * DEGREE, "path_tolerance": 0.1 * DEGREE,
    "stall_lowest": 0, "stall_highest": 255,
    "stall_greater_is": "less", "moves_what": "work", "direction_seen": "as it should", "direction_turned_in": "controller",
    "coil_resistances": "brown white 1.52\nyellow orange 1.49", "coil_plug": "brown white, yellow orange",
    "train": [
        {"kind": "reduction", "ratio": 5.0, "efficiency": 0.92, "inertia_in": 2.2e-6, "inertia_out": 6.0e-5,
         "rated_torque": 9.0, "torsional_stiffness": 850.0, "clearance": 0.03 * DEGREE},
        {"kind": "direct"},
    ],
    "cycle": [
        {"distance": math.pi, "speed": math.pi, "acceleration": 20.0, "dwell": 0.8},
        {"distance": -math.pi, "speed": math.pi, "acceleration": 20.0, "dwell": 0.8},
    ],
    "motor": {
        "kind": "stepper", "name": "42 mm stepper 0.45 N·m", "holding_torque": 0.45, "rated_current": 1.7,
        "phase_resistance": 1.5, "phase_inductance": 0.0032, "rotor_inertia": 6.8e-6,
        "step_angle": STEP, "drag_torque": 0.015, "thermal_resistance": 3.4, "frame": 0.042, "length": 0.04,
    },
    "lean_force": 0.6,
    "driver": {
        "name": "2.4 A register driver, 60 V, bus", "current_peak": 2.3, "microsteps": 16, "hold_fraction": 0.5,
        "cooling": "finned", "bus_address": 1, "chopping": "quiet",
        "terminals": {"step": "4A", "direction": "4B", "enable": "E1", "bus": "U2", "lower_end_switch": "S6",
                   "upper_end_switch": "none"},
    },
    "controller": {"unit": "deg", "max_pulse_rate": 120000.0},
}

W: dict[str, Any] = {  # the sand trough, which lays a bed of sand before the tiles
    "name": "W", "motion": "linear", "travel": 0.40, "moving_mass": 9.0, "friction_force": 14.0, "process_force": 25.0,
    "accuracy_wanted": 0.2e-3, "speed_wanted": 0.2, "hours_a_week": 6.0, "path_tolerance": 4e-4,
    "tolerances": {"moving_mass": 0.2, "process_force": 0.4},
    "maintenance": [{"task": "wipe the sand off the screw", "every_days": 7.0}],
    "train": [
        {"kind": "coupling", "inertia": 1.9e-6, "rated_torque": 2.0, "torsional_stiffness": 260.0},
        {"kind": "screw", "lead": 0.005, "diameter": 0.016, "length": 0.48, "efficiency": 0.9, "drag_torque": 0.015,
         "end_support": "fixed-supported", "root_diameter": 0.0134, "dynamic_load_rating": 8600.0, "nut_stiffness": 9e7,
         "bearing_stiffness": 4e7, "clearance": 8e-6},
    ],
    "cycle": [
        {"distance": 0.32, "speed": 0.2, "acceleration": 2.0, "dwell": 1.5},
        {"distance": -0.32, "speed": 0.2, "acceleration": 2.0, "dwell": 1.5},
    ],
    "motor": {
        "kind": "servo", "name": "40 mm servo 100 W, 3000 rpm, 48 V, light rotor", "frame": 0.04, "length": 0.096,
        "rated_torque": 0.318, "peak_torque": 0.891, "rated_speed": 3000 * RPM, "max_speed": 4500 * RPM,
        "rated_voltage": 48.0, "rotor_inertia": 8.96e-6, "peak_time": 1.0, "counts_per_turn": 16384,
        "torque_constant_rms": 0.0924, "pole_pairs": 4, "phase_resistance": 0.674, "phase_inductance": 6.88e-4,
        "winding_figures_are": "line to line", "thermal_resistance": 5.54, "thermal_time_constant": 640.0, "mass": 0.811,
    },
    "home_by": "switch", "home_end": "minus", "switch_overtravel": 0.008, "reaction_time": 0.02, "homing_speed": 0.04,
    "zero_offset": 0.005, "soft_limit_room": 0.002, "moves_what": "tool", "direction_seen": "as it should",
    "direction_turned_in": "nowhere",
    "driver": {"name": "8 A servo drive, 60 V", "cooling": "finned", "thermal_resistance_finned": 1.7, "bridge_resistance": 0.03,
               "driver_standing_loss": 3.0, "driver_temperature_limit": 85.0, "electronic_gear_numerator": 16384,
               "current_loop_bandwidth": 1200.0, "velocity_sample_time": 1.25e-4, "velocity_gain_unit": "Hz",
               "velocity_integral_unit": "ms", "position_gain_unit": "1/s", "velocity_feedforward": 0.5, "gains_by": "by hand",
               "electronic_gear_denominator": 2000, "terminals": {"step": "5A", "direction": "5B", "enable": "E1",
                                                             "lower_end_switch": "S7", "upper_end_switch": "S8"}},
    "controller": {"unit": "mm", "max_pulse_rate": 120000.0},
}


DECIDED: list[dict[str, Any]] = [
    {"decision": "mains", "school": "as it is", "decided": "the circuit by the door", "why": "nothing takes more than it gives"},
    {"decision": "spindle", "school": "as the heaviest cut asks", "why": "glass of 8 mm; a size up waits in the parts list"},
    {"decision": "controller", "school": "a board of its own", "why": "four axes, one kind of work"},
    {"decision": "stop", "school": "contactor with a brake on what falls", "why": "Z drops otherwise"}]
ANSWERED: list[dict[str, Any]] = [
    {"question": "stop removes power", "answer": "yes", "note": "contactor behind the panel"},
    {"question": "what falls is held", "answer": "yes", "note": "brake on Z"}, {"question": "stop latches", "answer": "yes"},
    {"question": "soft stop apart", "answer": "not yet", "note": "both are red"}]
DAY = 86_400.0
BOUGHT: list[dict[str, Any]] = [
    {"slot": "supply", "price": 210.0, "lead_time": 10 * DAY, "supplier": "the electrical shop", "ordered": "2026-08-03",
     "arrived": "2026-08-12"},
    {"slot": "one size up for S: 600 W brushless, 60 mm", "quantity": 0, "price": 265.0, "lead_time": 28 * DAY,
     "note": "in case the tiles get thicker"},
    {"slot": "cable chain, 18 x 37", "quantity": 2, "price": 31.0, "lead_time": 7 * DAY, "ordered": "2026-08-03"}]
DRIVES, WORKSHOP, FAR_OFF = "the drive dealer", "the workshop next door", "a maker overseas"


def bought(slot: str, price: float, days: float, supplier: str, ordered: str = "2026-08-03", arrived: str = "2026-08-24"
           ) -> dict[str, Any]:
    """A part that was ordered, and has come or not."""
    return {"slot": slot, "price": price, "lead_time": days * DAY, "supplier": supplier, "ordered": ordered, "arrived": arrived}


OF_AXES: dict[str, list[dict[str, Any]]] = {  # what was paid for the parts of each axis; a rotary table came last, and a rack too
    "X": [bought("motor", 62.0, 9, DRIVES), bought("driver", 48.0, 9, DRIVES), bought("train 0", 14.5, 9, DRIVES),
          bought("train 1", 71.0, 16, FAR_OFF, arrived="2026-09-02")],
    "Y": [bought("motor", 78.0, 9, DRIVES), bought("driver", 54.0, 9, DRIVES),
          bought("train 0", 165.0, 30, FAR_OFF, arrived="2026-09-04"), bought("train 1", 96.0, 21, WORKSHOP)],
    "Z": [bought("motor", 118.0, 20, DRIVES), bought("driver", 61.0, 9, DRIVES), bought("train 0", 14.5, 9, DRIVES),
          bought("train 1", 89.0, 14, WORKSHOP)],
    "W": [bought("motor", 97.0, 5, DRIVES), bought("driver", 66.0, 3, DRIVES), bought("train 0", 13.0, 9, DRIVES),
          bought("train 1", 74.0, 14, WORKSHOP)],
    "C": [bought("motor", 24.0, 9, DRIVES), bought("driver", 39.0, 9, DRIVES),
          {"slot": "train 0", "price": 240.0, "lead_time": 35 * DAY, "supplier": FAR_OFF}]}
DISC: dict[str, Any] = {  # S, the trimming disc, wet, which cuts tiles to shape
    "name": "S", "motor": {
        "kind": "brushless", "name": "400 W brushless, 57 mm", "rated_power": 400.0, "short_time_power": 640.0,
        "rated_speed": 3000 * RPM, "max_speed": 6000 * RPM, "rated_torque": 1.27, "peak_torque": 2.9, "rated_voltage": 230.0,
        "efficiency": 0.84, "power_factor": 0.62, "rotor_inertia": 5.8e-5, "counts_per_turn": 4096},
    "ratio": 0.625, "efficiency": 0.95, "inertia": 9.5e-4, "friction_torque": 0.06, "belt_stiffness": 85.0,
    "transmission": "toothed belt", "tool_teeth": 20, "single_phase_derate": 1.0, "share_without_fan": 0.6,
    "speeds": {"lowest": 4000 * RPM, "highest": 9000 * RPM},
    "cut": {"specific_energy": 1.1e10, "removal_rate": 2.1e-8, "speed": 7500 * RPM},
    "control_mode": "velocity", "encoder_at": "motor", "stop_by": "drive", "current_loop_bandwidth": 900.0,
    "velocity_sample_time": 2.5e-4,
    "speed_table": {"command": [0.0, 2.0, 4.0, 6.0, 8.0, 10.0], "speed": [0.0, 178.0, 377.0, 572.0, 762.0, 943.0]}}
MACHINE_CYCLE: list[dict[str, Any]] = [  # to the tile's place, turned; down, pressed on; up; the sand is levelled
    {"axes": ["X", "Y", "C"]}, {"axes": ["Z"], "dwell": 0.4}, {"axes": ["Z"]}, {"axes": ["X", "W"]}]
SUPPLY: dict[str, Any] = {
    "mains_voltage": 230.0, "circuit_rating": 10.0, "supply_kind": "linear", "supply_voltage": 48.0, "supply_power": 750.0,
    "supply_capacitance": 0.022, "supply_efficiency": 0.85, "power_factor": 0.65, "standing_load": 14.0}


def with_library_driver(axis: dict[str, Any]) -> dict[str, Any]:
    """An axis whose driver is one of the library, with what is set on it."""
    part = next(part for part in shipped_parts() if part.name == axis["driver"]["name"])
    kept = {key: value for key, value in part.values.items() if key in DriverModel.model_fields}
    return {**axis, "driver": {**kept, **axis["driver"]}}
