"""What stands on the Ring stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import Behind, StageSpec, of

ROOM = "urban_mule.desk.stages.ring"
LOOPS = ("current_loop_bandwidth", "velocity_sample_time", "torque_filter_time", "velocity_feedforward", "mode_damping",
         "notch_frequency", "notch_width", "notch_depth", "velocity_gain", "velocity_integral", "position_gain", "gains_by",
         "velocity_gain_unit", "velocity_integral_unit", "position_gain_unit")
SPECS = (StageSpec(
    "Ring", (("spectrum", f"{ROOM}.picture:RingPicture"), ("shapers", f"{ROOM}.trade:TradePicture"),
             ("move", f"{ROOM}.ending:EndPicture"), ("compare", f"{ROOM}.compare:ComparePicture"),
             ("causes", f"{ROOM}.causes:HumpCauses"), ("test piece", f"{ROOM}.piece:PiecePicture"),
             ("loops", f"{ROOM}.loops:LoopsPicture"), ("response", f"{ROOM}.answer:AnswerPicture"),
             ("effort", f"{ROOM}.effort:EffortPicture")),
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
    ("acceleration", "ripple", "response", "effort", "tuning"),
    standing=("causes", "move", "test piece", "loops", "response", "effort"),
    behind={
        "loops": Behind(of("driver", *LOOPS), (
            ("velocity_gain_to_set", "velocity gain"), ("velocity_integral_to_set", ""), ("position_gain_to_set", "position gain"),
            ("velocity_gain_limit", ""), ("velocity_gain_rule", ""), ("position_gain_limit", ""), ("position_gain_rule", ""),
            ("following_error", ""), ("position_settle_time", ""), ("bandwidth_lost", ""), ("notch_buys", ""),
            ("velocity_sensitivity", ""),
            ("tuned_velocity_gain", ""), ("tuned_position_gain", ""))),
        "response": Behind((), (("response_overshoot", "response"), ("response_settling_time", ""), ("response_ringing", ""),
                                ("response_following", ""), ("following_error", ""))),
        "effort": Behind((), (("measured_inertia", ""), ("measured_coulomb", ""), ("measured_viscous", ""),
                              ("measured_gravity_torque", ""), ("loop_inertia", ""), ("creep_friction", ""))),
        "test piece": Behind((), (("ripple_frequency", ""), ("ripple_damping_ratio", "")))},
    nothing={"shapers": ("No record of the vibration was taken.", "From one it is computed what each shaper leaves.")},
    judged={"loops": ("velocity gain", "position gain"), "response": ("response",)},
    of_servos=("loops", "effort"), view=f"{ROOM}.stage:RingStage",
),)
