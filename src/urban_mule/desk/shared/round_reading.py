"""What a round makes of its numbers: a reading of the axis, a table of speeds, or a reading of two axes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from urban_mule.bench.sessions.by_stand import beside
from urban_mule.bench.sessions.by_two import other_of
from urban_mule.bench.sessions.gauged import REFERENCE
from urban_mule.bench.sessions.kinds import PLAN_KINDS, TEMPERATURE_DOUBT, columns_of, sure_to, temperature_in
from urban_mule.bench.sessions.rounds import PlanAxis, Round, really_taken
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.given import BadValue
from urban_mule.store.book import conditions_of
from urban_mule.store.document.pairs import PAIR_MODELS
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.document.spindles import SpeedTableBody
from urban_mule.store.state.axis_state import AxisState


def reading_of(axis: PlanAxis, made: Round, records: Mapping[str, Any], begun: AxisState, gauge: Any) -> Any:
    """The reading of one axis, or the table of speeds. records: by their place, of a round that takes records. begun: the axis as
    it was then. Raises BadValue, ValueError.
    """
    model, data = READING_MODELS.get(made.kind), _columns(axis, made, records)
    if model is None:
        return SpeedTableBody.model_validate(data)
    return model.model_validate({"kind": made.kind, **data, **_told(made, begun, gauge)})


def pair_reading_of(axis: PlanAxis, made: Round, begun: AxisState, gauge: Any, practice: bool) -> Any:
    """The reading of two axes. practice: whether the project is one of a practice machine. Raises BadValue, ValueError."""
    sources = [str(one["source"]) for one in made.taken if not beside(str(one["place"]))]
    if "practice" in sources and not practice:
        raise BadValue("made-up readings do not enter a real project")
    sure = None if gauge is None else gauge.gauge_uncertainty
    told = {"gauge_uncertainty": sure} if sure is not None and made.kind != "circle" else {}
    second, _ = other_of(axis, made.settings)
    return PAIR_MODELS[made.kind].model_validate({
        "kind": made.kind, "axes": (begun.axis.name, second), "taken": str(made.taken[-1]["time"]),
        "source": max(sorted(set(sources)), key=sources.count), "gauge": "" if gauge is None else gauge.name,
        **_columns(axis, made, {}), **told})


def _columns(axis: PlanAxis, made: Round, records: Mapping[str, Any]) -> dict[str, Any]:
    """The columns, and when the numbers of a round over time were really taken; from paper and of a practice machine the plan's
    minutes.
    """
    data = columns_of(made.kind, axis, made.settings, {**made.values, **records})
    times = PLAN_KINDS[made.kind].times
    if times and not any(one["source"] == "practice" for one in made.taken):
        data[times] = really_taken(data[times], [str(one["time"]) for one in made.taken])
    return data


def _told(made: Round, begun: AxisState, gauge: Any) -> dict[str, Any]:
    """What the reading says of itself: when, by which gauge, under which conditions."""
    by_place = {str(one["place"]): str(one["source"]) for one in made.taken}
    most = max(sorted(set(by_place.values()), reverse=True), key=list(by_place.values()).count)
    others = {place: source for place, source in by_place.items() if source != most and "[" in place}
    told: dict[str, Any] = {
        "taken": str(made.taken[-1]["time"]), "source": most, "gauge": "" if gauge is None else gauge.name,
        "sources": others or None, "conditions": conditions_of(begun.solution)}
    if made.settings.get("sensor_place"):
        told["conditions"]["sensor_place"] = made.settings["sensor_place"]
    columns = {one.name for one in reading_kinds()[made.kind].columns if one.shape == "one"}
    for name in ("gauge_uncertainty", "gauge_expansion"):
        if gauge is not None and name in columns and getattr(gauge, name) is not None:
            told[name] = getattr(gauge, name)
    if made.settings.get(REFERENCE):
        told["conditions"][REFERENCE] = float(made.settings[REFERENCE])
    doubt_of = sure_to(made.settings, TEMPERATURE_DOUBT.name)
    if doubt_of is not None:
        (told if TEMPERATURE_DOUBT.name in columns else told["conditions"])[TEMPERATURE_DOUBT.name] = doubt_of
    temperature = temperature_in(made.settings)
    if temperature is not None:
        told["conditions"]["ambient_temperature"] = temperature
        if "temperature" in columns:
            told["temperature"] = temperature
    return told
