"""What stands on the Proof stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import StageSpec, of

SPEC = StageSpec(
    "Proof", (("proof", "urban_mule.desk.stages.proof.picture:ProofPicture"),), of("axis", "accuracy_wanted"),
    (("positioning_accuracy", "accuracy"),
     ("repeatability", ""),
     ("reversal_value", ""),
     ("systematic_deviation", ""),
     ("mean_deviation_range", "")),
    "The run goes from end to end: check cables and clearances over the whole travel first.", ("positioning", "drift"),
)
