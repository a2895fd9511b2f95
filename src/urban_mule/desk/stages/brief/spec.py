"""What stands on the Brief stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

ROOM = "urban_mule.desk.stages.brief"
SPECS = (StageSpec(
    "Brief", (("goals", f"{ROOM}.picture:BriefPicture"), ("set", f"{ROOM}.settings_leaf:SettingsPicture"),
              ("decisions", f"{ROOM}.decisions:DecisionsPicture"),
              ("parts", f"{ROOM}.parts:PartsPicture"), ("safety", f"{ROOM}.safety:SafetyPicture"),
              ("trust", f"{ROOM}.trust:TrustPicture")),
    of("axis", "speed_wanted", "acceleration_wanted", "accuracy_wanted", "travel")
    + of("project", "mains_voltage", "circuit_rating", "ambient_temperature") + of("driver", "supply_voltage"),
    (("top_speed", ""),
     ("top_acceleration", ""),
     ("positioning_accuracy", "accuracy"),
     ("working_margin", "torque margin")),
    "Mains wiring and the emergency stop: local electrical code and a licensed electrician decide, not this program.",
    behind={"set": Behind(of("axis", "speed_wanted", "path_tolerance", "settle_tolerance", "safety_factor")
                          + of("axis", "shaper_kind", "shaper_frequency")),
            "decisions": Behind(()), "parts": Behind(of("project", "budget")), "safety": Behind(of("project", "debounce_time")),
            "trust": Behind(())},
    judged={"parts": ("parts fit",)},
    view=f"{ROOM}.stage:BriefStage",
),)
