"""Plans: every kind from its steps to a reading and back to the truth that was put in; what is odd; what makes no plan."""

from __future__ import annotations

import math
import re
from typing import Any

import numpy as np
import pytest

from urban_mule.bench.sessions.gauged import PlanGauge
from urban_mule.bench.sessions.kinds import PLAN_KINDS, columns_of, steps_of
from urban_mule.bench.sessions.promised import good_for
from urban_mule.bench.sessions.rounds import PlanAxis, Round
from urban_mule.core.readings.place import place_of
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.slack.reversal import backlash_uncertainty
from urban_mule.core.subjects import axis_sheet
from urban_mule.store.document.readings import READING_MODELS

AXIS = PlanAxis(0.95, True, 0.4, ((0.2, 2.0), (0.4, 4.0), (0.4, 6.0)))
TYPED = {"tone": {"span": "420", "linear_mass": "9.5"}, "drag": {"radius": "60", "lowest": "0.02", "highest": "0.05"}}
TRUTH: dict[str, Any] = {  # kind: number at a place of a step, and the quantities that come of it
    "reversal": (lambda step, t, r, c: (-9e-6 if t == "up" else 9e-6) + 1e-6 * c, {"backlash": 18e-6}),
    "positioning": (lambda step, t, r, c: (-5e-6 if t == "up" else 5e-6) + 2e-5 * step.at, {"reversal_value": 10e-6}),
    "travel": (lambda step, t, r, c: 0.76 * 1.0004, {"scale_ratio": 1.0004}),
    "lengths": (lambda step, t, r, c: 2e-5 + step.at * 0.9993,
                {"length_slope": 0.9993, "length_offset": 2e-5, "scale_ratio": 0.9993}),
    "push": (lambda step, t, r, c: math.copysign(12e-6 + 2e-7 * abs(step.at), step.at),
             {"free_play": 24e-6, "push_compliance": 2e-7, "contact_stiffness": 5e6}),
    "tone": (lambda step, t, r, c: 96.0, {"tone_tension": 4 * 9.5e-3 * 0.42**2 * 96.0**2}),
    "drag": (lambda step, t, r, c: 0.6, {"preload_torque": 0.036}),
    "homing": (lambda step, t, r, c: (3e-6, -3e-6)[r % 2], {"homing_greatest_step": 6e-6}),
    "ladder": (lambda step, t, r, c: 1e-6 * r, {}),
    "drift": (lambda step, t, r, c: 30e-6 * (1 - math.exp(-step.at / 900)), {}),
    "warming": (lambda step, t, r, c: 22 + 40 * (1 - math.exp(-step.at / 1200)),
                {"warming_rise": 40.0, "warming_time_constant": 1200.0}),
    "cooling": (lambda step, t, r, c: 21 + 24 * (1 - math.exp(-step.at / 500)),
                       {"driver_warming_rise": 24.0, "driver_warming_time_constant": 500.0}),
    "ripple": (lambda step, t, r, c: 4e-3 if t == "spacing" else 50e-6 * math.exp(-0.3 * r), {}),
}


def fill(kind: str, steps: Any) -> dict[str, float]:
    found = {}
    for step in steps:
        name, at = place_of(step.place)
        found[step.place] = TRUTH[kind][0](step, name, *(*at, None, None)[:2])
    return found


@pytest.mark.parametrize("hysteresis", [0.0, 3e-6])
def test_a_plan_promises_what_its_reading_then_is_sure_to(hysteresis: float) -> None:
    """Drawn with the scatter that it counts on, by a gauge that leans or not; the backlash itself is no scatter."""
    gauge, scatter = PlanGauge("dial", "dial", 5e-3, 1e-6, 0.0, 0.0, hysteresis), 2e-6
    settings, random = PLAN_KINDS["reversal"].settings(AXIS) | {"repeats": 5}, np.random.default_rng(5)
    steps, sure = steps_of("reversal", AXIS, settings), []
    for _ in range(40):
        values = {place: one + random.normal(0, scatter) for place, one in fill("reversal", steps).items()}
        reading = READING_MODELS["reversal"].model_validate({"kind": "reversal", **columns_of("reversal", AXIS, settings, values)})
        sure.append(backlash_uncertainty(reading.core, reading.core.reversal, gauge.resolution, gauge.hysteresis))
    assert good_for("reversal", steps, gauge, scatter, {}) == pytest.approx(2 * np.mean(sure), rel=0.1)


@pytest.mark.parametrize("kind", sorted(TRUTH))
def test_what_is_put_in_comes_out(kind: str) -> None:
    settings = PLAN_KINDS[kind].settings(AXIS) | TYPED.get(kind, {})
    steps = steps_of(kind, AXIS, settings)
    assert len({step.place for step in steps}) == len(steps) and all(step.seconds > 0 and step.instruction for step in steps)
    values = fill(kind, steps)
    reading = READING_MODELS[kind].model_validate({"kind": kind, **columns_of(kind, AXIS, settings, values), "source": "typed"})
    inputs = {f"{kind}_reading": reading.core, f"{kind}_readings": (reading.core,)}
    if kind in ("travel", "lengths"):
        inputs["scale_reading"] = reading.core
    solution = axis_sheet("linear", "stepper").solve(**inputs)
    for name, wanted in TRUTH[kind][1].items():
        assert solution[name] == pytest.approx(wanted, rel=1e-6), name
    again = Round.from_plain(Round("k", kind, "X", settings, [{"place": p, "value": v} for p, v in values.items()]).plain())
    assert again.values == values
    by_hand = {name for name, plan in PLAN_KINDS.items() if not plan.records and plan.key == "axes" and not plan.pair
               and plan.needs != "servo"}
    assert by_hand == TRUTH.keys(), "every plan by hand has a truth here"


