"""What stands on the Ring stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import StageSpec, of

SPEC = StageSpec(
    "Ring", (("ring", "urban_mule.desk.stages.ring.picture:RingPicture"),), of("axis", "path_tolerance"),
    (("sample_rate", "time base"),
     ("top_acceleration", "acceleration"),
     ("rotor_resonance", "")),
    "During a sweep the axis shakes hard: clear the table, fix the sensor well, keep a hand on the stop.",
    ("acceleration", "ripple"),
    view="urban_mule.desk.stages.ring.stage:RingStage",
)
