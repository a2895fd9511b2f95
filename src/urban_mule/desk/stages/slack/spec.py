"""What stands on the Slack stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

ROOM = "urban_mule.desk.stages.slack"
SPECS = (StageSpec(
    "Slack", tuple((word, f"{ROOM}.{word}:{word.capitalize()}Picture")
                   for word in ("reversal", "push", "tone", "trend", "repairs", "upkeep")),
    of("axis", "accuracy_wanted", "windup_share"),
    (("backlash", "backlash"),
     ("expected_lost_motion", ""),
     ("backlash_variation", ""),
     ("backlash_compensation", ""),
     ("reversal_lag", "")),
    "Pinch points: take the power off before adjusting preload by hand.", ("reversal", "push", "tone", "drag"),
    standing=("repairs", "upkeep"),
    behind={
        "push": Behind(of("axis", "accuracy_wanted"), (
            ("free_play", "play or spring"), ("push_compliance", ""), ("contact_stiffness", ""))),
        "tone": Behind((), (("tone_tension", "belt tone"), ("pair_tone_difference", "tones of both belts"))),
        "trend": Behind(of("axis", "accuracy_wanted", "backlash_limit"), (
            ("wear_rate", "wear"), ("wear_days_left", "wear"))),
        "upkeep": Behind(of("axis", "hours_a_week"), (("running_rate", ""),)),
        "repairs": Behind(of("axis", "accuracy_wanted"), (("tone_tension", "belt tone"), ("preload_torque", "preload"))),
    },
    nothing={
        "reversal": ("The backlash is not measured yet.", "Go to each place from both ways and read the gauge."),
        "push": ("No push test was taken.", "Push the carriage by a spring scale, both ways, with rising force: it tells play from"
                                          " spring."),
        "tone": ("Only one of both belts was plucked, or none.", "Pluck the same length of each, the gantry at the same place."),
        "trend": ("A trend needs three dated sets of reversal readings since the backlash was last mended.",
                  "Weeks apart, under the same conditions.")},
    judged={"push": ("play or spring", "softer belt"), "tone": ("tones of both belts",), "trend": ("wear",),
            "repairs": ("belt tone", "preload")},
    of_pairs=("tone",),
),)
