"""What stands on the Proof stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

ROOM = "urban_mule.desk.stages.proof"
SPECS = (StageSpec(
    "Proof", (("run", f"{ROOM}.picture:ProofPicture"), ("corrections", f"{ROOM}.corrections:CorrectionsPicture"),
              ("drift", f"{ROOM}.drift:DriftPicture"), ("circle", f"{ROOM}.circle:CirclePicture"),
              ("square", f"{ROOM}.circle:SquarePicture")), of("axis", "accuracy_wanted"),
    (("positioning_accuracy", "accuracy"),
     ("repeatability", ""),
     ("reversal_value", ""),
     ("systematic_deviation", ""),
     ("mean_deviation_range", ""),
     ("expected_accuracy", "expected accuracy"),
     ("expected_accuracy_corrected", "")),
    "The run goes from end to end: check cables and clearances over the whole travel first.", ("positioning", "drift"),
    standing=("drift", "circle", "square"),
    behind={
        "corrections": Behind(of("axis", "accuracy_wanted"), (
            ("positioning_accuracy", "accuracy"), ("accuracy_floor", "table"))),
        "drift": Behind(of("axis", "accuracy_wanted"), (
            ("drift_final", "drift"), ("drift_time_constant", ""), ("warm_up_time_needed", ""), ("drift_in_run", ""))),
        "circle": Behind((), ()), "square": Behind((), ())},
    nothing={
        "run": ("No positioning run is taken yet.", "From end to end, both ways, five times: ISO 230-2."),
        "drift": ("No warm-up run is taken yet.", "Stand the indicator at one place from cold, and read it as it warms.")},
    judged={"corrections": ("table",), "drift": ("drift",)},
),)
