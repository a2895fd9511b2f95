"""A plan carried out by a machine: one step after a person's press, or all of them on a machine that is made up."""

from __future__ import annotations

import math
from dataclasses import fields
from typing import Any

import numpy as np

from urban_mule.bench.devices import RESTING, BenchMachine, DeviceError
from urban_mule.bench.sessions.kinds import PLAN_KINDS, columns_of, left_of, steps_of
from urban_mule.bench.sessions.rounds import PlanAxis, Step
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.ring.sings import sings
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.solution import Solution


def carry_out(step: Step, machine: BenchMachine) -> Any:
    """The number of a step, in SI, or its record (times and values). Raises DeviceError, Cancelled."""
    zero, stops, found = 0.0, 0.0, None  # type: float, float, Any
    for what, *values in step.does:
        match what:
            case "move":
                machine.move(values[0])
            case "second":
                machine.second(values[0])
            case "gauge":
                found = machine.gauge(values[0], *values[1:])
            case "run":
                machine.run(*values)
            case "home":
                machine.home()
            case "zero":
                zero = machine.read()
            case "wait" | "dwell" if machine.practice:
                machine.hand("wait", values[0])
            case "dwell":
                machine.pause(values[0])
            case "creep":
                machine.move(machine.position() + values[0])
                found = 0.0
            case "read":
                found = step.adds + machine.read() - zero
            case "hand" if machine.practice:
                found = machine.hand(*values)
            case "begin":
                place, speed, acceleration, *longer = values
                far = abs(place - machine.position())
                stops = sum(longer) + (far / speed + speed / acceleration if far * acceleration > speed**2
                                       else 2 * math.sqrt(far / acceleration))
                machine.begin(place, speed, acceleration)
            case "listen":
                if machine.practice and len(step.does) == 1:
                    machine.hand("tap")  # a person taps a machine
                times, rows = machine.record(values[0] + stops)
                kept = times >= stops  # what rings after the stop counts
                found = {"time": times[kept], "values": np.round(rows[kept], 5)}
            case "trace":
                times, rows = machine.trace(*values)
                found = {"time": times, "values": rows}
            case "judge":
                found = float(sings(values[0], found["time"], *np.asarray(found["values"]).T))
            case "record":
                low, high, duration = values
                machine.shake(low, high, duration)
                times, rows = machine.record(duration + 2 * RESTING)
                found = {"time": times, "values": np.round(rows, 5)}
    if step.asks == "done":
        return 1.0  # the machine stands where the hand goes on
    if found is None:
        raise DeviceError("a machine cannot take this number; take it by hand")
    return found


def walk(kind: str, axis: PlanAxis, settings: dict[str, Any], machine: BenchMachine, progress: Progress) -> dict[str, Any]:
    """The columns of a whole reading taken by a machine. Raises BadValue, DeviceError, Cancelled."""
    steps, values = steps_of(kind, axis, settings), dict[str, Any]()
    machine.enable()
    while left := left_of(kind, axis, settings, steps, values):
        values[left[0].place] = carry_out(left[0], machine)
        if not progress(len(values), max(len(values), len(steps))):
            machine.stop()
            raise Cancelled
    return columns_of(kind, axis, settings, values)


def taken_into(solution: Solution, kind: str, axis: PlanAxis, settings: dict[str, Any], machine: BenchMachine
               ) -> tuple[Solution, Any]:
    """The solution with a set that a machine takes, and its record. Raises BadValue, DeviceError."""
    columns, record = walk(kind, axis, settings, machine, lambda *_: True), reading_kinds()[kind].record
    names = {one.name for one in fields(record)}
    made = record(**{name: np.asarray(value, dtype=float) if isinstance(value, (list, np.ndarray)) else value
                     for name, value in columns.items() if name in names})
    more = {"scale_reading": made} if kind == "travel" else {}
    return solution.changed(**{f"{kind}_reading": made}, **more), made


def usual(kind: str, axis: PlanAxis, **changed: Any) -> dict[str, Any]:
    """The usual settings of a plan, some of them changed."""
    return {**PLAN_KINDS[kind].usual(axis), **changed}
