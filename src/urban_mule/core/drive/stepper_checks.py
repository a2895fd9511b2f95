"""Judgements on what else is set on a stepper driver: microsteps, chopping, standstill."""

from __future__ import annotations

from urban_mule.core.drive.chopping import NEAR
from urban_mule.core.drive.microsteps import MicrostepSchool
from urban_mule.core.drive.standstill import HOLD_FACTOR
from urban_mule.core.load.cycle import Pieces
from urban_mule.core.load.fall import is_balanced
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import effort, microns, pace, share_of, size

CHOPPING_SCHOOLS = ("Three schools: quiet while it pulls enough; strong all the way, for all the torque and one steady sound; both,"
                    " changed over away from resonance and cruising speed.")
IDLE_SCHOOLS = ("Two schools: cut the current while idle, cooler and quieter; or hold at full, which does not move when somebody"
                " leans on it.")


@check("chopping", stage="Drive")
def chopping_keeps_its_torque(
    chopping: str | None = None, quiet_margin: Reals = None, safety_factor: float = 1.5, changeover_shaft_speed: Reals = None,
    resonant_speed: Reals = None, cycle_pieces: Pieces | None = None, travel_per_radian: Reals = None,
    changeover_speed: Reals = None, quiet_torque_share: Reals = None, unit: str = "mm",
) -> Verdict | None:
    """Whether quiet chopping still pulls, and whether it changes where the axis cruises or rings."""
    if chopping is None:
        return None
    if chopping == "both" and changeover_speed is None:
        raise NotKnown("the speed of the changeover is not given", "changeover_speed")
    if chopping != "strong" and quiet_torque_share is None:
        raise NotKnown("what quiet chopping leaves of the torque is not given", "quiet_torque_share")
    while_ = "" if quiet_margin is None else f"While quiet it pulls with {size(quiet_margin)} times to spare"
    if quiet_margin is not None and quiet_margin < 1:
        return Verdict("short", f"While quiet the motor gives {size(quiet_margin)} times what is needed: it loses steps.",
                       "Change over at a lower speed, or chop strongly.", CHOPPING_SCHOOLS, 0.0)
    if changeover_shaft_speed is not None and resonant_speed is not None and near(changeover_shaft_speed, resonant_speed):
        return Verdict("tight", f"It changes over at {pace(changeover_speed, unit)}, within a tenth of where the rotor rings.",
                       "Move the changeover well below or above it.", CHOPPING_SCHOOLS, 0.25)
    cruising = () if cycle_pieces is None or travel_per_radian is None else cruising_speeds(cycle_pieces, travel_per_radian)
    if changeover_shaft_speed is not None and any(near(changeover_shaft_speed, speed) for speed in cruising):
        return Verdict("tight", f"It changes over at {pace(changeover_speed, unit)}, within a tenth of a speed at which it cruises:"
                       " its voice changes all the time.", "Move the changeover away from that speed.", CHOPPING_SCHOOLS, 0.3)
    if quiet_margin is not None and quiet_margin < safety_factor:
        return Verdict("tight", f"{while_}, less than the {size(safety_factor)} wanted.", "Change over at a lower speed.",
                       CHOPPING_SCHOOLS, share_of(quiet_margin, 1.0, safety_factor))
    return Verdict("good", f"{while_ or 'Strong chopping keeps 100 % of the torque, and its sound'}.", "Nothing to do.",
                   CHOPPING_SCHOOLS, 0.8)


def near(one: float, other: float) -> bool:
    """Whether a changeover lies within a tenth of a speed; both [rad/s]."""
    return abs(one / other - 1) <= NEAR if other else False


def cruising_speeds(cycle_pieces: Pieces, travel_per_radian: Reals) -> tuple[float, ...]:
    """Shaft speeds at which the cycle runs evenly for a time [rad/s], each once."""
    p = cycle_pieces
    even = (p.direction != 0) & (p.duration > 0) & (p.acceleration_start == 0) & (p.acceleration_end == 0)
    return tuple(sorted({round(abs(float(speed)) / float(travel_per_radian), 9) for speed in p.speed_start[even]}))


