"""What stands on the Brief stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import StageSpec, of

SPEC = StageSpec(
    "Brief", (("goals", "urban_mule.desk.stages.brief.picture:BriefPicture"),
              ("trust", "urban_mule.desk.stages.brief.trust:TrustPicture")),
    of("axis", "speed_wanted", "acceleration_wanted", "accuracy_wanted", "travel")
    + of("project", "mains_voltage", "circuit_rating", "ambient_temperature") + of("driver", "supply_voltage"),
    (("top_speed", "cycle"),
     ("top_acceleration", "cycle"),
     ("positioning_accuracy", "accuracy"),
     ("working_margin", "torque margin")),
    "Mains wiring and the emergency stop: local electrical code and a licensed electrician decide, not this program.",
)
