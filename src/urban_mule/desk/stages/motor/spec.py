"""What stands on the Motor stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

SPECS = (StageSpec(
    "Motor",
    (("torque", "urban_mule.desk.stages.motor.picture:MotorPicture"),
     ("winding", "urban_mule.desk.stages.motor.heat:HeatPicture"),
     ("both motors", "urban_mule.desk.stages.motor.both_motors:BothMotorsPicture"),
     ("spread", "urban_mule.desk.stages.motor.spread:SpreadPicture"),
     ("checks", "urban_mule.desk.shared.verdicts:MotorVerdicts")),
    of("motor", "holding_torque", "rated_torque", "motor_peak_torque", "rated_current", "rated_current_is", "rated_speed",
       "max_speed", "rated_voltage", "counts_per_turn", "phase_resistance", "phase_inductance", "rotor_inertia", "step_angle",
       "drag_torque", "peak_time", "leads", "wiring", "figures_for")
    + of("driver", "supply_voltage") + of("axis", "safety_factor"),
    (("peak_torque", ""),
     ("working_margin", "torque margin"),
     ("rms_torque", "continuous torque"),
     ("inertia_ratio", "inertia ratio"),
     ("cycle_temperature_rise", "cycle heat"),
     ("available_torque_at_peak_speed", "reachable speed"),
     ("speed_limit", "")),
    "Motors and drivers get hot enough to burn. Never unplug a motor while the driver is powered.",
    ("warming",), standing=("torque", "winding", "both motors", "spread", "checks"), measured_at=("winding",),
    behind={"winding": Behind(
        of("motor", "torque_constant_rms", "pole_pairs", "phase_resistance", "phase_inductance", "winding_figures_are",
           "thermal_resistance", "thermal_time_constant") + of("driver", "current_peak", "hold_fraction")
        + of("project", "ambient_temperature"),
        (("cycle_temperature_rise", "cycle heat"), ("warm_up_time", ""), ("temperature_rise", "winding temperature"),
         ("rated_temperature_rise", ""), ("holding_temperature_rise", ""), ("cycle_copper_loss", ""), ("copper_loss", ""),
         ("rated_copper_loss", ""), ("warming_rise", ""), ("warming_time_constant", ""),
         ("measured_thermal_resistance", ""))), "checks": Behind(()),
            "both motors": Behind((), (("pair_peak_torque", "torque margin"), ("pair_peak_speed", ""), ("pair_rms_torque", ""),
                                        ("pair_share", ""))),
            "spread": Behind((), (("working_margin", "torque margin"),))},
    of_pairs=("both motors",),
    judged={"winding": ("cycle heat", "winding temperature", "winding figures")},
    view="urban_mule.desk.stages.motor.stage:MotorStage",
),)
