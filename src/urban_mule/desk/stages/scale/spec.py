"""What stands on the Scale stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

ROOM = "urban_mule.desk.stages.scale"
SPECS = (StageSpec(
    "Scale", (("chain", f"{ROOM}.picture:ScalePicture"), ("causes", f"{ROOM}.causes:CausesPicture"),
                         ("lengths", f"{ROOM}.lengths:LengthsPicture"), ("all axes", f"{ROOM}.all_axes:AllAxesPicture")),
    of("driver", "microsteps") + of("motor", "step_angle", "counts_per_turn")
    + of("driver", "electronic_gear_numerator", "electronic_gear_denominator") + of("controller", "nominal_steps_per_unit"),
    (("steps_per_unit", ""),
     ("step_length", ""),
     ("scale_ratio", "scale"),
     ("steps_per_unit_to_set", "scale")),
    "After changing steps per unit, make the first move short and slow, with a hand on the stop.", ("travel", "lengths"),
    standing=("chain", "causes", "all axes"),
    behind={"lengths": Behind(of("axis", "expansion"), (
        ("scale_ratio", "scale"), ("length_slope", ""),
        ("length_offset", ""), ("thermal_scale", ""), ("steps_per_unit_to_set", "scale")))},
),)
