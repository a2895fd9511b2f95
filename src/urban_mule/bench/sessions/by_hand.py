"""Plans of what a hand does beside a standing machine: push, pluck, turn, look at a piece."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.bench.sessions.by_stand import where_it_stands
from urban_mule.bench.sessions.rounds import BY_HAND, PlanAxis, Step, listed, numbers, repeats_of, table_of
from urban_mule.core.readings.warming import STATES
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue

LIFTS, MOVES_IT = 1.3, 2.0  # times what resists: the first force of a push
ALONG, DIAGONALS = "along the axis", {"A": "both axes to the same side", "B": "the other axis to the other side"}
BELOW_SLIP = 0.3  # of the one at which the motor jumps: the last one
USUAL_FORCES = {"N": "10 20 40 60", "lbf": "2 5 10 15", "N·m": "1 2 4 6", "ozf·in": "150 300 600 900"}


def settings_push(axis: PlanAxis) -> dict[str, Any]:
    """Forces that move it, and no more than that needs: a field that is pushed far gives way more and more."""
    return {"forces": " ".join(units.number_text(force, 2) for force in telling_forces(axis)) or USUAL_FORCES[axis.effort_unit],
            "repeats": 3, **({"direction": ALONG} if axis.fellow else {})}


def telling_forces(axis: PlanAxis) -> list[float]:
    """Four forces that overcome the friction, and a weight that keeps the flanks together, as they are typed; none where neither is
    known. They stay well below the one at which the motor jumps, where its field gives way more and more.
    """
    friction, weight = axis.friction, abs(axis.weight)
    least = LIFTS * (weight + friction) if weight > friction else MOVES_IT * friction
    most = least + 3 * max(friction, 0.3 * least)
    if axis.slips is not None and not weight > friction:
        most = max(min(most, friction + BELOW_SLIP * float(axis.slips)), 1.2 * least)
    return [float(force) / axis.effort(1.0) for force in np.linspace(least, most, 4)] if least else []


def steps_push(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Push both ways with rising forces, as settings say. Raises BadValue."""
    forces, unit = sorted(numbers(settings["forces"], "forces", 2)), axis.effort_unit
    if forces[0] <= 0:
        raise BadValue(f"a force of {forces[0]:g} {unit} does not push; allowed are forces above 0", "forces")
    along = str(settings.get("direction", ""))
    aslant = f" along the diagonal, {DIAGONALS[along]}," if along in DIAGONALS else ""
    which = (float(1 + list(DIAGONALS).index(along)),) if along in DIAGONALS else ()
    return where_it_stands(axis, tuple(
        Step(
            f"{way}[{repeat}][{place}]",
            f"Push to {way}{aslant} with {force:g} {unit} and hold. Read the indicator.",
            BY_HAND,
            axis.effort(force if way == "plus" else -force),
            (("hand", "push", axis.effort(force if way == "plus" else -force), *which), ("read",)),
        )
        for repeat in range(repeats_of(settings))
        for place, force in enumerate(forces)
        for way in ("plus", "minus")
    ))


