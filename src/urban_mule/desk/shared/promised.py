"""What an axis holds, with how sure that is: accuracy, backlash, torque in hand; on the tag, in the report, on the printed tags."""

from __future__ import annotations

from collections.abc import Callable

from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.shown import solved_text
from urban_mule.desk.model.sureness import worked_out
from urban_mule.desk.model.words import label
from urban_mule.store.document.project import Project
from urban_mule.store.state.axis_state import AxisState

PROMISED = ("positioning_accuracy", "backlash", "working_margin")
Standard = Callable[[str], float | None]


def promised(state: AxisState, standard: Standard) -> list[tuple[str, str]]:
    """Names and numbers of what is known of it. standard: of a quantity by its inputs, its standard uncertainty."""
    solution = state.solution
    known = [name for name in PROMISED if solution.sheet.has(name) and not isinstance(solution.find(name), Unknown)]
    return [(label(name), str(solved_text(solution, name, state.system, state.axis.unit, standard(name)))) for name in known]


def standards(project: Project, state: AxisState) -> Standard:
    """How sure the numbers of an axis are, worked out at once where nobody has yet: for what is written in a thread of its own."""
    doubts, _ = worked_out(project, state.axis, state.solution.own())
    return lambda name: doubts.standard(name) if name in doubts.values else None
