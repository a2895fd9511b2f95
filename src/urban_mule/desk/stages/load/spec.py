"""What stands on the Load stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

SPECS = (StageSpec(
    "Load",
    (("chain", "urban_mule.desk.stages.load.chain:ChainPicture"),
     ("cycle", "urban_mule.desk.stages.load.cycle:LoadCycle"),
     ("both axes", "urban_mule.desk.stages.load.both_axes:BothAxes"),
     ("checks", "urban_mule.desk.shared.verdicts:LoadVerdicts")),
    of("axis", "moving_mass", "load_inertia", "incline", "friction_coefficient", "friction_force", "friction_torque",
       "process_force", "process_torque", "counterbalance_force", "counterweight_mass"),
    (("travel_per_turn", ""),
     ("load_inertia_at_motor", "inertia ratio"),
     ("peak_torque", "torque margin"),
     ("static_torque", "vertical axis"),
     ("fall_distance", "vertical axis"),
     ("first_resonance", "stiffness"),
     ("expected_lost_motion", "lost motion"),
     ("first_axial_mode", ""),
     ("rotor_compliance_share", ""),
     ("predicted_lost_motion", "")),
    "A vertical axis drops when power goes, or its counterbalance lifts it. Block it first; no fingers in belts and pinions.",
    behind={"cycle": Behind(()), "checks": Behind(()), "both axes": Behind((), (
        ("pair_peak_torque", ""), ("pair_peak_speed", ""), ("pair_rms_torque", ""), ("pair_share", ""),
        ("pair_tone_difference", "tones of both belts"), ("pair_stiffness_ratio", "softer belt")))},
    of_pairs=("both axes",),
    view="urban_mule.desk.stages.load.stage:LoadStage",
),)
