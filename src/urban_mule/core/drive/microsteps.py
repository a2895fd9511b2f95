"""How fine a step: what each count of microsteps costs and gives, and which school decides on this axis."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.wording import size

COUNTS = (1, 2, 4, 8, 16, 32, 64, 128, 256)
MODEST, MIDDLE = 8, 16  # what the first and the second school set
ROOM = 0.8  # of the pulse rate: a fifth stays in hand


class Interpolation:
    """What a driver makes of the pulses between them."""

    interpolated_microsteps: Reals = given("", "N_i", "microsteps for a full step that the driver makes of the pulses it gets",
        whole=True, least=1, label="Interpolated microsteps", plural=True)
    finest_microsteps: Reals = given("", "N_max", "most microsteps for a full step that the driver takes from pulses", whole=True,
        least=1, label="Finest setting")


@quantity("[travel]", symbol="s_i", source="the driver divides what comes between two pulses", formula="travel a turn ÷ (n_s·N_i)",
          label="Smallest motion", shown=("µm", ""))
def smooth_step_length(
    travel_per_turn: Reals, full_steps_per_turn: Reals, interpolated_microsteps: Reals, microsteps: Reals
) -> Reals:
    """How finely the axis moves; places are still whole pulses. Raises NotKnown when fewer are made than come in."""
    if interpolated_microsteps < microsteps:
        raise NotKnown("the driver makes fewer microsteps than it gets pulses", "interpolated_microsteps")
    return travel_per_turn / (full_steps_per_turn * interpolated_microsteps)


@quantity("s", symbol="t_i", source="the driver must see a pulse before it can divide it", formula="1 ÷ f_p", shown="µs",
          label="Interpolation delay")
def interpolation_lag(pulse_rate: Reals, smooth_step_length: Reals) -> Reals:
    """How long the motion lags behind the pulses at top speed; always one pulse. pulse_rate [Hz], smooth_step_length [travel]."""
    return 1.0 / pulse_rate


@record(frozen=True, eq=False, repr=False)
class MicrostepSchool:
    """One school on this axis: the count that it sets (None where it cannot be followed), what decides, whether it holds."""

    words: str
    microsteps: int | None
    decides: str
    holds: bool
    wins: bool = False


@quantity("", symbol="", source="three approaches in practice, each under its condition", structure=True,
          formula="the finest while its pulses fit, else modest and interpolated, else the middle")
def microstep_schools(
    microsteps: float, finest_moving_microsteps: Reals = None, pulse_rate: Reals = None, pulse_rate_limit: Reals = None,
    interpolated_microsteps: Reals = None, finest_microsteps: Reals = None,
) -> tuple[MicrostepSchool, ...]:
    """The three schools, each with the number that decides here, and which of them wins; pulse rates [Hz]."""
    rate_of_one = None if pulse_rate is None else float(pulse_rate / microsteps)
    most = None if rate_of_one is None or pulse_rate_limit is None else float(ROOM * pulse_rate_limit / rate_of_one)
    moved = "friction is not given" if finest_moving_microsteps is None else (
        f"up to {finest_moving_microsteps:g} each pulse still moves the load")
    count = modest_count(most, finest_moving_microsteps)
    idle = (most is not None and most < MIDDLE) or (finest_moving_microsteps is not None and finest_moving_microsteps < MIDDLE)
    able = interpolated_microsteps is not None and interpolated_microsteps > count
    few = MicrostepSchool(
        "few, and the driver fills in", count if able else None,
        f"the driver makes {interpolated_microsteps:g} of them; {moved}" if able else
        "what the driver makes of its pulses is not given" if interpolated_microsteps is None else
        f"the driver makes only {interpolated_microsteps:g} of them", able and idle)
    fits = most is None or most >= MIDDLE
    middle = MicrostepSchool("a middle value, and stop", MIDDLE, moved if most is None or rate_of_one is None else
                             f"{size(MIDDLE * rate_of_one / 1e3)} kHz at top speed of {size(pulse_rate_limit / 1e3)}", fits)
    fine = _finest(finest_microsteps, rate_of_one, pulse_rate_limit, most)
    worth = finest_microsteps is None or finest_moving_microsteps is None or finest_moving_microsteps >= finest_microsteps
    best = fine if fine.holds and worth else few if few.holds else middle
    return tuple(MicrostepSchool(**{**vars(one), "wins": one is best}) for one in (few, middle, fine))


def modest_count(most: float | None, finest_moving: Reals) -> int:
    """The modest school's count: at most 8, fewer where the pulses or the load ask for it. Counts a full step."""
    bounds = [float(bound) for bound in (most, finest_moving) if bound is not None]
    return max((count for count in COUNTS if count <= min([MODEST, *bounds])), default=1)


def _finest(finest: Reals, rate_of_one: float | None, limit: Reals, most: float | None) -> MicrostepSchool:
    if finest is None:
        return MicrostepSchool("the finest it takes", None, "the finest that the driver takes is not given", False)
    if most is None or rate_of_one is None:
        return MicrostepSchool("the finest it takes", int(finest), "what the controller makes is not given", False)
    return MicrostepSchool("the finest it takes", int(finest),
                           f"{size(finest * rate_of_one / 1e3)} kHz at top speed of {size(limit / 1e3)}", bool(most >= finest))
