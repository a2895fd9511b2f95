"""What stands on the Drive stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import StageSpec, of

SPEC = StageSpec(
    "Drive", (("drive", "urban_mule.desk.stages.drive.picture:DrivePicture"),),
    of("driver", "current_peak", "microsteps", "hold_fraction", "current_limit", "supply_voltage", "voltage_drop",
       "minimum_pulse_width", "voltage_limit") + of("controller", "max_pulse_rate"),
    (("current_rms", "set current"),
     ("voltage_needed", "supply voltage"),
     ("pulse_rate", "pulse rate"),
     ("incremental_torque", ""),
     ("reversal_microsteps", "microsteps"),
     ("holding_force", "standstill"),
     ("holding_temperature_rise", "")),
    "Set switches and jumpers with the power off. Supplies keep their charge for minutes.",
)
