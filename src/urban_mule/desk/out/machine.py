"""The machine as a whole on one page: in the report for whoever it is made for, and as a card for the wall beside it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtGui import QPageLayout

from urban_mule.core.brief.limits import Reach
from urban_mule.core.brief.safety import QUESTIONS
from urban_mule.core.drive.waiting import waiting_words
from urban_mule.core.load.fall import without_power
from urban_mule.core.sheet.shown import value_text
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import show
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.upkeep import Standing, UpkeepTasks
from urban_mule.desk.model.words import state_word
from urban_mule.desk.out.printing import filled, print_html
from urban_mule.store.deciding import open_questions, path_of_decisions
from urban_mule.store.settings import settings_of
from urban_mule.store.shopping import day_of, shopping_list, summary
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.subject_settings import spindle_settings

GOALS = (("speed", "speed_wanted", "speed_reached"), ("acceleration", "acceleration_wanted", "acceleration_reached"),
         ("accuracy", "accuracy_wanted", "accuracy_reached"))
SHARED = ("supply_power_needed", "bus_voltage_after_stop", "mains_current", "circuit_share")
SOON = 30.0  # days
ON_THE_WALL = ("travel", "top_speed", "acceleration_to_set", "homing_speed", "positioning_accuracy", "backlash")


def spindle_states(session: Session) -> list[AxisState]:
    """The drives that turn a tool, as states of their own."""
    return [session.machine.state_of(one) for one in session.machine.others if one.kind.key == "spindles"]


def machine_section(session: Session, today: Any) -> dict[str, Any]:
    """What the report says of the machine: goals, judgements on all of it, spindles, what is decided, bought, asked, due."""
    project, together = session.project, session.together
    stands = path_of_decisions(project)
    items = shopping_list(project)
    shared = [(together.sheet.label(name), str(value_text(together.sheet, name, together.get(name), session.system)))
              for name in SHARED if together.get(name) is not None]
    waits = len(open_questions(project.safety or ()))
    due = _soon(session)
    return {
        "goals": [_goals(session, axis) for axis in project.axes], "shared": shared,
        "attention": [one for one in session.together_verdicts if one.level in ("short", "tight")],
        "spindles": [_spindle(state) for state in spindle_states(session)],
        "decided": [(one.decision.name, one.holds or "open", one.written.why if one.written else "") for one in stands],
        "parts": summary(items, getattr(project, "budget", None), day_of(project.begin_on), today),
        "safety": f"{len(QUESTIONS) - waits} of {len(QUESTIONS)} questions of stop, earth, noise and mains are answered",
        "due": [(one.axis, one.task, one.due) for one in due]}


def _soon(session: Session) -> list[Standing]:
    """What is overdue, or due within a month."""
    return [one for one in UpkeepTasks(session).of_all() if one.left is not None and one.left < SOON]


def _goals(session: Session, axis: Any) -> tuple[str, list[str]]:
    """What an axis reaches beside what is wanted of it."""
    solution = session.solution_of(axis)
    cells = []
    for name, wanted_name, reached_name in GOALS:
        wanted, reached = solution.get(wanted_name), solution.get(reached_name)
        said = [_as(solution, wanted_name, reached.value, session.system) if isinstance(reached, Reach) else "not known",
                *([f"of {_as(solution, wanted_name, wanted, session.system)} wanted"] if wanted is not None else []),
                *([f"limited by {reached.stage}"] if isinstance(reached, Reach) and name != "accuracy" else [])]
        cells.append(", ".join(said))
    return axis.name, cells


def _as(solution: Any, name: str, value: Any, system: str) -> str:
    return str(show(float(value), solution.sheet.unit(name), system, 3, own=solution.sheet.shown(name)))


def _spindle(state: AxisState) -> dict[str, Any]:
    worst = state.worst()
    return {"name": state.axis.letter, "state": state_word("unknown" if worst is None else worst.level),  # type: ignore[attr-defined]
            "verdicts": [one for one in state.verdicts() if one.main or one.level in ("short", "tight")],
            "tag": spindle_settings(state)}


def waiting_of(together: Solution) -> str:
    """What whoever reaches in is told of waiting, from what belongs to all axes together."""
    return waiting_words(together.get("wait_before_reaching_in"), together.get("spindles_together") or ())


def wall_html(session: Session) -> str:
    """The card for the wall: what the machine does, what it is set to, how it is stopped, what is due."""
    axes = []
    for axis in session.project.axes:
        state = session.state_of(axis)
        sheet, get = state.sheet, state.solution.get
        rows = [(sheet.label(name), str(value_text(sheet, name, get(name), session.system))) for name in ON_THE_WALL
                if sheet.has(name) and get(name) is not None]
        ends = [(row.title, ", ".join(f"{number} {unit}".strip() for number, unit in row.lines)) for row in settings_of(state)
                if row.name in ("home_end", "soft_limits", "steps_per_unit")]
        axes.append({"name": axis.name, "rows": rows + ends, "without_power": without_power(axis.incline, get("gravity_load"))})
    return filled("wall.html", project=session.project, revision=session.revision, axes=axes,
                  spindles=[_spindle(state) for state in spindle_states(session)],
                  wait=waiting_of(session.together), due=_soon(session))


def begin_wall_card(session: Session, path: Path) -> None:
    """Write it as PDF in the background; then it is told."""
    html = wall_html(session)
    session.works.run("the machine card", session, lambda _progress: print_html(html, path, QPageLayout.Orientation.Landscape),
                      lambda _done: session.told.emit(f"{path}: the machine card is written."))
