"""What stands on the Moves stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

ROOM = "urban_mule.desk.stages.moves"
SPEC = StageSpec(
    "Moves", (("cycle", "urban_mule.desk.shared.cycle:CyclePicture"), ("ends", f"{ROOM}.ends:EndsPicture"),
              ("stall", f"{ROOM}.stall:StallPicture"), ("ladder", f"{ROOM}.ladder:LadderPicture"),
              ("coils", f"{ROOM}.coils:CoilsPicture")), (),
    (("cycle_duration", ""),
     ("top_speed", "cycle"),
     ("top_acceleration", "cycle"),
     ("peak_torque", "torque margin"),
     ("braking_distance", ""),
     ("regenerated_energy", "")),
    "Keep clear while it moves. A soft stop is a convenience; the emergency stop must remove power.", ("homing", "ladder"),
    standing=("cycle", "ends", "stall", "ladder", "coils"),
    behind={
        "ends": Behind(of("axis", "switch_overtravel", "reaction_time", "homing_acceleration"), (
            ("homing_speed_limit", ""), ("homing_scatter", "homing"), ("homing_greatest_step", ""),
            ("homing_full_steps", "homing"))),
        "stall": Behind(of("axis", "stall_lowest", "stall_highest", "stall_greater_is", "stall_threshold"), ()),
        "coils": Behind(of("motor", "leads", "wiring", "phase_resistance"), ()),
        "ladder": Behind(of("motor", "torque_factor"), (
            ("torque_factor_least", "ladder"), ("torque_factor_most", "ladder"), ("ladder_acceleration", "ladder"),
            ("top_acceleration", ""))),
    },
    view=f"{ROOM}.stage:MovesStage",
)
