"""Every plan against every usual gauge: a dial that breaks when it is crushed, slips when it is left behind, and reads in steps."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from urban_mule.bench.sessions.by_stand import beside, closing_errors, drift_out, leans
from urban_mule.bench.sessions.doubt import doubt
from urban_mule.bench.sessions.gauged import PlanGauge, stacked
from urban_mule.bench.sessions.kinds import PLAN_KINDS, columns_of, left_of, steps_of
from urban_mule.bench.sessions.pace import left_in, pace
from urban_mule.bench.sessions.rounds import PlanAxis, Step, in_step
from urban_mule.core.readings.gauge import USUAL_GAUGES
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.subjects import axis_sheet
from urban_mule.desk.shared.faces_row import lengths_in
from urban_mule.store.document.project import GaugeModel
from urban_mule.store.text_files import BadFile

SHEET = axis_sheet("linear", "stepper")
GAUGES = {one.name: GaugeModel.model_validate({"name": one.name, "unit": one.unit, **one.values}) for one in USUAL_GAUGES}
BY_GAUGE = ("reversal", "positioning", "travel", "lengths", "drift", "homing", "ladder", "push")
FACES = ("positioning", "reversal")
AXIS = PlanAxis(0.86, True, 0.4, ((0.2, 2.0), (0.3, 3.0)), full_step=1.8e-4, friction=20.0)


@dataclass
class Bench:
    """A machine with lost motion and a scale off, and a gauge on it that can be crushed, left behind, or lean."""

    gauge: GaugeModel
    random: np.random.Generator
    backlash: float = 25e-6
    scale: float = 1.0003
    scatter: float = 1.5e-6
    lean: float = 0.0
    at: float = 0.0
    stands: float = math.nan  # where it really is
    crushed: list[str] = field(default_factory=list)
    zero: float = math.nan  # where the carriage was when the gauge was set to zero; none yet
    lifted: bool = False
    slides: float = 0.0

    def _stands(self, way: float) -> float:
        return (self.scale * self.at - way * self.backlash / 2 + self.scatter * self.random.standard_normal()
                + self.slides)

    def go(self, to: float, words: str) -> None:
        way = math.copysign(1.0, to - self.at) if to != self.at else 1.0
        self.at = to
        self.stands = self._stands(way)
        if self.gauge.gauge_kind in ("dial", "lever", "step gauge") and not math.isnan(self.zero) and not self.lifted:
            presses = -1.0 if self.kind.kind == "ladder" else 1.0  # on which side of the carriage it stands
            if presses * (self.stands - self.zero) > self.gauge.reach / 2:
                self.crushed.append(words)

    def reads(self, target: float) -> float:
        """What the gauge shows at a target [m]; a dial left behind shows nothing."""
        g = self.gauge
        away = self.stands - self.zero
        if g.gauge_kind == "step gauge" and self.kind.kind in FACES:
            away = self.stands - target - self.zero
        elif g.gauge_kind not in ("dial", "lever", "step gauge"):
            away = self.stands
        elif abs(away) > g.reach / 2:
            self.crushed.append("left behind")
        if self.errors is not None:  # what its certificate leaves open, the same at one place however often it is read
            away += self.errors.setdefault(round(self.at, 6), (g.gauge_uncertainty or 0.0) * self.random.standard_normal())
        side = self.hysteresis * math.copysign(1.0, self.way)
        seen = away * math.cos(self.lean) + side + g.repeatability_of_gauge * self.random.standard_normal()
        return round(seen / g.resolution) * g.resolution

    hysteresis: float = 0.0
    way: float = 1.0
    errors: dict[float, float] | None = None

    def take(self, step: Step) -> float:
        """The number of a step, as somebody types it: how far it is off, or where it stands."""
        for what, *values in step.does:
            if what in ("move", "run"):
                self.way = math.copysign(1.0, values[0] - self.at) if values[0] != self.at else self.way
                self.go(values[0], step.instruction)
            elif what == "home":
                self.way = -1.0
                self.go(0.0, step.instruction)
            elif what == "stand":
                self.zero = self.stands - (step.at if self.gauge.gauge_kind == "step gauge" and self.kind.kind in FACES else 0.0)
                self.lifted = False
            elif what == "clear":
                self.zero = math.nan
            elif what in ("lift", "down"):
                self.lifted = what == "lift"
        if step.asks == "done":
            return 1.0
        if step.place.startswith("sense"):
            return self.reads(0.0)
        plan, places = self.kind, self.gauge.gauge_kind in ("caliper", "scale", "ruler")
        shown = self.reads(step.at)
        if plan.deviations:
            return shown - step.at if places else shown
        return shown - self.before if plan.kind == "travel" else shown

    kind: Any = None
    before: float = 0.0


def settings_for(kind: str, axis: PlanAxis) -> dict[str, Any]:
    gauge = axis.gauge
    found = PLAN_KINDS[kind].usual(axis)
    return {**found, "gauge": gauge.plain(), **({"targets": "100 250 400 550"} if gauge.kind == "step gauge" and kind in (
        "positioning", "reversal") else {})}


Walked = tuple[Bench, dict[str, float], tuple[Step, ...], dict[str, Any]]


def walked(kind: str, gauge: GaugeModel, seed: int, **truth: Any) -> Walked:
    """A whole round with a gauge. Raises BadValue where the plan cannot be done with it."""
    planned = PlanGauge.of(gauge)
    axis = PlanAxis(**{**vars(AXIS), "gauge": planned})
    settings = settings_for(kind, axis)
    steps, values = steps_of(kind, axis, settings), dict[str, float]()
    random = np.random.default_rng(seed)
    bench = Bench(gauge, random, hysteresis=float(random.uniform(-1, 1) * (gauge.gauge_hysteresis or 0.0)), **truth)
    bench.kind = PLAN_KINDS[kind]
    bench.go(0.0, "begin")
    while left := left_of(kind, axis, settings, steps, values):
        step = left[0]
        if kind == "travel":
            bench.before = bench.scale * step.does[1][1] - bench.backlash / 2
        values[step.place] = bench.take(step)
    return bench, values, steps, settings


@pytest.mark.parametrize("kind", BY_GAUGE)
@pytest.mark.parametrize("name", GAUGES)
def test_no_plan_crushes_its_gauge_or_leaves_it_behind_or_it_says_what_could_be_done(kind: str, name: str) -> None:
    try:
        bench, values, steps, settings = walked(kind, GAUGES[name], 1)
    except BadValue as why:
        assert GAUGES[name].reach is not None and "does not reach" in str(why) and ("scale" in str(why)), why
        return
    if kind not in ("homing", "ladder"):  # where the carriage leaves the gauge and comes back to it from the same side
        assert not bench.crushed, bench.crushed[:2]
    assert not [one for one in bench.crushed if one != "left behind"]
    columns = columns_of(kind, AXIS, settings, values)
    reading_kinds()[kind].record(**{key: np.asarray(value) if isinstance(value, list) else value for key, value in columns.items()})
    assert all(step.asks == "done" or step.place in values for step in steps) or PLAN_KINDS[kind].led


SHOWS = {  # of a plan: what it measures, and what is so of the bench
    "reversal": ("backlash", lambda bench: bench.backlash), "lengths": ("scale_ratio", lambda bench: bench.scale),
    "travel": ("scale_ratio", lambda bench: bench.scale), "positioning": ("reversal_value", lambda bench: bench.backlash)}
BY_PLACES, BY_PRESSING = ("caliper", "scale"), ("dial", "lever", "scale", "step gauge")
TOGETHER = {"reversal": BY_PRESSING, "positioning": ("scale", "step gauge"), "travel": BY_PLACES, "lengths": BY_PLACES}


def held(kind: str, name: str, seed: int) -> bool:
    """Whether the interval of what a whole round measures holds what is so."""
    gauge = GAUGES[name]
    random = np.random.default_rng((seed, 7))
    bench, values, _, settings = walked(kind, gauge, seed, backlash=float(random.uniform(15e-6, 60e-6)),
                                            scale=1 + 4e-4 * float(random.standard_normal()), errors={})
    record = reading_kinds()[kind].record
    known = {"gauge_uncertainty": gauge.gauge_uncertainty} if kind in ("travel", "lengths") else {}
    reading = record(**{key: np.asarray(value) if isinstance(value, list) else value for key, value in {
        **columns_of(kind, AXIS, settings, values), **known}.items()})
    more = {"reversal": {"reversal_gauge_resolution": gauge.resolution, "reversal_gauge_hysteresis": gauge.gauge_hysteresis},
            "positioning": {"proof_gauge_uncertainty": gauge.gauge_uncertainty, "proof_gauge_hysteresis": gauge.gauge_hysteresis}
            }.get(kind, {"scale_reading": reading})
    solution = SHEET.solve(**{f"{kind}_reading": reading, **more})
    what, truth = SHOWS[kind]
    assert not bench.crushed
    return abs(solution[what] - truth(bench)) <= 2 * solution[f"{what}_uncertainty"]


def test_over_all_plans_and_gauges_the_stated_intervals_hold_what_is_so() -> None:
    found = [held(kind, name, seed) for kind, kinds in TOGETHER.items() for name, gauge in GAUGES.items() for seed in range(40)
             if gauge.gauge_kind in kinds]
    assert len(found) == 440 and 0.92 <= np.mean(found) <= 0.98, np.mean(found)


def test_a_dial_that_leans_is_told_by_its_small_move_and_a_stand_that_slid_by_its_closing_error() -> None:
    gauge = GAUGES["fine dial, 1 mm"]
    _, values, steps, _ = walked("reversal", gauge, 3, lean=math.radians(10.0))
    sensed = next(step for step in steps if step.place == "sense[0]")
    assert values["sense[0]"] / sensed.adds == pytest.approx(math.cos(math.radians(10.0)), abs=0.01)
    assert leans(sensed, values["sense[0]"], gauge) and not leans(sensed, values["sense[0]"] / math.cos(math.radians(10.0)), gauge)
    slid = dict(values)
    last = next(step.place for step in steps if step.place.startswith("closing[0]"))
    for number, step in enumerate(step for step in steps if step.place.endswith("[0]") and step.place[:2] in ("up", "do")):
        slid[step.place] += 4e-6 * number
    slid[last] = values[last] + 4e-6 * 6
    error = closing_errors(steps, slid)[last]
    assert error == pytest.approx(24e-6, abs=6e-6)
    assert drift_out(steps, slid)["up[2][0]"] == pytest.approx(values["up[2][0]"], abs=6e-6)


def test_what_is_left_of_a_round_follows_the_pace_of_whoever_takes_it() -> None:
    steps = steps_of("reversal", AXIS, {**PLAN_KINDS["reversal"].usual(PlanAxis(**{**vars(AXIS), "gauge": PlanGauge.of(
        GAUGES["dial indicator, 10 mm"])})), "gauge": PlanGauge.of(GAUGES["dial indicator, 10 mm"]).plain()})
    random, clock, taken, real = np.random.default_rng(2), datetime(2026, 3, 12, 9), [], []
    begun = clock.isoformat()
    for step in steps:
        took = step.seconds * (1.7 if step.asks == "done" else 0.45) * float(random.lognormal(0, 0.3))
        clock += timedelta(seconds=took)
        real.append(took)
        taken.append({"place": step.place, "time": clock.isoformat()})
    for done in range(10, len(steps) - 6):
        told = left_in(steps[done:], pace(steps, taken[:done], begun))
        assert told == pytest.approx(sum(real[done:]), rel=0.25), done


def test_targets_are_never_in_step_with_a_lead_and_a_dial_on_its_stand_is_offered_what_it_can_do() -> None:
    for turn in (0.072, 0.01, 0.036, 0.0043):
        axis = PlanAxis(**{**vars(AXIS), "turn": turn})
        for made in (PLAN_KINDS["positioning"].presets(axis), PLAN_KINDS["reversal"].presets(axis)):
            for one in made:
                places = np.array([float(word) for word in one.settings["targets"].split()]) * 1e-3
                assert not in_step(places, turn)
    first, wave, proof = PLAN_KINDS["positioning"].presets(PlanAxis(**{**vars(AXIS), "turn": 0.01}))
    assert first.next and "in a minute" in first.tells and "proof" in proof.tells and len(wave.settings["targets"].split()) == 8
    after = PLAN_KINDS["positioning"].presets(PlanAxis(**{**vars(AXIS), "turn": 0.01, "run": (2, 0.75)}))
    assert after[1].next and not after[0].next
    lead = PlanAxis(**{**vars(AXIS), "turn": 0.004, "gauge": PlanGauge.of(GAUGES["dial indicator, 10 mm"])})
    chosen = next(one for one in PLAN_KINDS["positioning"].presets(lead) if one.next)
    assert chosen.name == "within one turn" and steps_of("positioning", lead, {**chosen.settings, "gauge": lead.gauge.plain()})
    with pytest.raises(BadValue, match="reads no lengths"):
        steps_of("reversal", AXIS, {**PLAN_KINDS["reversal"].usual(AXIS), "gauge": {"name": "t", "kind": "thermometer"}})


@pytest.mark.parametrize("kind", ["reversal", "positioning", "travel", "lengths", "drift", "homing", "push"])
def test_honest_numbers_of_every_plan_and_gauge_are_hardly_ever_asked_about(kind: str) -> None:
    asked = looked = 0
    for gauge in GAUGES.values():
        for seed in range(6):
            try:
                _, values, _, _ = walked(kind, gauge, seed)
            except BadValue:
                break
            so_far: dict[str, float] = {}
            for place, value in values.items():
                if beside(place):
                    continue
                looked += 1
                asked += bool(doubt(so_far, place, value, gauge.resolution, gauge.gauge_uncertainty, PLAN_KINDS[kind].repeats))
                so_far[place] = value
    assert looked > 60 and asked <= looked / 200


def test_a_second_number_that_slipped_or_turned_is_asked_about_at_once() -> None:
    first = {"up[0][0]": 123e-6}
    for value, said in ((1230e-6, "ten times too large"), (12.3e-6, "ten times too small"), (-123e-6, "the other sign")):
        assert said in doubt(first, "up[1][0]", value, 1e-6)
    assert not doubt(first, "up[1][0]", 131e-6, 1e-6) and not doubt({"up[0][0]": 2e-6}, "up[1][0]", -2e-6, 1e-6)


def test_stacks_of_blocks_are_sums_and_what_a_table_of_lengths_holds_is_read(tmp_path: Path) -> None:
    assert stacked("50+1.005 100 150+25+1.1") == ("51.005 100 176.1", 3)
    with pytest.raises(BadValue, match="no length"):
        stacked("50+x")
    assert lengths_in(b"face;length mm\n1;x\n100.0003;0.2\n200,0011;0.2\n") == pytest.approx([0.001, 0.1000003, 0.2000011])
    with pytest.raises(BadFile, match="fewer than two lengths"):
        lengths_in(b"none\n")
