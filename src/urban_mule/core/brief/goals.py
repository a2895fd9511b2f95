"""What the Brief asks of an axis, and how much of it is met."""

from __future__ import annotations

import numpy as np

from urban_mule.core.brief.limits import Reach
from urban_mule.core.motor.margin import SAFETY_FACTOR
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Screw


class Goals:
    """What the Brief asks of an axis."""

    accuracy_wanted: Reals = given("[travel]", "A_w", "accuracy the work needs", above=0, shown=("µm", ""))
    speed_wanted: Reals = given("[travel]/s", "v_w", "speed the work needs", above=0)
    acceleration_wanted: Reals = given("[travel]/s²", "a_w", "acceleration the work needs", above=0)
    safety_factor: Reals = given(
        "", "S_f", "torque available over torque required, at the worst moment: 1.5 is usual, 2 careful", default=SAFETY_FACTOR,
        least=1, most=10,
        label="Safety factor wanted")


class Budget:
    """What the machine may cost, and by when an input has settled."""

    budget: Reals = given("", "", "what all parts may cost, in the user's own money", least=0)
    debounce_time: Reals = given("s", "t_d", "time until an input accepts its switch", least=0, most=10, shown="ms",
        label="Debouncing")


def is_met(goal: Reals, reached: Reals, more: bool) -> bool:
    """Whether what is reached meets a goal; more: whether more of it is better. goal and reached in one unit."""
    return bool(reached >= goal * (1 - 1e-9) if more else reached <= goal)


@check("goals", stage="Brief", main=True)
def goals_are_set(
    unit: str, accuracy_wanted: Reals = None, speed_wanted: Reals = None, acceleration_wanted: Reals = None,
    accuracy_reached: Reach | None = None, speed_reached: Reach | None = None, acceleration_reached: Reach | None = None,
    pulse_rate_limit: Reals = None, train: tuple[Link, ...] = (), proof_gauge_uncertainty: Reals = None,
) -> Verdict:
    """How many of the goals are set, how many of those are met, and what holds the first that is not."""
    if speed_wanted is None and acceleration_wanted is None and accuracy_wanted is None:
        return Verdict("unknown", "No goal is set for this axis, so nothing can be judged against one.",
                       "Write down speed, acceleration and accuracy before buying parts.",
                       missing=("speed_wanted", "acceleration_wanted", "accuracy_wanted"))
    wanted = [one for one in (("speed", speed_wanted, speed_reached, "/s"),
                              ("acceleration", acceleration_wanted, acceleration_reached, "/s²"),
                              ("accuracy", accuracy_wanted, accuracy_reached, "")) if one[1] is not None]
    known = [(name, goal, reach, per) for name, goal, reach, per in wanted if reach is not None]
    missed = [one for one in known if not is_met(one[1], one[2].value, one[0] != "accuracy")]
    open_ = [f"{name}_reached" for name, _, reach, *_ in wanted if reach is None]
    unheld = any(isinstance(link, Screw) and link.end_support is None for link in train)
    if speed_wanted is not None and not open_:  # what could still limit the speed and nobody has said
        open_ += (["max_pulse_rate"] if pulse_rate_limit is None else []) + (["train.screw.end_support"] if unheld else [])
    met = len(known) - len(missed)
    said = f"{met} of {len(wanted)} goals of this axis {'is' if met == 1 else 'are'} met"
    if len(wanted) == 1:
        said = f"The goal of this axis is {'met' if met else 'not met'}"
    if met == len(wanted) and not open_ and accuracy_wanted is not None and proof_gauge_uncertainty is None:
        return Verdict("tight", f"{said}; how good the gauge of the positioning run is, is not said.",
                       "Name it under Readings, with its uncertainty.", headroom=0.5)
    if met == len(wanted) and not open_:
        return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.9)
    if met == len(wanted):
        lacks = "how the ends of the screw are held" if open_ == ["train"] else "how many pulses controller and driver take"
        return Verdict("unknown", f"{said} as far as is known; {lacks} may limit the speed and is not given.", "Give it.",
                       missing=tuple(open_))
    if not missed:
        judged = f"{said}; {len(open_)} cannot be judged yet." if len(wanted) > 1 else "The goal of this axis cannot be judged yet."
        return Verdict("unknown", judged, "What is missing stands beneath.",
                       missing=tuple(open_))
    name, goal, reach, per = missed[0]
    scale, words = (1.0, f"m{per}") if unit in LINEAR_UNITS else (np.degrees(1.0), f"°{per}")
    scale, words = (1e6, "µm") if name == "accuracy" and unit in LINEAR_UNITS else (scale, words)
    limited = reach.why if reach.value == 0 else (
        f"{reach.stage} limits the {name} to {size(reach.value * scale)} {words} of {size(goal * scale)} {words} wanted:"
        f" {reach.why}")
    share = goal / reach.value if name == "accuracy" and reach.value else reach.value / goal
    return Verdict("short", f"{said}: {limited}.", f"See {reach.stage}.", headroom=0.0, measure=share)