@pytest.mark.parametrize("kind", ["reversal", "lengths", "push", "travel", "drift"])
def test_a_round_ended_early_makes_a_reading_of_what_is_whole(kind: str) -> None:
    settings = PLAN_KINDS[kind].settings(AXIS)
    steps = steps_of(kind, AXIS, settings)
    part = dict(list(fill(kind, steps).items())[:-3])
    reading = READING_MODELS[kind].model_validate({"kind": kind, **columns_of(kind, AXIS, settings, part)})
    table = next(getattr(reading, one.name) for one in reading.declared.columns if one.shape in ("rows", "list") and (
        one.shape == "rows" or kind in ("travel", "drift")))
    assert len(table) >= 1
    with pytest.raises(BadValue, match="not even one whole repeat|not enough"):
        columns_of(kind, AXIS, settings, {})


@pytest.mark.parametrize(("kind", "settings", "said"), [
    ("reversal", {"targets": "50 2000", "repeats": 3}, "2000 mm lies outside the travel of 950 mm"),
    ("reversal", {"targets": "50 50", "repeats": 3}, "each is needed once"),
    ("reversal", {"targets": "here", "repeats": 3}, "no list of numbers"),
    ("reversal", {"targets": "50", "repeats": 0}, "a whole number from 1 to 50"),
    ("lengths", {"targets": "50", "repeats": 1}, "at least 2"), ("travel", {"commanded": "0", "repeats": 2}, "a travel to measure"),
    ("push", {"forces": "-5 5", "repeats": 1}, "above 0"), ("tone", {"span": "", "linear_mass": "9"}, "span is empty"),
    ("drag", {"radius": "60", "lowest": "2", "highest": "1"}, "above highest"),
    ("drift", {"minutes": "-1 2 3", "targets": "50"}, "the cold start is 0"),
    ("ripple", {"speed": "10", "crests": "2.5"}, "whole number"),
    ("reversal", {"targets": "50", "repeats": 1, "overrun": "-3"}, "a way above 0 is needed"),
    ("positioning", {"targets": "50", "repeats": 1, "dwell": "9999"}, "allowed is 0 to 600 s"),
    ("acceleration", {"lowest": "80", "highest": "8", "duration": "4"}, "not below highest"),
])
def test_what_makes_no_plan_is_one_sentence(kind: str, settings: dict[str, Any], said: str) -> None:
    with pytest.raises(BadValue, match=said):
        steps_of(kind, AXIS, settings)


def test_a_turning_axis_is_led_in_degrees() -> None:
    axis = PlanAxis(2 * math.pi, False, 1.0)
    step = steps_of("reversal", axis, {"targets": "90 180", "repeats": 1})[0]
    assert "to 90 °, coming towards plus" in step.instruction and step.at == pytest.approx(math.pi / 2)


@pytest.mark.parametrize("axis", [
    PlanAxis(0.18, True, 0.15, ((0.0123456, 34.11), (150.0, 3.4e4))), PlanAxis(60.0, True, 12.0, ((12.0, 1.2e3),)),
    PlanAxis(2e-3, True, 1e-5, ((1e-5, 1e-4),)), PlanAxis(2e4, False, 6e3, ((6e3, 2e6),)),
    PlanAxis(1e-3, False, 1e-5, ((1e-5, 1e-6),), highest=800.0)])
def test_no_plan_reads_with_an_exponent_and_what_it_offers_is_taken(axis: PlanAxis) -> None:
    for kind, plan in PLAN_KINDS.items():
        if plan.pair or (plan.key != "axes" and axis.highest is None) or kind == "tuning":  # it asks for a drive that is known
            continue
        offered = plan.settings(axis)
        steps = steps_of(kind, axis, offered | TYPED.get(kind, {}))
        for text in (*map(str, offered.values()), *(step.instruction for step in steps)):
            assert not re.search(r"[0-9]e[+-]?[0-9]", text), (kind, text)


@pytest.mark.parametrize("typed", ["nan", "inf", "1e400", "1_0", "٣", "-inf", "0x10"])
def test_a_number_that_is_none_is_refused_where_it_is_typed(typed: str) -> None:
    """In every field of every plan that is a number or a list of them: else no save after it would succeed."""
    axis = PlanAxis(0.5, True, 0.2, ((0.1, 1.0),))
    for kind, plan in PLAN_KINDS.items():
        usual = plan.settings(axis)
        for name in set(usual) & {"targets", "rungs", "distance", "overrun", "dwell", "duration", "lowest", "highest", "span",
                                  "radius", "forces", "times", "minutes"}:
            with pytest.raises(BadValue):
                steps_of(kind, axis, {**usual, name: f"{typed}/{typed}" if name == "rungs" else typed})
