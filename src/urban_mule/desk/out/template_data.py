"""What a template may use: every axis with its settings, its correction table and the moves of a run, as plain values."""

from __future__ import annotations

from typing import Any

from urban_mule.bench.sessions.carried import usual
from urban_mule.bench.sessions.kinds import steps_of
from urban_mule.core.sheet.given import BadValue
from urban_mule.demo.practice import plan_of
from urban_mule.desk.model.axes_state import AxisState
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.machine import spindle_states
from urban_mule.store.settings import SettingRow, settings_of
from urban_mule.store.spindle_settings import spindle_settings


def template_data(session: Session) -> dict[str, Any]:
    """Plain values only: nothing of the program is in them."""
    return {"project": session.project.name or session.path.stem, "practice": bool(session.project.practice),
            "axes": [_axis(session.state_of(axis)) for axis in session.project.axes],
            "spindles": [{"name": state.axis.letter, "settings": _settings(spindle_settings(state))}  # type: ignore[attr-defined]
                         for state in spindle_states(session)]}


def _settings(rows: list[SettingRow]) -> list[dict[str, Any]]:
    """The rows of a tag."""
    return [{"name": row.name, "title": row.title, "value": row.value, "on_machine": row.on_machine, "differs": row.differs,
             "at_reset": row.at_reset, "shown": ", ".join(f"{number} {unit}".strip() for number, unit in row.lines)
             or "; ".join(f"{bank.name} {bank.positions}" for bank in row.banks)} for row in rows]


def _axis(state: AxisState) -> dict[str, Any]:
    axis, linear = state.axis, state.axis.motion == "linear"
    scale = 1e3 if linear else 57.29577951308232
    points = state.solution.get("correction_points") or []
    return {
        "name": axis.name, "unit": "mm" if linear else "°", "settings": _settings(settings_of(state)),
        "corrections": [{**{key: one[key] * scale for key in ("target", "correction", "increment", "correction_after_scale")},
                         "worth": bool(one["worth"])} for one in points],
        "moves": _moves(state, scale)}


def _moves(state: AxisState, scale: float) -> list[float]:
    """Where the axis goes in a positioning run, in this order."""
    plan = plan_of(state.axis, state.solution)
    if plan.travel is None:
        return []
    try:
        steps = steps_of("positioning", plan, usual("positioning", plan))
    except BadValue:
        return []
    return [round(place * scale, 6) for step in steps for place in step.moves]
