"""The plan of every kind of reading that a person can take by hand, each declared once."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.bench.sessions.rounds import (
    FURTHEST,
    PlanAxis,
    PlanKind,
    Step,
    as_typed,
    in_travel,
    numbers,
    repeats_of,
    spread,
)
from urban_mule.core.sheet.given import BadValue, Given

BY_HAND = 18.0  # s that a person takes to move, to read and to type
LENGTH = ("µm", "°")
REPEATS = Given("repeats", "", "", "how often each is taken", whole=True, least=1, most=50, label="Repeats")
TARGETS = Given("targets", "", "", "places, mm or degrees, apart by spaces", label="Targets")


def _settings_two_way(count: int, repeats: int) -> Any:
    def settings(axis: PlanAxis) -> dict[str, Any]:
        return {"targets": spread(axis, count), "repeats": repeats}

    return settings


def _steps_two_way(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Up through the targets, down through them, as often as asked; each end is passed before turning."""
    targets = sorted(in_travel(axis, numbers(settings["targets"], "targets", 1)))
    found = []
    for repeat in range(repeats_of(settings)):
        for table, way, order in (("up", "below", range(len(targets))), ("down", "above", reversed(range(len(targets))))):
            for number, place in enumerate(order):
                turn = f" Pass it first, then come back from {way}." if number == 0 else ""
                found.append(
                    Step(
                        f"{table}[{repeat}][{place}]",
                        f"Go to {axis.said(targets[place])}, coming from {way}.{turn}",
                        BY_HAND,
                        targets[place],
                    )
                )
    return tuple(found)


def _table(values: dict[str, float], name: str, columns: int) -> list[list[float]]:
    """The whole rows of a table; a repeat that was begun and not ended is left out."""
    rows: list[list[float]] = []
    while all(f"{name}[{len(rows)}][{column}]" in values for column in range(columns)):
        rows.append([values[f"{name}[{len(rows)}][{column}]"] for column in range(columns)])
    return rows


