"""What a template may use: every axis with its settings, its correction table and the moves of a run, as plain values."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from urban_mule.bench.sessions.carried import usual
from urban_mule.bench.sessions.kinds import steps_of, words_of
from urban_mule.bench.sessions.rounds import PlanAxis, Step, plan_of
from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.machine import spindle_states
from urban_mule.store.settings import SettingRow, follower_settings, settings_of
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.subject_settings import spindle_settings

PARTS = {"soft_limits": ("soft_limit_low", "soft_limit_high"),
         "electronic_gear": ("electronic_gear_numerator", "electronic_gear_denominator")}  # rows of more than one number


def template_data(session: Session) -> dict[str, Any]:
    """Plain values only: nothing of the program is in them."""
    return {"project": session.project.name or session.path.stem, "practice": bool(session.project.practice),
            "axes": [_axis(session.state_of(axis), session.follower_of(axis)) for axis in session.project.axes],
            "spindles": [{"name": state.axis.letter, "settings": _settings(spindle_settings(state))}  # type: ignore[attr-defined]
                         for state in spindle_states(session)]}


def _settings(rows: list[SettingRow]) -> list[dict[str, Any]]:
    """The rows of a tag. parts: each number or word of a row by a name of its own, as shown, with its unit."""
    return [{"name": row.name, "title": row.title, "value": row.value, "on_machine": row.on_machine, "differs": row.differs,
             "at_reset": row.at_reset, "parts": _parts(row), "shown": ", ".join(
                 f"{number} {unit}".strip() for number, unit in row.lines)
             or "; ".join(f"{bank.name} {bank.positions}" for bank in row.banks)} for row in rows]


def _parts(row: SettingRow) -> list[dict[str, str]]:
    """What of a row goes on a line of its own: the peak of a current, both soft limits, kind and frequency of a shaper."""
    if row.banks:
        return [{"name": bank.name.replace(" ", "_"), "number": bank.positions, "unit": ""} for bank in row.banks]
    if row.name == "current_peak":
        return [{"name": row.name, "number": number, "unit": unit} for number, unit in row.lines if "peak" in unit]
    if row.name == "shaper":
        (kind, frequency), = row.lines
        number, _, unit = frequency.partition(" ")
        return [{"name": "shaper_kind", "number": kind, "unit": ""}, {"name": "shaper_frequency", "number": number, "unit": unit}]
    if row.name == "steps_per_unit":
        return [{"name": row.name, "number": row.lines[0][0], "unit": row.title.removeprefix("Steps ")}]
    names = PARTS.get(row.name, (row.name,))
    return [{"name": name, "number": number, "unit": unit} for name, (number, unit) in zip(names, row.lines, strict=False)]


def _axis(state: AxisState, follower: AxisState | None) -> dict[str, Any]:
    axis = state.axis
    plan = plan_of(axis, state.solution, state.system)
    scale = 1 / plan.si(1.0)
    points = state.solution.get("correction_points") or []
    return {
        "name": axis.name, "unit": plan.place_unit, "settings": _settings(settings_of(state)),
        "follower": None if follower is None else _settings(follower_settings(follower)),
        "corrections": [{**{key: one[key] * scale for key in ("target", "correction", "increment", "correction_after_scale")},
                         "worth": bool(one["worth"])} for one in points],
        "waves": [{**one, **{key: one[key] * scale for key in ("period", "amplitude", "amplitude_uncertainty")}}
                  for one in state.solution.get("wave_corrections") or []],
        "moves": _moves(plan)}


def plan_data(name: str, kind: str, axis: PlanAxis, steps: Iterable[Step], caution: str) -> dict[str, Any]:
    """What a template may use of the plan of one round: its steps in order, each with what is said and where it goes."""
    one = axis.si(1.0)
    return {"project": "", "practice": False, "spindles": [], "axes": [{
        "name": name, "unit": axis.place_unit, "plan": words_of(kind), "caution": caution, "moves": [], "steps": [
            {"number": n, "says": step.instruction, "moves": [round(place / one, 6) for place in step.moves],
             "dwell": next((act[1] for act in step.does if act[0] in ("dwell", "wait")), 0.0)}
            for n, step in enumerate(steps, start=1)]}]}


def _moves(plan: PlanAxis) -> list[float]:
    """Where the axis goes in a positioning run, in this order, as places are typed."""
    if plan.travel is None:
        return []
    try:
        steps = steps_of("positioning", plan, usual("positioning", plan))
    except BadValue:
        return []
    return [round(place / plan.si(1.0), 6) for step in steps for place in step.moves]
