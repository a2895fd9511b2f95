"""Judgements on what else is set on a stepper driver: microsteps, chopping, standstill."""

from __future__ import annotations

from urban_mule.core.drive.chopping import NEAR
from urban_mule.core.drive.microsteps import MicrostepSchool
from urban_mule.core.drive.standstill import HOLD_FACTOR
from urban_mule.core.load.cycle import Pieces
from urban_mule.core.load.fall import is_balanced, rises
from urban_mule.core.motor.ways import more_current
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.verdict import Verdict, Way, check
from urban_mule.core.sheet.wording import effort, microns, pace, rounded_up, share_of, size

CHOPPING_SCHOOLS = ("Three approaches: quiet while it pulls enough; strong all the way, for all the torque and one steady sound;"
                    " both, changed over away from resonance and cruising speed.")
IDLE_SCHOOLS = ("Two approaches: cut the current while idle, cooler and quieter; or hold at full, which does not move when somebody"
                " leans on it.")


@check("chopping", stage="Drive")
def chopping_keeps_its_torque(
    chopping: str | None = None, quiet_margin: Reals = None, safety_factor: float = 1.5, changeover_shaft_speed: Reals = None,
    resonant_speed: Reals = None, cycle_pieces: Pieces | None = None, travel_per_radian: Reals = None,
    changeover_speed: Reals = None, quiet_torque_share: Reals = None, unit: str = "mm",
) -> Verdict | None:
    """Whether quiet chopping still pulls, and whether it changes where the axis cruises or rings. Raises NotKnown."""
    if chopping is None:
        return None
    if chopping == "both" and changeover_speed is None:
        raise NotKnown("the speed of the changeover is not given", "changeover_speed")
    if chopping != "strong" and quiet_torque_share is None:
        raise NotKnown("what quiet chopping leaves of the torque is not given", "quiet_torque_share")
    while_ = "" if quiet_margin is None else f"In quiet mode it pulls with {size(quiet_margin)} times the torque needed"
    ways = ways_from_quiet(chopping, changeover_speed, unit)
    if quiet_margin is not None and quiet_margin < 1:
        return Verdict("short", f"While quiet the motor gives {size(quiet_margin)} times what is needed: it loses steps.",
                       "", CHOPPING_SCHOOLS, 0.0, measure=quiet_margin, ways=ways, otherwise="See the torque margin on Motor.")
    if changeover_shaft_speed is not None and resonant_speed is not None and near(changeover_shaft_speed, resonant_speed):
        return Verdict("tight", f"It changes over at {pace(changeover_speed, unit)}, within a tenth of where the rotor rings.",
                       "Move the changeover well below or above it.", CHOPPING_SCHOOLS, 0.25)
    cruising = () if cycle_pieces is None or travel_per_radian is None else cruising_speeds(cycle_pieces, travel_per_radian)
    if changeover_shaft_speed is not None and any(near(changeover_shaft_speed, speed) for speed in cruising):
        return Verdict("tight", f"It changes over at {pace(changeover_speed, unit)}, within a tenth of a speed at which it cruises:"
                       " its voice changes all the time.", "Move the changeover away from that speed.", CHOPPING_SCHOOLS, 0.3)
    if quiet_margin is not None and quiet_margin < safety_factor:
        return Verdict("tight", f"{while_}, less than the {size(safety_factor)} wanted.", "", CHOPPING_SCHOOLS,
                       share_of(quiet_margin, 1.0, safety_factor), measure=quiet_margin, ways=ways,
                       otherwise="See the torque margin on Motor.")
    return Verdict("good", f"{while_ or 'Strong chopping keeps 100 % of the torque, and its sound'}.", "Nothing to do.",
                   CHOPPING_SCHOOLS, 0.8)