def _columns_two_way(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    targets = sorted(settings["places"])
    up, down = (_table(values, name, len(targets)) for name in ("up", "down"))
    whole = min(len(up), len(down))
    return {"targets": targets, "up": up[:whole], "down": down[:whole]}


def _settings_travel(axis: PlanAxis) -> dict[str, Any]:
    return {"commanded": as_typed(axis, [0.8 * (axis.travel or 0.5)]), "repeats": 5}


def _steps_travel(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    commanded = in_travel(axis, numbers(settings["commanded"], "commanded"))[0]
    if commanded == 0:
        raise BadValue("commanded is 0; a travel to measure is needed", "commanded")
    return tuple(
        Step(
            f"measured[{n}]",
            f"Go to the start from below and zero the gauge; go {axis.said(commanded)} on. Read the length.",
            2.5 * BY_HAND,
            float(n),
        )
        for n in range(repeats_of(settings))
    )


def _list(values: dict[str, float], name: str) -> list[float]:
    found: list[float] = []
    while f"{name}[{len(found)}]" in values:
        found.append(values[f"{name}[{len(found)}]"])
    return found


def _settings_lengths(axis: PlanAxis) -> dict[str, Any]:
    return {"targets": as_typed(axis, np.round(np.linspace(0.1, FURTHEST, 5) * (axis.travel or 0.5), 4)), "repeats": 3}


def _steps_lengths(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    targets = sorted(in_travel(axis, numbers(settings["targets"], "targets", 2)))
    return tuple(
        Step(
            f"measured[{repeat}][{place}]", f"Go to {axis.said(target)}, coming from below. Read where it stands.", BY_HAND, target
        )
        for repeat in range(repeats_of(settings))
        for place, target in enumerate(targets)
    )


def _columns_lengths(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    targets = sorted(settings["places"])
    return {"commanded": targets, "measured": _table(values, "measured", len(targets))}


def _settings_push(_axis: PlanAxis) -> dict[str, Any]:
    return {"forces": "10 20 40 60", "repeats": 3}


def _steps_push(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    forces, unit = sorted(numbers(settings["forces"], "forces", 2)), "N" if axis.linear else "N·m"
    if forces[0] <= 0:
        raise BadValue(f"a force of {forces[0]:g} {unit} does not push; allowed are forces above 0", "forces")
    return tuple(
        Step(
            f"{way}[{repeat}][{place}]",
            f"Push to {way} with {force:g} {unit} and hold. Read the indicator.",
            BY_HAND,
            force if way == "plus" else -force,
        )
        for repeat in range(repeats_of(settings))
        for place, force in enumerate(forces)
        for way in ("plus", "minus")
    )


def _columns_push(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    forces = sorted(numbers(settings["forces"], "forces", 2))
    plus, minus = (_table(values, way, len(forces)) for way in ("plus", "minus"))
    whole = min(len(plus), len(minus))
    return {"forces": forces, "plus": plus[:whole], "minus": minus[:whole]}


def positive(settings: dict[str, Any], name: str, needed: bool = True) -> float | None:
    """A single number of a plan above 0, as its text says it. Raises BadValue."""
    text = str(settings.get(name) or "").strip()
    if not text and not needed:
        return None
    value = numbers(text, name)[0] if text else 0.0
    if value <= 0:
        raise BadValue(f"{name} is {text or 'empty'}; a number above 0 is needed", name)
    return value


def _steps_tone(_axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    span = positive(settings, "span")
    positive(settings, "linear_mass")
    return (Step("frequency", f"Pluck the free span of {span:g} mm and read its lowest tone.", BY_HAND, 0.0),)


def _columns_tone(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    return {
        **values,
        "span": (positive(settings, "span") or 0.0) * 1e-3,
        "linear_mass": (positive(settings, "linear_mass") or 0.0) * 1e-3,
    }


def _steps_drag(_axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    radius = positive(settings, "radius")
    low, high = positive(settings, "lowest", False), positive(settings, "highest", False)
    if low is not None and high is not None and low > high:
        raise BadValue(f"lowest is {low:g}, above highest, {high:g}", "lowest")
    return (
        Step(
            "force",
            f"Pull at {radius:g} mm from the shaft until it just turns. It must drag slightly and stay smooth;"
            " roughness under the hand means too much.",
            BY_HAND,
            0.0,
        ),
    )


def _columns_drag(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    bounds = {name: value for name in ("lowest", "highest") if (value := positive(settings, name, False)) is not None}
    return {**values, "radius": (positive(settings, "radius") or 0.0) * 1e-3, **bounds}


def _steps_drift(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    minutes = sorted(numbers(settings["minutes"], "minutes", 3))
    if minutes[0] < 0:
        raise BadValue(f"minutes begin at {minutes[0]:g}; the cold start is 0", "minutes")
    place = axis.said(in_travel(axis, numbers(settings["targets"], "targets"))[0])
    gaps = [minutes[0], *np.diff(minutes)]
    return tuple(
        Step(
            f"deviation[{n}]",
            f"{minute:g} minutes from the cold start: go to {place} from below. Read the indicator.",
            max(BY_HAND, float(gap) * 60),
            minute * 60,
        )
        for n, (minute, gap) in enumerate(zip(minutes, gaps, strict=True))
    )


def _columns_drift(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    deviation = _list(values, "deviation")
    return {
        "time": [minute * 60 for minute in sorted(numbers(settings["minutes"], "minutes", 3))][: len(deviation)],
        "deviation": deviation,
    }


def _steps_ripple(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    positive(settings, "speed")
    crests = numbers(settings["crests"], "crests")[0]
    if not 0 <= crests <= 20 or crests != int(crests):
        raise BadValue(f"crests is {crests:g}; allowed is a whole number from 0 to 20", "crests")
    first = Step("spacing", "Measure along the ripple behind the corner, from one crest to the next.", BY_HAND, 0.0)
    return (
        first,
        *(
            Step(f"heights[{n}]", f"Height of crest {n + 1}, counted from the corner.", BY_HAND, n + 1.0)
            for n in range(int(crests))
        ),
    )


def _columns_ripple(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    heights = _list(values, "heights")
    speed = (positive(settings, "speed") or 0.0) * (1e-3 if settings["linear"] else np.pi / 180)
    return {"speed": speed, "spacing": values["spacing"], **({"heights": heights} if heights else {})}


INDICATOR = "The indicator stands on what does not move and touches the carriage as near to the tool as it can."
PLAN_KINDS: dict[str, PlanKind] = {
    one.kind: one
    for one in (
        PlanKind(
            "reversal",
            "indicator",
            INDICATOR,
            "how much motion is lost at a reversal, and where along the travel",
            "[travel]",
            LENGTH,
            _settings_two_way(5, 3),
            _steps_two_way,
            _columns_two_way,
            (TARGETS, REPEATS),
            True,
        ),
        PlanKind(
            "positioning",
            "indicator",
            INDICATOR,
            "accuracy and repeatability as ISO 230-2 has them, and what the error is made of",
            "[travel]",
            LENGTH,
            _settings_two_way(11, 5),
            _steps_two_way,
            _columns_two_way,
            (TARGETS, REPEATS),
            True,
        ),
        PlanKind(
            "travel",
            "scale",
            "A scale or caliper lies along the axis; the carriage carries its pointer.",
            "whether steps per unit are right, or a setting is wrong",
            "[travel]",
            ("mm", "°"),
            _settings_travel,
            _steps_travel,
            lambda settings, values: {"commanded": settings["places"][0], "measured": _list(values, "measured")},
            (Given("commanded", "", "", "travel to measure, mm or degrees", label="Travel"), REPEATS),
        ),
        PlanKind(
            "lengths",
            "scale",
            "A scale lies along the axis; the carriage carries its pointer.",
            "the scale apart from an offset, and what temperature explains of it",
            "[travel]",
            ("mm", "°"),
            _settings_lengths,
            _steps_lengths,
            _columns_lengths,
            (TARGETS, REPEATS),
        ),
        PlanKind(
            "push",
            "push",
            "The indicator touches the carriage; a spring balance pushes it, the motor holds.",
            "clearance, which is repaired, apart from spring, which wants a stiffer part",
            "[travel]",
            LENGTH,
            _settings_push,
            _steps_push,
            _columns_push,
            (Given("forces", "", "", "forces, apart by spaces", label="Forces"), REPEATS),
            True,
        ),
        PlanKind(
            "tone",
            "belt",
            "The belt is plucked at the middle of its free span; a phone or a tuner hears the tone.",
            "the tension of the belt",
            "Hz",
            ("Hz", "Hz"),
            lambda axis: {"span": "", "linear_mass": ""},
            _steps_tone,
            _columns_tone,
            (
                Given("span", "mm", "", "free length of the belt", label="Free span"),
                Given("linear_mass", "g/m", "", "mass of a metre of this belt in its width", label="Belt, g/m"),
            ),
        ),
        PlanKind(
            "drag",
            "drag",
            "A spring balance pulls at a lever on the shaft, the motor unplugged.",
            "whether the preload is in its range",
            "N",
            ("N", "N"),
            lambda axis: {"radius": "", "lowest": "", "highest": ""},
            _steps_drag,
            _columns_drag,
            (
                Given("radius", "mm", "", "lever arm", label="Lever"),
                Given("lowest", "N·m", "", "least wanted", label="Wanted from"),
                Given("highest", "N·m", "", "most wanted", label="Wanted up to"),
            ),
        ),
        PlanKind(
            "drift",
            "indicator",
            INDICATOR,
            "how far it wanders while it warms, and how long to wait",
            "[travel]",
            LENGTH,
            lambda axis: {"minutes": "0 2 5 10 15 20 30 45 60", "targets": as_typed(axis, [0.5 * (axis.travel or 0.5)])},
            _steps_drift,
            _columns_drift,
            (
                Given("minutes", "", "", "minutes from the cold start", label="Minutes"),
                Given("targets", "", "", "the place, mm or degrees", label="Place"),
            ),
            True,
        ),
        PlanKind(
            "ripple",
            "piece",
            "A ruler lies along the ripple of a test piece, behind a sharp corner.",
            "frequency and damping of what rings, without a sensor",
            "[travel]",
            ("mm", "°"),
            lambda axis: {"speed": as_typed(axis, [axis.speed or 0.1]), "crests": "4"},
            _steps_ripple,
            _columns_ripple,
            (
                Given("speed", "", "", "speed at which it was made, mm/s or degrees a second", label="Speed"),
                Given("crests", "", "", "crests whose height is read; 0 for none", label="Crests"),
            ),
        ),
    )
}


def steps_of(kind: str, axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """The steps of a plan. Raises BadValue for settings that make none."""
    return PLAN_KINDS[kind].steps(axis, settings)


def columns_of(kind: str, axis: PlanAxis, settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    """What was taken as the columns of a reading. Raises BadValue when not even one whole repeat was taken."""
    typed = settings.get("targets") or settings.get("commanded")
    places = in_travel(axis, numbers(typed, "targets")) if typed else []
    try:
        found = PLAN_KINDS[kind].columns({**settings, "places": places, "linear": axis.linear}, values)
    except KeyError:
        raise BadValue("not enough was taken to make a reading") from None
    if any(isinstance(value, list) and not value for value in found.values()):
        raise BadValue("not even one whole repeat was taken")
    return found
