"""Plans that follow a move as the drive does: a response, torque over a few moves, gains raised until the axis sings."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.bench.sessions.by_hand import positive
from urban_mule.bench.sessions.loops import PlanLoops
from urban_mule.bench.sessions.rounds import PlanAxis, Step, as_typed
from urban_mule.core.readings.response import OF
from urban_mule.core.readings.tuning import STAGES, Tuned, TuningReading, half_of, tuned
from urban_mule.core.sheet.given import BadValue

BY_HAND = 40.0  # s: set gains, move, listen
FROM, SHORT = 0.2, 0.3  # of the travel: where it begins, and how far such a move goes
AFTER = 0.8  # s that it is followed after its command rests
STEPS, BEGIN, BEYOND = 6, 0.3, 1.4  # velocity gains that are tried; the first, of the limit; the last, of what sings computed
INTEGRALS, POSITIONS = (8.0, 4.0), (0.5, 0.75, 1.1)  # times 1/ω_x; times the limit computed
LOW = 0.1  # of the position gain computed: while the velocity loop is tuned
MOVES = ((1.0, 1.0), (1.0, -1.0), (0.5, 1.0), (0.5, -1.0), (0.25, 1.0), (0.25, -1.0))  # share of speed and acceleration; way
ROWS, LEAST, UNEVEN = 12, 6, 0.1  # a third of those of a move; samples of one; of the greatest acceleration: where it changes
NO_DRIVE = ("what the drive's loops are like is not known: give the bandwidth of its current loop and its sample time, on the leaf"
            " loops", "current_loop_bandwidth")
QUESTIONS = ("Does it sing, hum or shake on after the stop?", "Does it hunt slowly, or overshoot its speed?",
             "Does it overshoot its place, or ring?")


def usual_move(axis: PlanAxis) -> dict[str, Any]:
    """A short move at the speed and the acceleration of the tag."""
    steep = axis.set_move.acceleration if axis.set_move is not None else max((a for _, a in axis.rungs), default=1.0)
    far = SHORT * axis.room
    speed = min(axis.speed or 0.1, (far * steep / 2) ** 0.5)
    return {"distance": as_typed(axis, [far]), "speed": as_typed(axis, [speed]), "acceleration": as_typed(axis, [steep])}


def _move(axis: PlanAxis, settings: dict[str, Any]) -> tuple[float, float, float, float]:
    """Distance, speed, acceleration and how long it is followed, in SI. Raises BadValue."""
    far, speed, steep = (axis.si(positive(settings, name) or 0.0) for name in ("distance", "speed", "acceleration"))
    if min(far, speed, steep) <= 0:
        raise BadValue("a move of nothing answers nothing: distance, speed and acceleration are above 0", "distance")
    if FROM * axis.room + far > axis.room:
        raise BadValue(f"from {axis.said(FROM * axis.room)} on there is room for {axis.said((1 - FROM) * axis.room)}", "distance")
    lasts = far / speed + speed / steep if far * steep > speed**2 else 2 * (far / steep) ** 0.5
    return far, speed, steep, lasts + AFTER


def settings_response(axis: PlanAxis) -> dict[str, Any]:
    return {**usual_move(axis), "of": OF[0]}


def steps_response(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """One move, followed. Raises BadValue."""
    far, speed, steep, lasts = _move(axis, settings)
    of = str(settings.get("of") or OF[0])
    if of not in OF:
        raise BadValue(f"of is {of[:20]}; allowed is {' or '.join(OF)}", "of")
    begin = FROM * axis.room
    words = (f"The drive's trace is started, command and actual {of}; the axis goes from {axis.said(begin)} to"
             f" {axis.said(begin + far)}, and the trace runs on for {AFTER:g} s.")
    return (Step("trace", words, BY_HAND, 0.0, (("move", begin), ("begin", begin + far, speed, steep), ("trace", lasts, of))),)


def columns_response(settings: dict[str, Any], values: dict[str, Any]) -> dict[str, Any]:
    times, rows = values["trace"]["time"], values["trace"]["values"]
    return {"time": times, "commanded": rows[:, 0], "actual": rows[:, 1], "of": str(settings.get("of") or OF[0])}


def settings_effort(axis: PlanAxis) -> dict[str, Any]:
    return {**usual_move(axis), "distance": as_typed(axis, [SHORT * axis.room])}


def steps_effort(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Moves both ways at several speeds and accelerations, the torque followed. Raises BadValue."""
    far, speed, steep, _ = _move(axis, settings)
    begin, found = FROM * axis.room, []
    for n, (share, way) in enumerate(MOVES):
        v, a = share * speed, share * steep
        lasts = far / v + v / a if far * a > v**2 else 2 * (far / a) ** 0.5
        here, there = (begin, begin + far) if way > 0 else (begin + far, begin)
        words = (f"The drive's trace is started, speed and torque; the axis goes from {axis.said(here)} to {axis.said(there)}"
                 f" at {100 * share:.0f} % of speed and acceleration.")
        found.append(Step(f"trace[{n}]", words, BY_HAND, float(n), (
            ("move", here), ("begin", there, v, a), ("trace", lasts, "torque"))))
    return tuple(found)


