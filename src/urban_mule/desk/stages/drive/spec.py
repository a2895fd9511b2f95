"""What stands on the Drive stage."""

from __future__ import annotations

from urban_mule.core.drive.interface import SIGNALS
from urban_mule.core.drive.waiting import CHARGE
from urban_mule.desk.stages.spec import Behind, StageSpec, of

ROOM = "urban_mule.desk.stages.drive"
SPECS = (StageSpec(
    "Drive",
    (*((word, f"{ROOM}.{word}:{word.capitalize()}Picture") for word in (
        "current", "cooling", "switches", "wiring", "microsteps", "chopping", "standstill", "supply")),
     ("checks", "urban_mule.desk.shared.verdicts:DriveVerdicts")),
    of("driver", "name", "current_peak", "current_entry", "entry_is", "sense_resistance",
       "sense_resistance_entered", "sense_resistance_extra", "trimmer_gain", "full_scale_voltage", "register_steps",
       "current_limit", "electronic_gear_numerator", "electronic_gear_denominator"),
    (("current_rms", "set current"),
     ("current_entry_value", "current setting"),
     ("reference_voltage", "current setting"),
     ("current_register", "current setting"),
     ("current_peak_real", "current setting"),
     ("torque_lost_to_setting", ""),
     ("current_as_typed", ""),
     ("pulse_rate", "pulse rate")),
    f"Set switches and jumpers with the power off. {CHARGE}",
    readings=("cooling",),
    standing=("current", "cooling", "switches", "wiring", "microsteps", "chopping", "standstill", "supply", "checks"),
    measured_at=("cooling",),
    behind={
        "checks": Behind(()),
        "cooling": Behind(
            of("driver", "bridge_resistance", "driver_standing_loss", "driver_temperature_limit", "cooling",
               "thermal_resistance_bare", "thermal_resistance_finned", "thermal_resistance_fan", "driver_thermal_resistance"),
            (("driver_temperature", "driver heat"), ("driver_loss", ""), ("driver_current_limit", ""),
             ("cooled_torque_share", ""), ("driver_warming_rise", ""), ("driver_warming_time_constant", ""),
             ("measured_cooled_resistance", ""))),
        "switches": Behind(of("driver", "interface_mode", "bus_address", "logic_supply", "logic_voltage")),
        "wiring": Behind(of("terminals", *SIGNALS)),
        "microsteps": Behind(
            of("driver", "microsteps", "interpolated_microsteps", "finest_microsteps", "minimum_pulse_width", "minimum_pulse_gap",
               "direction_setup") + of("controller", "max_pulse_rate") + of("project", "shared_pulses", "total_pulse_rate_limit"),
            (("step_length", ""), ("smooth_step_length", ""), ("reversal_microsteps", "microsteps"), ("incremental_torque", ""),
             ("pulse_rate", "pulse rate"), ("pulse_rate_limit", ""), ("total_pulse_rate", "pulses together"))),
        "chopping": Behind(
            of("driver", "chopping", "changeover_speed", "driver_clock", "quiet_torque_share"),
            (("quiet_margin", "chopping"), ("changeover_ticks", ""), ("changeover_full_step_rate", ""), ("resonant_speed", ""))),
        "standstill": Behind(
            of("driver", "hold_fraction") + of("axis", "lean_force"),
            (("holding_force", "standstill"), ("lean_shift", "leaned on"), ("hold_fraction_needed", ""), ("jump_travel", ""),
             ("axial_stiffness", ""), ("holding_temperature_rise", ""))),
        "supply": Behind(
            of("project", "supply_kind", "supply_voltage", "supply_power", "supply_capacitance", "supply_efficiency",
               "power_factor", "standing_load", "mains_voltage", "circuit_rating", "continuous_share", "supply_headroom",
               "phase_current_factor", "driver_efficiency")
            + of("driver", "supply_voltage", "voltage_drop", "voltage_limit"),
            (("supply_power_needed", "supply power"), ("supply_power_by_phases", ""), ("supply_power_by_balance", ""),
             ("bus_voltage_after_stop", "bus after a stop"), ("braking_capacitance_needed", ""), ("braking_power", ""),
             ("mains_current", ""), ("circuit_share", "circuit"),
             ("wait_before_reaching_in", ""), ("voltage_needed", "supply voltage"))),
    },
    nothing={
        "wiring": ("No wiring is entered yet.", "Type the controller's terminals as you call them; none for what is not used."),
        "switches": ("No switch or jumper of this driver is described yet.",
                     "Describe its switches, or take a driver of the library."),
        "chopping": ("How this driver chops is not said.", "Quiet is silent and weaker at speed; strong is heard and holds on."),
        "microsteps": ("No microsteps are given yet.", "Finer is smoother; coarser asks for fewer pulses."),
        "cooling": ("How this driver is cooled is not said.", "Bare, with fins or with a fan: its current limit follows."),
        "supply": ("No axis hangs on a supply yet.", "Give the axes their motors, drivers and cycles."),
        "current": ("No current is set yet.", "Type the current that is to flow in a phase, as peak.")},
    judged={
        "cooling": ("driver heat",), "switches": ("switches",), "wiring": ("wiring", "bus addresses"),
        "microsteps": ("microsteps", "pulse rate", "pulses together", "shared pulses"), "chopping": ("chopping",),
        "standstill": ("standstill", "leaned on"),
        "supply": ("supply power", "bus after a stop", "circuit", "axes on the supply")},
    of_steppers=("chopping", "standstill"), view=f"{ROOM}.stage:DriveStage",
),)