@check("microsteps", stage="Drive")
def microsteps_move(
    creep_torque_plus: float, creep_torque_minus: float, set_torque: float, microsteps: float, reversal_microsteps: Reals = None,
    microstep_schools: tuple[MicrostepSchool, ...] = (),
) -> Verdict:
    """Whether a microstep still moves the load, or friction swallows several."""
    if reversal_microsteps is None:
        creeping = max(abs(creep_torque_plus), abs(creep_torque_minus))
        return Verdict("short", f"Creeping takes {size(creeping)} N·m, the set current gives {size(set_torque)} N·m: it does not"
                       " move.", "Raise the current or find what binds.", headroom=0.0)
    winner = next((one for one in microstep_schools if one.wins), None)
    school = "" if winner is None else (
        f"Of the three schools this one fits here: {winner.words}"
        f"{'' if winner.microsteps is None else f', {winner.microsteps} microsteps'} ({winner.decides}).")
    said = f"A reversal swallows {size(reversal_microsteps)} of the {microsteps:g} microsteps in a full step"
    if reversal_microsteps > microsteps / 2:
        return Verdict("short", f"{said}: friction takes most of the torque.", "Raise the current or find what binds.",
                       school, 0.0)
    if reversal_microsteps > 2:
        return Verdict("tight", f"{said}; finer steps place no better.", "Keep them for smoothness, not for accuracy.",
                       school, 0.35)
    return Verdict("good", f"{said}.", "Nothing to do.", school, 0.85)


@check("standstill", stage="Drive")
def holds_still(
    frictionless_static_torque: float, set_torque: float, hold_fraction: float, gravity_load: float,
    counterbalance_force: float = 0.0,
) -> Verdict | None:
    """Whether the idle current holds the load up, no friction counted on."""
    if is_balanced(gravity_load, counterbalance_force):
        return None
    ratio = hold_fraction * set_torque / frictionless_static_torque
    said = f"The idle current holds {size(ratio)} times the weight, no friction counted on"
    if ratio < 1:
        return Verdict("short", f"{said}: the axis drops when it rests.", "Raise the idle current or add a counterbalance.",
                       headroom=0.0)
    return Verdict("good" if ratio >= 2 else "tight", f"{said}.",
                   "Nothing to do." if ratio >= 2 else "Raise the idle current.", headroom=share_of(ratio, 1, 2))


@check("leaned on", stage="Drive")
def gives_way_little(
    lean_force: Reals = None, lean_shift: Reals = None, hold_fraction: float = 1.0, hold_fraction_needed: Reals = None,
    unit: str = "mm", accuracy_wanted: Reals = None, set_torque: Reals = None, travel_per_radian: Reals = None,
) -> Verdict | None:
    """What happens to the idle axis when somebody leans on it."""
    if lean_force is None or set_torque is None or travel_per_radian is None:
        return None
    needed = "no share of the current does" if hold_fraction_needed is None else f"{size(100 * hold_fraction_needed)} % would"
    leaned = f"Leaned on with {effort(lean_force, unit)}"
    if lean_shift is None:
        return Verdict("short", f"{leaned} the idle axis is pushed off its place at {size(100 * hold_fraction)} % of the current.",
                       f"Hold with more: with half as much again in hand {needed}.", IDLE_SCHOOLS, 0.0)
    said = f"{leaned} the idle axis gives way by {microns(lean_shift, unit)}"
    if hold_fraction_needed is None or hold_fraction < hold_fraction_needed * (1 - 1e-9):
        return Verdict("tight", f"{said} and comes back, with less than {HOLD_FACTOR:g} times in hand.",
                       f"Hold with more: {needed} hold with half as much again.", IDLE_SCHOOLS, 0.25)
    if accuracy_wanted is not None and lean_shift > accuracy_wanted:
        return Verdict("tight", f"{said}, more than the accuracy wanted, and comes back.",
                       "Do not lean on it while it works, or hold with more.", IDLE_SCHOOLS, 0.35)
    return Verdict("good", f"{said} and comes back.", "Nothing to do.", IDLE_SCHOOLS, 0.8)
