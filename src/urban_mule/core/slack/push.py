"""Clearance told apart from spring: the carriage pushed both ways by rising forces."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.readings.median import median
from urban_mule.core.readings.push import PushReading
from urban_mule.core.readings.repeats import mean_of, scatter_of
from urban_mule.core.readings.straight_line import straight_line
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

LINE = "straight line by least squares through D(F) = clearance + compliance·2(F − F_r), F above the friction F_r"
ROUNDING = 1e-12  # m or rad: nearer places are one
FRICTION_KNOWN = 0.5 / math.sqrt(3)  # standard uncertainty of a friction that somebody gave, as a share: within a half


@record(frozen=True, eq=False, repr=False)
class PushLine:
    """The line through the play at each force: its value where the push begins to move the load, its slope, its value at no force,
    and the uncertainties of the three (None below three forces).
    """

    clearance: float
    compliance: float
    at_no_force: float
    clearance_uncertainty: float | None = None
    compliance_uncertainty: float | None = None
    at_no_force_uncertainty: float | None = None


def play_at(reading: PushReading) -> np.ndarray:
    """How far apart the two ways stand at each force [travel]."""
    return np.asarray(mean_of(reading.plus) - mean_of(reading.minus))


@quantity("", symbol="", source=LINE, structure=True, formula="least squares over the forces")
def push_line(push_reading: PushReading, friction_load: Reals = 0.0, play_hidden_by_drag: Reals = 0.0) -> PushLine:
    """The line through the play over twice the force that is left when friction [N or N·m] is overcome.

    Below the friction nothing moves: such forces tell nothing and are left out. play_hidden_by_drag [travel] is added to what it
    begins with. Raises NotKnown for fewer than two different ones.
    """
    held = float(friction_load)
    moves = push_reading.forces > held * (1 + 1e-9)
    if held and len(set(push_reading.forces[moves].tolist())) < 2:
        raise NotKnown("fewer than two forces lie above the friction, below which nothing moves; push harder", "push_reading")
    x, y = 2 * (push_reading.forces[moves] - held), play_at(push_reading)[moves]
    if not np.ptp(x):
        raise NotKnown("one force does not tell clearance from spring; push with two or more")
    line = straight_line(x, y)
    start, at_no_force = float(line.at(np.zeros(()))) + float(play_hidden_by_drag), float(line.at(np.array(-2 * held)))
    if line.variance is None:
        return PushLine(start, line.slope, at_no_force)
    of_friction = (2 * line.slope * FRICTION_KNOWN * held) ** 2
    of_gauge = rounded_to(push_reading) / math.sqrt(12 * line.spread)  # rounded places may all lie on a line
    return PushLine(start, line.slope, at_no_force, math.sqrt(line.variance_at(0.0) + of_friction),
                    max(line.slope_uncertainty(), of_gauge), math.sqrt(line.variance_at(-2 * held)))


def rounded_to(reading: PushReading) -> float:
    """To what the places of a push are rounded [travel], where that hides their scatter: the smallest step by which they differ.

    Nothing where the repeats scatter by more: then the roundings are as many as the places, and lie in the scatter.
    """
    steps = np.diff(np.sort(np.concatenate([reading.plus.ravel(), reading.minus.ravel()])))
    steps = steps[steps > ROUNDING]
    least = float(steps.min()) if steps.size else 0.0
    repeats = [table for table in (reading.plus, reading.minus) if table.shape[0] > 1]
    scatter = median(np.concatenate([scatter_of(table) for table in repeats])) if repeats else 0.0
    return least if scatter <= least else 0.0


def _known(value: float | None) -> float:
    if value is None:
        raise NotKnown("two forces lie on any line; a third shows how sure it is")
    return value


@quantity("[travel]", symbol="j_f", source=LINE, formula="D at the friction F_r", shown=("µm", ""))
def free_play(push_line: PushLine) -> float:
    """Free play: what the push takes up before it winds anything, the guide's friction counted."""
    return push_line.clearance


@quantity("[travel]", symbol="u_f", source="residuals of the line over m − 2, and a friction known within a half",
          formula="√(s²·(1/m + x̄²/∑(x − x̄)²) + (2·c_p·0.29·F_r)²)", label="Standard uncertainty of the free play",
          shown=("µm", ""))
def free_play_uncertainty(push_line: PushLine) -> float:
    """Standard uncertainty of the free play. Raises NotKnown below three forces."""
    return _known(push_line.clearance_uncertainty)


@quantity("[travel]", symbol="j_p", source=LINE, formula="D at no force", label="Play at no force, by the line", shown=("µm", ""))
def push_clearance(push_line: PushLine) -> float:
    """What the line says of no force at all: the free play where nothing rubs."""
    return push_line.at_no_force


@quantity("[travel]", symbol="u_j", source="residuals of the line over m − 2", formula="√(s²·(1/m + x̄²/∑(x − x̄)²))",
          label="Standard uncertainty of the play at no force", shown=("µm", ""))
def push_clearance_uncertainty(push_line: PushLine) -> float:
    """Standard uncertainty of the play at no force. Raises NotKnown below three forces."""
    return _known(push_line.at_no_force_uncertainty)


@quantity("[travel]/[effort]", symbol="c_p", source=LINE, formula="slope of D over 2F", label="Compliance")
def push_compliance(push_line: PushLine) -> float:
    """How far it gives way elastically for a force; a stiffer part mends it, no compensation."""
    return push_line.compliance


@quantity("[travel]/[effort]", symbol="u_c", source="residuals of the line over m − 2", formula="s ÷ √∑(x − x̄)²",
          label="Standard uncertainty of the compliance")
def push_compliance_uncertainty(push_line: PushLine) -> float:
    """Standard uncertainty of the compliance. Raises NotKnown below three forces."""
    return _known(push_line.compliance_uncertainty)


@quantity("[effort]/[travel]", symbol="k_p", source="inverse of the compliance", label="Stiffness when pushed")
def contact_stiffness(push_compliance: float) -> float:
    """Effort per travel with which the carriage answers a push. Raises NotKnown when it does not give way at all."""
    if push_compliance <= 0:
        raise NotKnown("the play does not grow with the force")
    return 1 / push_compliance


@quantity("[effort]/[travel]", symbol="u_kp", source="inverse of the compliance, to the first order (JCGM 100, 5.1.2)",
          formula="k_p²·u_c", label="Standard uncertainty of the stiffness when pushed")
def contact_stiffness_uncertainty(contact_stiffness: float, push_compliance_uncertainty: float) -> float:
    """Standard uncertainty of the stiffness that a push finds [effort/travel]. Raises NotKnown below three forces."""
    return contact_stiffness**2 * push_compliance_uncertainty
