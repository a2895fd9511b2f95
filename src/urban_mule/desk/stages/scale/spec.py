"""What stands on the Scale stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import StageSpec, of

SPEC = StageSpec(
    "Scale", (("scale", "urban_mule.desk.stages.scale.picture:ScalePicture"),),
    of("driver", "microsteps") + of("motor", "step_angle", "counts_per_turn")
    + of("driver", "electronic_gear_numerator", "electronic_gear_denominator"),
    (("steps_per_unit", ""),
     ("step_length", ""),
     ("scale_ratio", "scale"),
     ("scale_ratio_uncertainty", ""),
     ("corrected_steps_per_unit", "scale")),
    "After changing steps per unit, make the first move short and slow, with a hand on the stop.", ("travel", "lengths"),
)
