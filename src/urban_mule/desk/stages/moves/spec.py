"""What stands on the Moves stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import StageSpec

SPEC = StageSpec(
    "Moves", (("cycle", "urban_mule.desk.shared.cycle:CyclePicture"),), (),
    (("cycle_duration", ""),
     ("top_speed", "cycle"),
     ("top_acceleration", "cycle"),
     ("peak_torque", "torque margin"),
     ("braking_distance", ""),
     ("regenerated_energy", "")),
    "Keep clear while it moves. A soft stop is a convenience; the emergency stop must remove power.",
    view="urban_mule.desk.stages.moves.stage:MovesStage",
)