def columns_push(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    forces = sorted(numbers(settings["forces"], "forces", 2))
    plus, minus = (table_of(values, way, len(forces)) for way in ("plus", "minus"))
    whole = min(len(plus), len(minus))
    along = str(settings.get("direction", ""))
    return {"forces": [settings["axis"].effort(force) for force in forces], "plus": plus[:whole], "minus": minus[:whole],
            **({"direction": along} if along in DIAGONALS else {})}


def positive(settings: dict[str, Any], name: str, needed: bool = True) -> float | None:
    """A single number of a plan above 0, as its text says it. Raises BadValue."""
    text = str(settings.get(name) or "").strip()
    if not text and not needed:
        return None
    value = numbers(text, name)[0] if text else 0.0
    if value <= 0:
        raise BadValue(f"{name} is {text or 'empty'}; a number above 0 is needed", name)
    return value


def steps_tone(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    span, linear_mass = positive(settings, "span") or 0.0, positive(settings, "linear_mass") or 0.0
    does = (("hand", "tone", axis.length(span), linear_mass * units.FACTORS["g/m"]),)
    return (Step("frequency", f"Pluck the free span of {span:g} {axis.length_unit} and read its lowest tone.", BY_HAND, 0.0, does),)


def columns_tone(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    return {
        **values,
        "span": settings["axis"].length(positive(settings, "span") or 0.0),
        "linear_mass": (positive(settings, "linear_mass") or 0.0) * units.FACTORS["g/m"],
    }


def steps_drag(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """What moves it by hand or at a spanner, and the range written down with it. Raises BadValue."""
    radius = positive(settings, "radius") or 0.0
    low, high = positive(settings, "lowest", False), positive(settings, "highest", False)
    if low is not None and high is not None and low > high:
        raise BadValue(f"lowest is {low:g}, above highest, {high:g}", "lowest")
    return (
        Step(
            "force",
            f"Pull at {radius:g} {axis.length_unit} from the shaft until it just turns. It must drag slightly and stay smooth;"
            " roughness under the hand means too much.",
            BY_HAND,
            0.0,
            (("hand", "drag", axis.length(radius)),),
        ),
    )


def columns_drag(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    axis = settings["axis"]
    bounds = {name: axis.torque(value) for name in ("lowest", "highest")
              if (value := positive(settings, name, False)) is not None}
    return {**values, "radius": axis.length(positive(settings, "radius") or 0.0), **bounds}


def steps_ripple(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Spacing and heights of the crests behind a corner. Raises BadValue."""
    speed = axis.si(positive(settings, "speed") or 0.0)
    crests = numbers(settings["crests"], "crests")[0]
    if not 0 <= crests <= 20 or crests != int(crests):
        raise BadValue(f"crests is {crests:g}; allowed is a whole number from 0 to 20", "crests")
    first = Step("spacing", "Measure along the ripple behind the corner, from one crest to the next.", BY_HAND, 0.0,
                 (("hand", "ripple", speed, 0.0),))
    return (
        first,
        *(
            Step(f"heights[{n}]", f"Height of crest {n + 1}, counted from the corner.", BY_HAND, n + 1.0,
                 (("hand", "ripple", speed, n + 1.0),))
            for n in range(int(crests))
        ),
    )


def columns_ripple(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    heights = listed(values, "heights")
    told = {"speed": settings["axis"].si(positive(settings, "speed") or 0.0), "spacing": values["spacing"]}
    return {**told, "heights": heights} if heights else told


def steps_warming(_axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Temperatures of a motor from cold, moving or holding. Raises BadValue."""
    state = str(settings.get("state") or "moving")
    if state not in STATES:
        raise BadValue(f"state is {state[:20]}; allowed is {' or '.join(STATES)}", "state")
    return _from_cold(settings, MOVING if state == STATES[0] else HOLDING, "case", float(state == STATES[1]))


def steps_cooling(_axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    return _from_cold(settings, MOVING, "driver", 2.0)


MOVING = ("Then start the cycle and let it run", "the cycle still running")
HOLDING = ("Then power the motor and let it hold, without a move", "the motor still holding")


def _from_cold(settings: dict[str, Any], does: tuple[str, str], where: str, touched: float) -> tuple[Step, ...]:
    """A temperature at each of the minutes. does: what is begun at the first, and goes on; touched: what practice touches."""
    minutes = _minutes(settings)
    return tuple(
        Step(f"temperature[{n}]", _cold_or_warm(minute, n, does, where),
             max(BY_HAND, float(gap) * 60), minute * 60,
             ((("wait", float(gap) * 60),) if gap else ()) + (("hand", "warmth", touched),))
        for n, (minute, gap) in enumerate(zip(minutes, [minutes[0], *np.diff(minutes)], strict=True)))


def _cold_or_warm(minute: float, number: int, does: tuple[str, str], where: str) -> str:
    """What the hand does for a temperature; the thermometer stays where it was fixed."""
    if number == 0 and minute == 0:
        return f"Cold, before anything is switched on: read the thermometer on the {where}. {does[0]}."
    return f"At {minute:g} minutes, {does[1]}: read the thermometer on the {where}."


def _minutes(settings: dict[str, Any]) -> list[float]:
    minutes = sorted(numbers(settings["minutes"], "minutes", 4))
    if minutes[0] < 0:
        raise BadValue(f"minutes begin at {minutes[0]:g}; the cold start is 0", "minutes")
    return minutes


def columns_cooling(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    found = listed(values, "temperature")
    return {"time": [minute * 60 for minute in _minutes(settings)[: len(found)]], "temperature": found}


def columns_warming(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    return {**columns_cooling(settings, values), "state": str(settings.get("state") or "moving")}
