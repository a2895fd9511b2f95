"""What stands on the Ring stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

ROOM = "urban_mule.desk.stages.ring"
SPECS = (StageSpec(
    "Ring", (("spectrum", f"{ROOM}.picture:RingPicture"), ("shapers", f"{ROOM}.trade:TradePicture"),
             ("move", f"{ROOM}.ending:EndPicture"), ("compare", f"{ROOM}.compare:ComparePicture"),
             ("causes", f"{ROOM}.causes:HumpCauses"),
             ("test piece", f"{ROOM}.piece:PiecePicture")),
    of("axis", "path_tolerance", "shaper_kind", "shaper_frequency"),
    (("acceleration_to_set", "acceleration"),
     ("shaper_duration", ""),
     ("top_acceleration", "acceleration"),
     ("sample_rate", "time base"),
     ("resonance_to_compare", "first mode"),
     ("first_axial_mode", ""),
     ("rotor_compliance_share", ""),
     ("rotor_resonance", "")),
    "During a sweep the axis shakes hard: clear the table, fix the sensor well, keep a hand on the stop.",
    ("acceleration", "ripple"), standing=("causes", "move", "test piece"),
    behind={"test piece": Behind((), (("ripple_frequency", ""), ("ripple_damping_ratio", "")))},
    nothing={"shapers": ("No record of the vibration was taken.", "From one it is computed what each shaper leaves.")},
    view=f"{ROOM}.stage:RingStage",
),)
