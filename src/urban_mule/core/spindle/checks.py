"""Judgements on a drive that turns a tool."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.units import RPM
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import size

RUNS_ON = 10.0  # s after which people no longer wait for a tool to stand
USUAL_RATIO = 10.0  # to which most drives keep a tool under control


@check("cut", stage="Motor", main=True)
def cut_is_pulled(spindle_power_share: Reals, spindle_torque_share: Reals) -> Verdict:
    """Whether the motor pulls the cut continuously."""
    share = max(float(spindle_power_share), float(spindle_torque_share))
    said = f"The cut takes {size(100 * share)} % of what the motor gives continuously"
    if share > 1:
        return Verdict("short", f"{said}.", "Take off less, change the ratio, or take one size up.", headroom=0.0)
    if share > 0.8:
        return Verdict("tight", f"{said}: little is left for a blunt tool.", "Take off less, or one size up.",
                       "Rule of thumb: a size up where the work will grow and mains and frame allow it; else it only costs.",
                       headroom=0.2)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=1 - share)


@check("spindle speed", stage="Motor")
def speed_is_reached(
    spindle_speed_limit: Reals, highest_speed: Reals, mains_voltage: Reals = None, rated_voltage: Reals = None
) -> Verdict:
    """Whether the tool turns as fast as is wanted, on this mains."""
    limit, wanted = float(spindle_speed_limit) / RPM, float(highest_speed) / RPM
    on = "as its sheet says, on no voltage that is known" if mains_voltage is None else f"on {size(float(mains_voltage))} V"
    if wanted > limit * (1 + 1e-9):
        why = " It reaches full speed on the higher mains voltage only." if rated_voltage and mains_voltage and (
            mains_voltage < rated_voltage) else ""
        return Verdict("short", f"It turns up to {size(limit)} a minute {on}; {size(wanted)} are wanted.{why}",
                       "Change the ratio, or the mains.", headroom=0.0)
    said = f"It turns up to {size(limit)} a minute {on}; {size(wanted)} are wanted."
    if mains_voltage is None:
        return Verdict("tight", said, "Give mains and rated voltage.", headroom=0.3)
    return Verdict("good", said, "Nothing to do.", headroom=0.8)


@check("spindle inertia", stage="Load")
def inertia_suits(spindle_inertia_ratio: Reals, control_mode: str | None = None) -> Verdict:
    """Whether the motor keeps hold of what it turns."""
    ratio = float(spindle_inertia_ratio)
    said = f"The tool has {size(ratio)} times the inertia of the rotor"
    if ratio > USUAL_RATIO and control_mode in ("velocity", "torque"):
        return Verdict("good", f"{said}; for {control_mode} alone that does.", "For threads and angles change the ratio first.",
                       headroom=0.5)
    if ratio > USUAL_RATIO:
        return Verdict("tight", f"{said}; up to {size(USUAL_RATIO)} is usual for control of position.",
                       "For a speed alone it does; for threads and angles change the ratio.",
                       "Rule of thumb: position wants a ratio; a speed alone does not.", headroom=0.2)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.8)


@check("spindle pulses", stage="Drive", applies=lambda solution: solution.get("control_mode") in (None, "position"))
def pulses_suit(spindle_pulse_rate: Reals, max_pulse_rate: Reals) -> Verdict:
    """Whether the controller's pulses reach the highest speed."""
    share = float(spindle_pulse_rate / max_pulse_rate)
    kilo = float(spindle_pulse_rate) / 1e3
    said = f"The highest speed takes {size(kilo)} kHz, {size(100 * share)} % of what the controller gives"
    if share > 1:
        return Verdict("short", f"{said}.", "Raise the electronic gear: fewer pulses a turn, coarser steps.", headroom=0.0)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=1 - share)


@check("speed command", stage="Proof")
def command_is_straight(command_residual: float) -> Verdict:
    """Whether a voltage is a speed."""
    said = f"The command departs by {size(100 * command_residual)} % from a straight line"
    if command_residual > 0.02:
        return Verdict("tight", f"{said}.", "Command through the measured table, not by a factor.", headroom=0.3)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.8)


@check("spindle stop", stage="Drive", applies=lambda solution: solution.get("stop_by") is not None)
def tool_stops(
    stop_by: str, spindle_stop_time: Reals, spindle_stopping_energy: Reals, spindle_coast_time: Reals = None
) -> Verdict:
    """How long a tool runs on, and how long when the power goes and its drive cannot brake."""
    time, energy = float(spindle_stop_time), float(spindle_stopping_energy)
    said = f"By {'the ' if stop_by != 'coasting' else ''}{stop_by} it stands after {size(time)} s; {size(energy)} J go into it"
    guard = "Keep a guard shut until it stands, or brake it; local code may ask for both."
    if stop_by == "drive":
        if spindle_coast_time is None:
            return Verdict("unknown", f"{said}. With the power gone the drive brakes nothing and it coasts: for how long is not"
                           " known.", f"Friction torque of the tool says it. {guard}", missing=("friction_torque",))
        coasts, said = float(spindle_coast_time), f"{said}. With the power gone it coasts {size(float(spindle_coast_time))} s"
        return Verdict("tight" if max(time, coasts) > RUNS_ON else "good", f"{said}.",
                       guard if max(time, coasts) > RUNS_ON else "Wait until it stands.", headroom=0.3 if coasts > RUNS_ON else 0.6)
    if time > RUNS_ON:
        return Verdict("tight", f"{said}.", guard, headroom=0.3)
    return Verdict("good", f"{said}.", "Wait until it stands.", headroom=0.8)


@check("spindle heat", stage="Motor")
def fan_is_needed(spindle_power_share: Reals, share_without_fan: Reals) -> Verdict:
    """Whether the motor does without its fan."""
    share = float(spindle_power_share / share_without_fan)
    said = f"Without its fan the cut takes {size(100 * share)} % of what the motor is rated for continuously"
    if share > 1:
        return Verdict("tight", f"{said}.", "Keep its fan running and clean, and stop when it fails.", headroom=0.3)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=max(0.0, 1 - share))


@check("spindle teeth", stage="Load", applies=lambda solution: solution.get("tool_teeth") is not None)
def teeth_sing(tooth_frequency: Reals) -> Verdict:
    """Where the teeth are heard most."""
    kilo = float(tooth_frequency) / 1e3
    said = f"At the highest speed {size(1e3 * kilo)} teeth a second mesh"
    if 1.0 <= kilo <= 5.0:
        return Verdict("tight", f"{said}, where ears are keenest.",
                       "Fewer teeth, a finer or slanted tooth, or a v-belt where slip is allowed.",
                       "Two approaches: teeth keep the angle and sing; a v-belt is quiet and slips.", headroom=0.4)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.8)
