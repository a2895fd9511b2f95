"""What stands on the four stages of a drive that turns a tool."""

from __future__ import annotations

from urban_mule.desk.stages.spec import StageSpec, of

ROOM = "urban_mule.desk.stages.spindle"
KEY = "spindles"
VIEW = f"{ROOM}.stage:SpindleStage"
SPECS: tuple[StageSpec, ...] = (
    StageSpec(
        "Load", (("turning", f"{ROOM}.turning:TurningPicture"), ("schools", f"{ROOM}.ways:TransmissionWays")),
        of("cut", "specific_energy", "removal_rate", "cut_speed", "thread_pitch") + of("speeds", "lowest_speed", "highest_speed")
        + of("axis", "transmission", "ratio", "efficiency", "belt_stiffness", "tool_teeth", "slip", "inertia", "friction_torque"),
        (("cutting_power", ""), ("cutting_torque", ""), ("spindle_inertia_ratio", "spindle inertia"), ("synchronism_error", ""),
         ("thread_error", ""), ("tooth_frequency", "spindle teeth"), ("speed_lost_to_slip", "")),
        "A tool that turns: guard shut, nothing loose near it, never faster than the tool's own marking.", view=VIEW, key=KEY),
    StageSpec(
        "Motor", (("curve", f"{ROOM}.curve:CurvePicture"), ("size", f"{ROOM}.size:SizePicture")),
        of("motor", "rated_power", "short_time_power", "rated_speed", "max_speed", "rated_torque", "peak_torque", "rated_voltage",
           "motor_efficiency", "motor_power_factor", "rotor_inertia")
        + of("axis", "phases_in", "single_phase_derate", "share_without_fan") + of("project", "mains_voltage"),
        (("spindle_power_share", "cut"), ("spindle_torque_share", "cut"), ("spindle_speed_limit", "spindle speed"),
         ("spin_up_time", ""), ("spindle_input_current", "")),
        "Power off, a tool turns on until friction stops it. Mains wiring: local code and a licensed electrician decide.",
        view=VIEW, key=KEY, nothing=dict.fromkeys(("curve", "size"), (
            "Nothing is judged yet.", "Give the motor's power and speed, and the cut on Load."))),
    StageSpec(
        "Drive", (("control", f"{ROOM}.ways:ControlWays"), ("stop", f"{ROOM}.ways:BrakeWays"),
                  ("encoder", f"{ROOM}.ways:EncoderWays"), ("sag", f"{ROOM}.sag:SagPicture")),
        of("motor", "counts_per_turn") + of("axis", "control_mode", "encoder_at", "stop_by", "brake_torque", "max_pulse_rate",
                                            "electronic_gear_numerator", "electronic_gear_denominator", "current_loop_bandwidth",
                                            "velocity_sample_time", "velocity_bandwidth"),
        (("spindle_pulse_rate", "spindle pulses"), ("spindle_angle_per_pulse", ""), ("spindle_stop_time", "spindle stop"),
         ("spindle_stopping_energy", ""), ("spindle_inertia", ""), ("speed_sag", ""), ("sag_recovery_time", ""),
         ("spindle_bandwidth_limit", "")),
        "The stop removes the power through a contactor; with the power gone a tool without a brake coasts.", view=VIEW, key=KEY,
        judged={"stop": ("spindle stop",)}, nothing=dict.fromkeys(("control", "stop", "encoder"), (
            "Nothing is judged yet.", "Give pulses and gear, or what stops the tool."))),
    StageSpec(
        "Proof", (("command", f"{ROOM}.command:CommandPicture"),), (),
        (("command_residual", "speed command"), ("command_for_speed", ""), ("thread_error", "")),
        "The tool turns while it is measured: guard shut.", readings=("command",), standing=("command",),
        view=VIEW, key=KEY, nothing={"command": (
            "No table of commands was measured yet.", "Take the round: it asks for a voltage, and the speed that came of it.")}))
