"""What one part of the document says of another by its name or place, as the open JSON does, follows it there."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from urban_mule.store.document.belief import OF_LIST
from urban_mule.store.document.project import Axis, Project


def followed(part: Any, change: dict[str, Any]) -> dict[str, Any]:
    """What else of a part changes with a change of it, by key."""
    found: dict[str, Any] = {}
    if "usual" not in change and not change.keys().isdisjoint(getattr(part, "usual", None) or ()):
        found["usual"] = tuple(name for name in part.usual if name not in change) or None  # what somebody says is no usual value
    for name, value in change.items():
        follow = FOLLOW.get((type(part), name))
        if follow is not None and isinstance(value, (tuple, list, type(None))):
            found |= {key: other for key, other in follow(part, tuple(value or ())).items() if key not in change}
    return found


def _said(one: Any, key: str, default: Any = None) -> Any:
    """What a part, or what it is to be made of, says."""
    return one.get(key, default) if isinstance(one, dict) else getattr(one, key, default)


def _renamed(before: tuple[Any, ...] | None, after: tuple[Any, ...]) -> dict[str, str]:
    """The new names of parts by their old ones, of those that have another."""
    names = {one.id: one.name for one in before or ()}
    return {names[one.id]: one.name for one in after
            if not isinstance(one, dict) and one.id in names and one.name != names[one.id]}


def _of_axes(project: Project, axes: tuple[Any, ...]) -> dict[str, Any]:
    """Readings of two axes, pairs, steps of the machine's cycle, made-up machines and hidden faults follow an axis to its name;
    readings, pairs and steps go with one that goes, readings and pairs with one that turns."""
    found: dict[str, Any] = {}
    renamed = _renamed(project.axes, axes)
    if project.hidden is not None and project.hidden.axis in renamed:
        found["hidden"] = project.hidden.model_copy(update={"axis": renamed[project.hidden.axis]})
    if project.machines and any(one.axis in renamed for one in project.machines):
        found["machines"] = tuple(one.model_copy(update={"axis": renamed.get(one.axis, one.axis)}) for one in project.machines)
    if project.readings:
        linear = {_said(axis, "name") for axis in axes if _said(axis, "motion", "linear") == "linear"}
        kept = []
        for one in project.readings:
            pair = tuple(renamed.get(name, name) for name in one.axes)
            if set(pair) <= linear and len(set(pair)) > 1:
                kept.append(one if pair == one.axes else one.model_copy(update={"axes": pair}))
        found["readings"] = tuple(kept)
    names = {_said(axis, "name") for axis in axes}
    if project.machine_cycle and (renamed or not {one for step in project.machine_cycle for one in step.axes} <= names):
        found["machine_cycle"] = tuple(one.model_copy(update={"axes": tuple(
            name for old in one.axes if (name := renamed.get(old, old)) in names)}) for one in project.machine_cycle)
    if project.pairs:
        linear = {_said(axis, "name") for axis in axes if _said(axis, "motion", "linear") == "linear"}
        there = [one.model_copy(update={"axes": tuple(renamed.get(name, name) for name in one.axes)})
                 if renamed.keys() & set(one.axes) else one for one in project.pairs]
        found["pairs"] = tuple(one for one in there if set(one.axes) <= linear) or None
    return found


def _of_spindles(project: Project, spindles: tuple[Any, ...]) -> dict[str, Any]:
    """What was ordered for a spindle follows it to its name."""
    slots = {f"spindle {name}": f"spindle {new}" for name, new in _renamed(project.spindles, spindles).items()}
    return {"parts": _moved(project.parts, slots)} if slots and project.parts else {}


def _of_gauges(project: Project, gauges: tuple[Any, ...]) -> dict[str, Any]:
    """Readings follow the gauge that took them to its name."""
    renamed = _renamed(project.gauges, gauges)
    if not renamed:
        return {}

    def named(one: Any) -> Any:
        return type(one).model_validate({**dict(one), "gauge": renamed[one.gauge]}) if one.gauge in renamed else one

    def measured(axis: Axis) -> Axis:
        readings = tuple(named(one) for one in axis.readings)
        same = all(one is other for one, other in zip(readings, axis.readings, strict=True))
        return axis if same else axis.model_copy(update={"readings": readings})

    pairs = {"readings": tuple(named(one) for one in project.readings)} if project.readings else {}
    return {"axes": tuple(measured(axis) for axis in project.axes), **pairs}


def _of_train(axis: Axis, train: tuple[Any, ...]) -> dict[str, Any]:
    """What was ordered for a link, and learnt of it, follows it to its place."""
    places = {one.id: place for place, one in enumerate(train) if not isinstance(one, dict)}
    return _belief_of_links(axis, places) | _parts_of_links(axis, train, places)


def _belief_of_links(axis: Axis, places: dict[str, int]) -> dict[str, Any]:
    """What was learnt of a link that is gone goes with it."""
    if axis.belief is None:
        return {}
    names, gone = {}, set()
    for one in axis.belief.inputs:
        found = OF_LIST.match(one)
        if found is None or found[1] != "train":
            continue
        link = (axis.train or ())[int(found[2])] if int(found[2]) < len(axis.train or ()) else None
        if link is None or link.id not in places:
            gone.add(one)
        else:
            names[one] = f"train[{places[link.id]}].{found[3]}"
    left = axis.belief.without(frozenset(gone))
    return {"belief": None if left is None else left.renamed(names)}


def _parts_of_links(axis: Axis, train: tuple[Any, ...], places: dict[str, int]) -> dict[str, Any]:
    """What was ordered for a link that is gone is kept as such."""
    if not any(one.slot.startswith("train ") for one in axis.parts or ()):
        return {}
    stays = len(train) == len(axis.train or ())  # then another link stands in its place
    slots = {}
    for place, link in enumerate(axis.train or ()):
        gone = place if stays and (isinstance(train[place], dict) or train[place].id not in {
            one.id for one in axis.train or ()}) else None
        now = places.get(link.id, gone)
        slots[f"train {place}"] = f"{link.kind}, was link {place + 1}" if now is None else f"train {now}"
    return {"parts": _moved(axis.parts, slots)}


def _moved(orders: Any, slots: dict[str, str]) -> tuple[Any, ...]:
    return tuple(one.model_copy(update={"slot": slots[one.slot]}) if slots.get(one.slot, one.slot) != one.slot else one
                 for one in orders)


FOLLOW: dict[tuple[type, str], Callable[[Any, tuple[Any, ...]], dict[str, Any]]] = {
    (Project, "axes"): _of_axes, (Project, "spindles"): _of_spindles, (Project, "gauges"): _of_gauges, (Axis, "train"): _of_train}
