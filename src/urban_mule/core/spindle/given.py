"""What the user knows of a drive that turns a tool: its motor, what lies between, the cut, the mains, the command."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.spindle.schools import BRAKES, CONTROL_MODES, ENCODERS, TRANSMISSIONS, Option

SHORT_TIME = 1.5  # of the rated power, where the sheet does not say


def _names(ways: tuple[Option, ...]) -> tuple[str, ...]:
    return tuple(one.name for one in ways)


class SpindleMotor:
    """Figures of the motor; speeds [rad/s]."""

    rated_power: Reals = given("W", "P_n", "power that it may give continuously", above=0)
    short_time_power: Reals = given("W", "P_s", "power that it gives for a short time; one and a half times the rated when empty",
        above=0)
    rated_speed: Reals = given("rad/s", "ω_n", "speed at which it gives its rated power", above=0, shown="rpm")
    max_speed: Reals = given("rad/s", "ω_m", "greatest speed of the motor at its rated voltage", above=0, shown="rpm")
    rated_torque: Reals = given("N·m", "T_n", "torque that it may give continuously", above=0)
    peak_torque: Reals = given("N·m", "T_p", "torque that it gives for a short time", above=0)
    rated_voltage: Reals = given("V", "U_n", "mains voltage for which the sheet holds", above=0)
    efficiency: Reals = given("", "η_m", "of the motor", above=0, most=1, shown="%")
    power_factor: Reals = given("", "cos φ", "of the motor", above=0, most=1)
    rotor_inertia: Reals = given("kg·m²", "J_r", "moment of inertia of the rotor", above=0)
    counts_per_turn: Reals = given("", "N_c", "counts of its encoder a turn", whole=True, least=1, plural=True)


class Spindle:
    """What lies between motor and tool, and what feeds it."""

    ratio: Reals = given("", "i", "motor turns a turn of the tool", default=1.0, above=0)
    efficiency: Reals = given("", "η", "from motor to tool", default=1.0, above=0, most=1, shown="%")
    belt_stiffness: Reals = given("N·m/rad", "k_b", "of the belt or gear, at the tool", above=0)
    inertia: Reals = given("kg·m²", "J_t", "moment of inertia of the tool and what turns with it", least=0)
    friction_torque: Reals = given("N·m", "T_f", "bearings, seals and wind, at the tool", default=0.0, least=0)
    phases_in: Reals = given("", "", "phases of the mains that feed it", default=1, label="Phases of the mains", whole=True,
        least=1, most=3, plural=True)
    single_phase_derate: Reals = given("", "d", "share of all powers left on a single phase", default=1.0, above=0,
        most=1, shown="%", label="Share left on a single phase")
    electronic_gear_numerator: Reals = given("", "G_n", "counts of the electronic gear", default=1, whole=True,
        least=1, label="Gear numerator, counts")
    electronic_gear_denominator: Reals = given("", "G_d", "pulses of the electronic gear", default=1, whole=True,
        least=1, label="Gear denominator, pulses")
    max_pulse_rate: Reals = given("Hz", "f_p", "greatest pulse rate of the controller", above=0, shown="kHz",
        label="Controller's highest step rate")
    transmission: str | None = given("", "", "what lies between motor and tool", choices=_names(TRANSMISSIONS))
    tool_teeth: Reals = given("", "z_t", "teeth of the tool's pulley or wheel", whole=True, least=1,
        label="Teeth of the tool", plural=True)
    slip: Reals = given("", "s", "share of the speed that a belt loses in the cut", least=0, most=0.5, shown="%")
    stop_by: str | None = given("", "", "what stops the tool", choices=_names(BRAKES), label="Stopping method")
    brake_torque: Reals = given("N·m", "T_b", "of a brake, at the tool", above=0)
    encoder_at: str | None = given("", "", "where its encoder sits", choices=_names(ENCODERS), label="Place of the encoder")
    control_mode: str | None = given("", "", "what the drive is told", choices=_names(CONTROL_MODES), label="Control mode")
    share_without_fan: Reals = given("", "f_0", "share of the rated power that it may give continuously without its fan",
        above=0, most=1,
        shown="%", label="Torque share without a fan")


class Speeds:
    """Speeds of the tool that are wanted."""

    lowest: Reals = given("rad/s", "ω_lo", "lowest speed of the tool", above=0, shown="rpm")
    highest: Reals = given("rad/s", "ω_hi", "highest speed of the tool", above=0, shown="rpm")


class Cut:
    """What is cut."""

    specific_energy: Reals = given("J/m³", "k_c", "energy that takes off a volume", above=0, shown="J/mm³")
    removal_rate: Reals = given("m³/s", "Q", "volume taken off a second", above=0, shown="mm³/s")
    speed: Reals = given("rad/s", "ω_c", "speed of the tool in the cut", above=0, shown="rpm")
    thread_pitch: Reals = given("m", "p", "pitch of a thread that is cut", above=0, shown=("mm", ""))
