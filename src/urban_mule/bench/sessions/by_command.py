"""The plan of commands: a spindle is told voltages, and the speed that came of each is read."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from urban_mule.bench.sessions.plain import plain_number
from urban_mule.bench.sessions.rounds import PlanAxis, Step, listed
from urban_mule.core.readings.straight_line import straight_line
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.units import RPM, number_text

USUAL, MOST, HIGHEST = "0 to 10 V in 6", 40, 1000.0  # the usual plan; steps it may have; V
GENTLE, PASSED = 0.25, 0.02  # of the greatest command: the first step at most; share by which a speed may be passed
FAR = 0.25  # of the greatest speed: a reading so far off the line of the others is asked about
STEADY = 15.0  # s until a spindle turns steadily and its speed is read
LACKS = "how fast may the tool turn? Give its highest speed on Load first"


def planned(text: str) -> list[float]:
    """`0 to 10 V in 6`, or voltages one by one, as voltages [V]. Raises BadValue."""
    words = text.replace("V", " ").split()
    try:
        if "to" not in words:
            found = [plain_number(word) for word in words]
        else:
            low, high, count = plain_number(words[0]), plain_number(words[2]), int(words[4])
            found = [float(one) for one in np.round(np.linspace(low, high, min(max(count, 0), MOST + 1)), 4)]
    except (IndexError, ValueError):
        raise BadValue(f"“{text[:40]}” is no plan; type it as {USUAL}", "voltages") from None
    if not 2 <= len(found) <= MOST or any(np.diff(found) <= 0) or max(map(abs, found)) > HIGHEST:
        raise BadValue(f"allowed are 2 to {MOST} rising steps, such as {USUAL}", "voltages")
    return found


def steps_command(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """A step for each voltage. Raises BadValue, also where nobody has said how fast the tool may turn."""
    commands = planned(str(settings.get("voltages") or ""))
    if axis.highest is None:
        raise BadValue(LACKS, "highest_speed")
    first, most = next((one for one in commands if one), 0.0), max(map(abs, commands))
    if abs(first) > GENTLE * most:
        raise BadValue(f"the first step goes to {number_text(first)} V at once; take steps so small that the first is at most"
                       f" {number_text(GENTLE * most)} V", "voltages")
    return tuple(Step(f"speed[{n}]", f"Command {number_text(one)} V, wait until it is steady, and read the speed.", STEADY, one)
                 for n, one in enumerate(commands))


def columns_command(settings: dict[str, Any], values: Mapping[str, float]) -> dict[str, Any]:
    """The table so far. Raises BadValue where it has fewer than two rows, or does not rise."""
    speeds = listed(dict(values), "speed")
    if len(speeds) < 2:
        raise BadValue("a table has two rows at least; take smaller steps")
    if any(np.diff(speeds) <= 0):
        raise BadValue("a speed is not faster than the one before it. One back, and read that one again")
    return {"command": planned(str(settings["voltages"]))[:len(speeds)], "speed": speeds}


def ends_command(axis: PlanAxis, settings: dict[str, Any], values: Mapping[str, float]) -> str:
    """Why the next voltage is not asked for, or nothing: its speed, carried on, would pass the highest."""
    commands, speeds = planned(str(settings["voltages"])), listed(dict(values), "speed")
    if axis.highest is None or not 0 < len(speeds) < len(commands):
        return ""
    after = carried_on(commands, speeds)
    if after <= axis.highest * (1 + PASSED):
        return ""
    return (f"{number_text(commands[len(speeds)])} V would lead to about {number_text(after / RPM, 3)} turns a minute, beyond the"
            f" highest speed of {number_text(axis.highest / RPM, 4)}: the round ends here.")


def carried_on(commands: list[float], speeds: list[float]) -> float:
    """The speed [rad/s] to expect at the next command [V], by the steeper of the last step and of all of them."""
    at = len(speeds)
    steps = [(commands[0], speeds[0]), *([(commands[at - 2], speeds[at - 2])] if at > 1 else [])]
    slopes = [(speeds[-1] - speed) / (commands[at - 1] - command) for command, speed in steps if commands[at - 1] != command]
    if not slopes and commands[at - 1]:
        slopes = [speeds[-1] / commands[at - 1]]
    return speeds[-1] + max([0.0, *slopes]) * (commands[at] - commands[at - 1])


def odd_command(settings: dict[str, Any], values: Mapping[str, float], place: str, value: float) -> str:
    """What is odd about a speed [rad/s] beside those before it, or nothing. Raises BadValue for one that is none."""
    if value < 0:
        raise BadValue("a speed below nothing: which way it turns is set elsewhere")
    commands, speeds = planned(str(settings["voltages"])), listed(dict(values), "speed")
    at = int(place.removeprefix("speed[").removesuffix("]"))
    before = speeds[:at]
    if before and value <= before[-1]:
        return "not faster than the step before"
    if len(before) < 2:
        return ""
    expected = float(straight_line(np.array(commands[:at]), np.array(before)).at(np.array(commands[at])))
    if abs(value - expected) <= FAR * max(abs(expected), *before):
        return ""
    return f"far off: the others lead to about {number_text(expected / RPM, 3)} turns a minute here"
