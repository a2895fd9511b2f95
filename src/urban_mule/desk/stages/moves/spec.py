"""What stands on the Moves stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

ROOM = "urban_mule.desk.stages.moves"
SPECS = (StageSpec(
    "Moves", (("cycle", "urban_mule.desk.shared.cycle:CyclePicture"), ("first power", f"{ROOM}.first_power:FirstPowerPicture"),
              ("coils", f"{ROOM}.coils:CoilsPicture"), ("directions", f"{ROOM}.directions:DirectionsPicture"),
              ("ends", f"{ROOM}.ends:EndsPicture"), ("stall", f"{ROOM}.stall:StallPicture"),
              ("ladder", f"{ROOM}.ladder:LadderPicture"),
              ("all axes", f"{ROOM}.machine:MachinePicture")), (),
    (("cycle_duration", ""),
     ("top_speed", "cycle"),
     ("top_acceleration", "cycle"),
     ("peak_torque", "torque margin"),
     ("braking_distance", ""),
     ("regenerated_energy", "")),
    "Keep clear while it moves. A soft stop is a convenience; the emergency stop must remove power.", ("homing", "ladder"),
    standing=("cycle", "first power", "coils", "directions", "ends", "stall", "ladder", "all axes"),
    behind={
        "first power": Behind((), ()),
        "directions": Behind(of("axis", "moves_what", "direction_seen", "direction_turned_in"), ()),
        "ends": Behind(of("axis", "home_by", "home_end", "homing_speed", "zero_offset", "soft_limit_room", "switch_overtravel",
                          "reaction_time", "homing_acceleration", "switch_free", "switch_pressed", "switch_wire_off"), (
            ("homing_speed_limit", "way of homing"), ("soft_limit_low", "soft limits"), ("soft_limit_high", "soft limits"),
            ("homing_scatter", "homing"), ("homing_greatest_step", ""), ("homing_full_steps", "homing"))),
        "stall": Behind(of("axis", "stall_lowest", "stall_highest", "stall_greater_is", "stall_threshold"), ()),
        "coils": Behind(of("motor", "leads", "wiring", "phase_resistance"), ()),
        "all axes": Behind(of("project", "supply_power"), (("supply_power_by_balance", "supply power"),
                                                          ("supply_power_needed", "supply power"),
                                                          ("mains_current", ""), ("circuit_share", "circuit"))),
        "ladder": Behind(of("motor", "torque_factor"), (
            ("torque_share_held", "ladder"), ("torque_share_lost", "ladder"), ("ladder_acceleration", "ladder"),
            ("top_acceleration", ""))),
    },
    judged={"directions": ("direction",), "ends": ("way of homing", "switch", "soft limits", "homing"), "ladder": ("ladder",)},
    nothing={"ladder": ("No ladder was run.", "Speed and acceleration rise until steps are lost: what the motor really gives.")},
    of_steppers=("coils", "ladder"), view=f"{ROOM}.stage:MovesStage",
),)