def columns_effort(_settings: dict[str, Any], values: dict[str, Any]) -> dict[str, Any]:
    """Rows of even acceleration of every move. Raises KeyError for what was not taken, BadValue for traces that are too short."""
    rows: list[np.ndarray] = []
    for n in range(len(MOVES)):
        time, table = (np.asarray(values[f"trace[{n}]"][name], dtype=float) for name in ("time", "values"))
        speed, torque = table.T
        for part in np.array_split(np.arange(time.size), 3 * ROWS):
            if part.size < LEAST:
                continue
            steeper = [float(np.polyfit(time[half], speed[half], 1)[0]) for half in np.array_split(part, 2)]
            rows.append(np.array([speed[part].mean(), *steeper, torque[part].mean()]))
    if not rows:
        raise BadValue("the traces are too short: record more samples a second", "distance")
    speed, before, after, torque = np.array(rows).T
    even = np.abs(after - before) <= UNEVEN * np.abs([before, after]).max()
    return {"speed": speed[even].tolist(), "acceleration": ((before + after) / 2)[even].tolist(), "torque": torque[even].tolist()}


def _loops(axis: PlanAxis) -> PlanLoops:
    if axis.loops is None:
        raise BadValue(*NO_DRIVE)
    return axis.loops


def _velocity_gains(loops: PlanLoops) -> list[float]:
    first, last = BEGIN * loops.velocity_limit, BEYOND * max(loops.sings_at, loops.velocity_limit)
    return [float(one) for one in np.geomspace(first, last, STEPS)]


def _after(loops: PlanLoops, sang: int) -> float:
    """The velocity gain that follows where the gain of this place sang; past the last: none sang."""
    return half_of(_velocity_gains(loops), sang)


def _rows(loops: PlanLoops) -> dict[str, tuple[int, float, float, float]]:
    """Every row that there may be, by its place: which gain is raised, and all three."""
    low = LOW * loops.position_limit
    rows = {f"velocity[{n}]": (0, gain, 0.0, low) for n, gain in enumerate(_velocity_gains(loops))}
    for n in range(STEPS + 1):
        gain = _after(loops, n)
        for j, times in enumerate(INTEGRALS):
            rows[f"integral[{n}][{j}]"] = (1, gain, loops.integral(gain, times), low)
        for j, times in enumerate((2 * INTEGRALS[0], *INTEGRALS)):
            for m, share in enumerate(POSITIONS):
                rows[f"position[{n}][{j}][{m}]"] = (2, gain, loops.integral(gain, times), share * loops.position_limit)
    return rows


def settings_tuning(axis: PlanAxis) -> dict[str, Any]:
    return usual_move(axis)


def steps_tuning(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Every step that there may be; which is next, the answers say. Raises BadValue."""
    far, speed, steep, lasts = _move(axis, settings)
    loops, begin, found = _loops(axis), FROM * axis.room, []
    for place, (stage, *gains) in _rows(loops).items():
        words = (f"Set {loops.said(*gains)}. Move from {axis.said(begin)} to {axis.said(begin + far)}. {QUESTIONS[stage]} 1 yes,"
                 " 0 no.")
        found.append(Step(place, words, BY_HAND, float(stage), (
            ("hand", "gains", *gains), ("move", begin), ("begin", begin + far, speed, steep),
            ("trace", lasts, OF[0] if stage == 2 else OF[1]), ("judge", STAGES[stage]))))
    return tuple(found)


def led_tuning(axis: PlanAxis, _settings: dict[str, Any], values: dict[str, float]) -> str:
    """The next gain to try; nothing when all three have been found."""
    for n in range(STEPS):
        if values.get(f"velocity[{n}]") is None:
            return f"velocity[{n}]"
        if values[f"velocity[{n}]"] > 0:
            return _next_outer(n, values)
    return _next_outer(STEPS, values)


def _next_outer(n: int, values: dict[str, float]) -> str:
    held = 0  # how many integral times held
    for j in range(len(INTEGRALS)):
        answer = values.get(f"integral[{n}][{j}]")
        if answer is None:
            return f"integral[{n}][{j}]"
        if answer > 0:
            break
        held = j + 1
    for m in range(len(POSITIONS)):
        answer = values.get(f"position[{n}][{held}][{m}]")
        if answer is None:
            return f"position[{n}][{held}][{m}]"
        if answer > 0:
            break
    return ""


def columns_tuning(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    """The rows that were tried, in their order. Raises BadValue."""
    rows = [(*row, values[place]) for place, row in _rows(_loops(settings["axis"])).items() if place in values]
    return {name: [float(row[n]) for row in rows] for n, name in enumerate(
        ("stage", "velocity_gain", "velocity_integral", "position_gain", "sang"))}


def tuned_so_far(axis: PlanAxis, values: dict[str, float]) -> Tuned:
    """What follows from the answers so far. Raises BadValue."""
    columns = columns_tuning({"axis": axis}, values)
    return tuned(TuningReading(**{name: np.array(column) for name, column in columns.items()}))


def odd_answer(_settings: dict[str, Any], _values: dict[str, float], _place: str, value: float) -> str:
    """Only yes and no are answers. Raises BadValue for another number."""
    if value not in (0.0, 1.0):
        raise BadValue("1 for yes, 0 for no")
    return ""
