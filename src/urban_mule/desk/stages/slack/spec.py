"""What stands on the Slack stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import StageSpec, of

SPEC = StageSpec(
    "Slack", (("slack", "urban_mule.desk.stages.slack.picture:SlackPicture"),), of("axis", "accuracy_wanted"),
    (("backlash", "backlash"),
     ("backlash_uncertainty", ""),
     ("backlash_variation", ""),
     ("reversal_lag", ""),
     ("step_length", "")),
    "Pinch points: take the power off before adjusting preload by hand.", ("reversal", "push", "tone", "drag"),
)
