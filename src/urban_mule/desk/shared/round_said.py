"""What a round says of its own numbers: how well the result is known so far, and how far a stand had wandered."""

from __future__ import annotations

from dataclasses import replace

from urban_mule.bench.sessions.by_stand import beside, closing_errors
from urban_mule.bench.sessions.gauged import gauge_of
from urban_mule.bench.sessions.promised import good_for
from urban_mule.bench.sessions.rounds import PlanAxis, Round, Step
from urban_mule.core.sheet import units
from urban_mule.store.state.axis_state import AxisState

LEAST_TOLD, ENOUGH = 6, 0.1  # numbers from which it is said how well the result is known; share of the accuracy wanted that does


def length_said(axis: PlanAxis, length: float) -> str:
    """A small length or angle as people read it [m or rad]."""
    si = "m" if axis.linear else "rad"
    unit = units.unit_shown(si, axis.system, ("µm", ""))
    return f"{units.number_text(length / units.factor(unit, si), 2)} {unit}"


def known_to(begun: AxisState, axis: PlanAxis, made: Round, steps: tuple[Step, ...]) -> str:
    """To what the numbers so far make the reversal known, and that the round may end where that is enough."""
    taken = tuple(step for step in steps if step.place in made.values)
    if made.kind not in ("reversal", "positioning") or len([step for step in taken if not beside(step.place)]) < LEAST_TOLD:
        return ""
    found = good_for(made.kind, taken, replace(axis, gauge=gauge_of(made.settings)).gauge, None, made.values)
    if found is None:
        return ""
    wanted = begun.solution.get("accuracy_wanted")
    enough = wanted is not None and found <= ENOUGH * float(wanted)
    more = " That is enough for the accuracy wanted: it may end here." if enough else ""
    return f"So far the reversal is known to ± {length_said(axis, found)}.{more}"


def closing_said(axis: PlanAxis, made: Round, steps: tuple[Step, ...]) -> str:
    """By how much the gauge had wandered at the end of its stands; nothing where none was closed."""
    errors = closing_errors(steps, made.values)
    if not errors:
        return ""
    most = length_said(axis, abs(max(errors.values(), key=abs)))
    return f"At the end of a stand its first place read {most} otherwise at most; clearly more than the scatter is taken out."
