"""Settings that belong together, of an axis: the present, the best and the quiet set, and what taking one changes."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.core.brief.settings import Search, equal_times, outcome
from urban_mule.core.brief.settings_room import SettingsRoom, breaks_of, margin_at
from urban_mule.core.readings.shapers import NONE, TWO_MODES
from urban_mule.core.ring.set_shaper import Tried, shaper_of
from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.least_change import LeastChange, least_change, missed
from urban_mule.store.document.project import Axis, Project

LINES = np.array([1.05, 1.2, 1.5, 2.0, 3.0])  # times the best time: which lines of equal time are drawn
NAMES = ("as set", "best", "quiet")


@record(frozen=True, eq=False, repr=False)
class Together:
    """The three sets by their names, each with its torque margin; the room without a shaper's path; how fast and how steep it
    reaches [travel/s, travel/s²]; the lines of equal time with the best set's shaper. met_by: each goal
    that is missed with the least change that meets it, or None. reason: why nothing of the sets is known.
    """

    sets: dict[str, dict[str, Any]]
    room: SettingsRoom | None
    reach: tuple[float, float]
    lines: tuple[np.ndarray, np.ndarray, np.ndarray] | None
    met_by: tuple[tuple[str, LeastChange | None], ...] = ()
    reason: str = ""


def set_together(_project: Project, _axis: Axis, solution: Solution, _progress: Progress) -> Together:
    """What is known of the settings of an axis; many are tried for it."""
    met_by = tuple((goal, least_change(solution, goal)) for goal in ("speed", "acceleration") if missed(solution, goal))
    best, quiet, present = (solution.get(name) for name in ("settings_best", "settings_quiet", "settings_as_set"))
    if best is None or quiet is None or present is None:
        name = next(name for name in ("settings_as_set", "settings_best") if solution.get(name) is None)
        return Together({}, None, (0.0, 0.0), None, met_by, solution.find(name).reason)
    room: SettingsRoom = solution["settings_room"]
    sets = {name: with_margin(solution, one) for name, one in zip(NAMES, (present, best, quiet), strict=True)}
    reach = max(float(room.speeds.max()), present["speed"]), max(one["acceleration"] for one in sets.values())
    lines = equal_times(_search(solution), shaper_set(solution, best), room, reach[1],
                        best["settled_cycle_time"] * LINES)
    return Together(sets, room, reach, lines, met_by)


def _search(solution: Solution) -> Search:
    return Search(solution["cycle"], solution["swinging"])


def shaper_set(solution: Solution, one: dict[str, Any]) -> Tried:
    """The shaper of a set."""
    return solution["swinging"].as_found(shaper_of(
        one["shaper"], one["frequency"], solution["swinging_mode"], float(solution["path_tolerance"]),
        solution.get("two_mode_shaper")))


def with_margin(solution: Solution, one: dict[str, Any]) -> dict[str, Any]:
    """A set with its torque margin and what it breaks."""
    speed, steep = one["speed"], one["acceleration"]
    torque, limits = solution["capped_torque"], solution["torque_limits"]
    return {**one, "working_margin": margin_at(torque, limits, speed, steep),
            "breaks": breaks_of(solution["fastest_settings"], torque, limits, shaper_set(solution, one).allowed, speed, steep)}


def set_at(solution: Solution, like: dict[str, Any], speed: float, acceleration: float) -> dict[str, Any]:
    """A set of that speed [travel/s] and acceleration [travel/s²] with the shaper of another one."""
    time, swing, settles = outcome(solution["cycle"], solution["swinging"], shaper_set(solution, like), speed, acceleration)
    return with_margin(solution, {**like, "speed": speed, "acceleration": acceleration, "settled_cycle_time": float(time),
                                  "residual_swing": float(swing), "settle_time": float(settles), "limit": ""})


def changes_of(axis: Axis, one: dict[str, Any]) -> list[tuple[tuple[str | int, ...], Any]]:
    """What taking a set changes in the axis: every move no faster and no steeper, and the shaper."""
    found: list[tuple[tuple[str | int, ...], Any]] = []
    for place, move in enumerate(axis.cycle or ()):
        for name in ("speed", "acceleration"):
            value = getattr(move, name)
            if value is not None and value > one[name] * (1 + 1e-12):
                found.append((("cycle", place, name), one[name]))
    frequency = None if one["shaper"] in (NONE, TWO_MODES) else round(float(one["frequency"]), 1)
    return [*found, (("shaper_kind",), one["shaper"]), (("shaper_frequency",), frequency)]