def ways_from_quiet(chopping: str, changeover_speed: Reals, unit: str) -> tuple[Way | tuple[Way, ...], ...]:
    """What leaves less to quiet chopping: an earlier changeover where there is one, or none of it. changeover_speed: [rad/s]."""
    earlier = () if chopping != "both" or changeover_speed is None else tuple(
        Way(f"change over at a lower speed, {pace(share * changeover_speed, unit)} say",
            {"changeover_speed": share * changeover_speed}) for share in (0.7, 0.5, 0.25))
    return (earlier, Way("chop strongly", {"chopping": "strong"}))


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
    microstep_schools: tuple[MicrostepSchool, ...] = (), current_peak: Reals = None, rated_current_peak: Reals = None,
    current_limit: Reals = None,
) -> Verdict:
    """Whether a microstep still moves the load, or friction swallows several."""
    ways, binds = more_current(current_peak, rated_current_peak, current_limit), "Find what binds; a stronger motor moves it."
    if reversal_microsteps is None:
        creeping = max(abs(creep_torque_plus), abs(creep_torque_minus))
        return Verdict("short", f"Creeping takes {size(creeping)} N·m, the set current gives {size(set_torque)} N·m: it does not"
                       " move.", binds, headroom=0.0, measure=-creeping / set_torque, ways=ways)
    winner = next((one for one in microstep_schools if one.wins), None)
    school = "" if winner is None else (
        f"Of the three approaches this one fits here: {winner.words}"
        f"{'' if winner.microsteps is None else f', {winner.microsteps} microsteps'} ({winner.decides}).")
    said = f"A reversal loses {size(reversal_microsteps)} of the {microsteps:g} microsteps in a full step"
    if reversal_microsteps > microsteps / 2:
        return Verdict("short", f"{said}: friction takes most of the torque.", binds, school, 0.0,
                       measure=-reversal_microsteps / microsteps, ways=ways)
    if reversal_microsteps > 2:
        return Verdict("tight", f"{said}; finer steps place no better.", "Keep them for smoothness, not for accuracy.",
                       school, 0.35)
    return Verdict("good", f"{said}.", "Nothing to do.", school, 0.85)


@check("standstill", stage="Drive")
def holds_still(
    frictionless_static_torque: float, set_torque: float, hold_fraction: float, gravity_load: float,
    counterbalance_force: float = 0.0, incline: float = 0.0,
) -> Verdict | None:
    """Whether the idle current holds the load up, no friction counted on."""
    if is_balanced(gravity_load, counterbalance_force):
        return None
    ratio = hold_fraction * set_torque / frictionless_static_torque
    up = rises(gravity_load, incline)
    said = (f"The idle current holds {size(ratio)} times {'what the counterbalance pushes up' if up else 'the weight'},"
            " no friction counted on")
    full = hold_fraction * 2 / ratio
    more = tuple(Way(f"hold with {size(100 * share)} % of the current", {"hold_fraction": share})
                 for share in (rounded_up(full, 2), 1.0) if hold_fraction < share <= 1)
    lighter = Way("lower the counterbalance" if up else "add a counterbalance",
                  {"counterbalance_force": counterbalance_force + gravity_load / 2})
    if ratio < 1:
        return Verdict("short", f"{said}: the axis {'rises' if up else 'drops'} when it rests.", "Block it before reaching in.",
                       headroom=0.0, measure=ratio, ways=(more, lighter), otherwise="Take a stronger motor or a brake.")
    if ratio < 2:
        return Verdict("tight", f"{said}.", "", headroom=share_of(ratio, 1, 2), measure=ratio, ways=(more, lighter),
                       otherwise="A stronger motor or a brake holds it.")
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=share_of(ratio, 1, 2))


@check("leaned on", stage="Drive")
def gives_way_little(
    lean_force: Reals = None, lean_shift: Reals = None, hold_fraction: float = 1.0, hold_fraction_needed: Reals = None,
    unit: str = "mm", accuracy_wanted: Reals = None, set_torque: Reals = None, travel_per_radian: Reals = None,
) -> Verdict | None:
    """What happens to the idle axis when somebody leans on it."""
    if lean_force is None or set_torque is None or travel_per_radian is None:
        return None
    shares = (1.0,) if hold_fraction_needed is None else (min(1.0, rounded_up(float(hold_fraction_needed), 2)), 1.0)
    ways = (tuple(Way(f"hold with {size(100 * share)} % of the current while idle", {"hold_fraction": share})
                  for share in shares if share > hold_fraction * (1 + 1e-9)),)
    leaned = f"Pushed with {effort(lean_force, unit)}"
    if lean_shift is None:
        return Verdict("short", f"{leaned} the idle axis is pushed off its place at {size(100 * hold_fraction)} % of the current.",
                       "Do not lean on it while it is idle.", IDLE_SCHOOLS, 0.0, measure=hold_fraction, ways=ways)
    said = f"{leaned} the idle axis gives way by {microns(lean_shift, unit)}"
    if hold_fraction_needed is None or hold_fraction < hold_fraction_needed * (1 - 1e-9):
        return Verdict("tight", f"{said} and comes back, with a reserve below {HOLD_FACTOR:g} times.",
                       "Do not lean on it while it is idle.", IDLE_SCHOOLS, 0.25, measure=hold_fraction, ways=ways)
    if accuracy_wanted is not None and lean_shift > accuracy_wanted:
        return Verdict("tight", f"{said}, more than the accuracy wanted, and comes back.", "Do not lean on it while it works.",
                       IDLE_SCHOOLS, 0.35, measure=-lean_shift, ways=ways)
    return Verdict("good", f"{said} and comes back.", "Nothing to do.", IDLE_SCHOOLS, 0.8)
