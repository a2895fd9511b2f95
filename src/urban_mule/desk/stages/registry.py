"""What stands on each stage: fields, results, picture, caution. To add a stage, add it here and to the trail."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True)
class StageSpec:
    """One stage of the trail.

    fields: (part of the document, given): part is motor, driver, controller, axis or project. results: (quantity, check
    that judges it or nothing). leaves: word and `module:Class` of each picture, imported when it is first shown.
    readings: kinds of readings that can be taken here. further: fields behind another leaf, by kind of motor.
    """

    name: str
    leaves: tuple[tuple[str, str], ...]
    fields: tuple[tuple[str, str], ...] = ()
    results: tuple[tuple[str, str], ...] = ()
    caution: str = ""
    readings: tuple[str, ...] = ()
    further: Mapping[str, tuple[tuple[str, str], ...]] = field(default_factory=dict)


def leaf(word: str, where: str) -> tuple[str, str]:
    """A leaf: its word, and its picture as `module:Class` below the desk."""
    return word, f"urban_mule.desk.{where}"


def of(part: str, *names: str) -> tuple[tuple[str, str], ...]:
    return tuple((part, name) for name in names)


BRIEF = StageSpec(
    "Brief", (leaf("brief", "stages.brief.brief:BriefPicture"),),
    of("axis", "speed_wanted", "acceleration_wanted", "accuracy_wanted", "travel")
    + of("project", "mains_voltage", "circuit_rating", "ambient_temperature") + of("driver", "supply_voltage"),
    (("top_speed", "cycle"), ("top_acceleration", "cycle"), ("positioning_accuracy", "accuracy"),
     ("working_margin", "torque margin")),
    "Mains wiring and the emergency stop: local electrical code and a licensed electrician decide, not this program.",
)
LOAD = StageSpec(
    "Load", (leaf("chain", "stages.load.chain:ChainPicture"), leaf("cycle", "shared.cycle:CyclePicture"),
             leaf("checks", "shared.verdicts:LoadVerdicts")),
    of("axis", "moving_mass", "load_inertia", "incline", "friction_coefficient", "friction_force", "friction_torque",
       "process_force", "process_torque", "counterbalance_force"),
    (("travel_per_turn", ""), ("load_inertia_at_motor", "inertia ratio"), ("peak_torque", "torque margin"),
     ("static_torque", "vertical axis"), ("fall_distance", "vertical axis"),
     ("first_axial_mode", "stiffness"), ("predicted_lost_motion", "lost motion")),
    "A vertical axis drops when power goes. Block it before reaching under it; keep fingers from belts and pinions.",
)
MOTOR = StageSpec(
    "Motor", (leaf("torque", "stages.motor.motor:MotorPicture"), leaf("winding", "stages.motor.heat:HeatPicture"),
              leaf("spread", "stages.motor.spread:SpreadPicture"),
              leaf("checks", "shared.verdicts:MotorVerdicts")),
    of("motor", "holding_torque", "rated_torque", "motor_peak_torque", "rated_current", "rated_current_is", "rated_speed",
       "max_speed", "rated_voltage", "counts_per_turn", "phase_resistance", "phase_inductance", "rotor_inertia", "step_angle",
       "drag_torque", "peak_time", "wiring", "figures_for")
    + of("driver", "supply_voltage") + of("axis", "safety_factor"),
    (("peak_torque", ""), ("working_margin", "torque margin"), ("rms_torque", "continuous torque"),
     ("inertia_ratio", "inertia ratio"), ("cycle_temperature_rise", "cycle heat"),
     ("available_torque_at_peak_speed", "reachable speed"), ("speed_limit", "")),
    "Motors and drivers get hot enough to burn. Never unplug a motor while the driver is powered.",
    further={
        "stepper": of("motor", "thermal_resistance", "thermal_time_constant", "phase_resistance")
        + of("driver", "current_peak", "hold_fraction") + of("project", "ambient_temperature"),
        "servo": of("motor", "torque_constant_rms", "pole_pairs", "phase_resistance", "phase_inductance", "winding_figures_are",
                    "thermal_resistance", "thermal_time_constant") + of("project", "ambient_temperature")},
)
DRIVE = StageSpec(
    "Drive", (leaf("drive", "stages.drive.drive:DrivePicture"),),
    of("driver", "current_peak", "microsteps", "hold_fraction", "current_limit", "supply_voltage", "voltage_drop",
       "minimum_pulse_width", "voltage_limit") + of("controller", "max_pulse_rate"),
    (("current_rms", "set current"), ("voltage_needed", "supply voltage"), ("pulse_rate", "pulse rate"), ("incremental_torque", ""),
     ("reversal_microsteps", "microsteps"), ("holding_force", "standstill"), ("holding_temperature_rise", "")),
    "Set switches and jumpers with the power off. Supplies keep their charge for minutes.",
)
SCALE = StageSpec(
    "Scale", (leaf("scale", "stages.scale.scale:ScalePicture"),),
    of("driver", "microsteps") + of("motor", "step_angle", "counts_per_turn")
    + of("driver", "electronic_gear_numerator", "electronic_gear_denominator"),
    (("steps_per_unit", ""), ("step_length", ""), ("scale_ratio", "scale"), ("scale_ratio_uncertainty", ""),
     ("corrected_steps_per_unit", "scale")),
    "After changing steps per unit, make the first move short and slow, with a hand on the stop.", ("travel",),
)
MOVES = StageSpec(
    "Moves", (leaf("cycle", "shared.cycle:CyclePicture"),), (),
    (("cycle_duration", ""), ("top_speed", "cycle"), ("top_acceleration", "cycle"), ("peak_torque", "torque margin"),
     ("braking_distance", ""), ("regenerated_energy", "")),
    "Keep clear while it moves. A soft stop is a convenience; the emergency stop must remove power.",
)
SLACK = StageSpec(
    "Slack", (leaf("slack", "stages.slack.slack:SlackPicture"),), of("axis", "accuracy_wanted"),
    (("backlash", "backlash"), ("backlash_uncertainty", ""), ("backlash_variation", ""), ("reversal_lag", ""), ("step_length", "")),
    "Pinch points: take the power off before adjusting preload by hand.", ("reversal",),
)
RING = StageSpec(
    "Ring", (leaf("ring", "stages.ring.ring:RingPicture"),), of("axis", "path_tolerance"),
    (("sample_rate", "time base"), ("top_acceleration", "acceleration"), ("rotor_resonance", "")),
    "During a sweep the axis shakes hard: clear the table, fix the sensor well, keep a hand on the stop.", ("acceleration",),
)
PROOF = StageSpec(
    "Proof", (leaf("proof", "stages.proof.proof:ProofPicture"),), of("axis", "accuracy_wanted"),
    (("positioning_accuracy", "accuracy"), ("repeatability", ""), ("reversal_value", ""), ("systematic_deviation", ""),
     ("mean_deviation_range", "")),
    "The run goes from end to end: check cables and clearances over the whole travel first.", ("positioning",),
)
LOG = StageSpec("Log", (leaf("log", "stages.log.log:LogPicture"),))
SPECS = {spec.name: spec for spec in (BRIEF, LOAD, MOTOR, DRIVE, SCALE, MOVES, SLACK, RING, PROOF, LOG)}
