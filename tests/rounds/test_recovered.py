"""Truth, distort, recover: a known machine is read with scatter, and each analysis finds it again within its own uncertainty."""

from __future__ import annotations

import numpy as np
import pytest

from urban_mule.core.moves.homing import homing_scatter, homing_scatter_uncertainty
from urban_mule.core.moves.stepper_homing import homing_full_steps, homing_full_steps_uncertainty
from urban_mule.core.readings.drag import DragReading
from urban_mule.core.readings.homing import HomingReading
from urban_mule.core.readings.lengths import LengthsReading
from urban_mule.core.readings.push import PushReading
from urban_mule.core.readings.tone import ToneReading
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.scale.lengths import length_line, length_offset, length_slope_uncertainty
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.slack.parts import preload_torque, tone_tension
from urban_mule.core.slack.push import push_line
from urban_mule.core.slack.trend import (
    DatedReversal,
    WearLine,
    backlash_since_mended,
    wear_days_left,
    wear_line,
    wear_rate,
    wear_rate_uncertainty,
)

MACHINES = 200  # of each kind
WITHIN_TWO = 0.8  # of them whose truth lies within twice the stated uncertainty: few readings have broad tails


def test_push_finds_clearance_and_spring_again() -> None:
    random, within = np.random.default_rng(11), []
    for _ in range(MACHINES):
        clearance, compliance = random.uniform(0, 60e-6), random.uniform(0.02e-6, 0.5e-6)
        forces = np.sort(random.uniform(5, 80, 6))
        apart = clearance / 2 + compliance * forces
        plus, minus = (side * apart + random.normal(0, 0.5e-6, (3, 6)) for side in (1, -1))
        found = push_line(PushReading(forces, plus, minus))
        assert found.clearance_uncertainty is not None and found.compliance_uncertainty is not None
        within.append(abs(found.clearance - clearance) < 2 * found.clearance_uncertainty
                      and abs(found.compliance - compliance) < 3 * found.compliance_uncertainty)
        assert found.clearance == pytest.approx(clearance, abs=6e-6)
    assert np.mean(within) > WITHIN_TWO, np.mean(within)


def test_lengths_find_the_slope_whatever_the_zero_of_the_gauge() -> None:
    random, within = np.random.default_rng(12), []
    for _ in range(MACHINES):
        slope, offset = 1 + random.uniform(-2e-3, 2e-3), random.uniform(-1e-3, 1e-3)
        lengths = np.sort(random.uniform(0.02, 0.8, 6))
        reading = LengthsReading(lengths, offset + slope * lengths + random.normal(0, 2e-6, (4, 6)), 2e-6, None, None)
        line = length_line(reading)
        within.append(abs(line.slope - slope) < 2 * length_slope_uncertainty(reading, line))
        assert length_offset(line) == pytest.approx(offset, abs=10e-6)
    assert np.mean(within) > WITHIN_TWO, np.mean(within)


def test_the_trend_finds_the_wear_and_the_day_of_its_limit() -> None:
    random, within = np.random.default_rng(13), []
    for _ in range(MACHINES):
        start, rate = random.uniform(5e-6, 20e-6), random.uniform(0.05e-6, 0.3e-6)
        days = 20_000 + np.sort(random.uniform(0, 300, 7))
        sets = tuple(DatedReversal(float(day), wearing(start + rate * (day - days[0]), random)) for day in days)
        line = trend_of(sets)
        within.append(abs(wear_rate(line) - rate) < 2 * wear_rate_uncertainty(line))
        limit = start + rate * (days[-1] - days[0]) + 20e-6
        assert wear_days_left(line, limit) == pytest.approx(20e-6 / rate, rel=0.35), (rate, line)
    assert np.mean(within) > WITHIN_TWO, np.mean(within)


def test_a_trend_begins_anew_where_the_backlash_was_mended() -> None:
    """Worn, mended, worn again: the pace after it is found as if nothing had been before, and two sets after it show none."""
    random = np.random.default_rng(14)
    for _ in range(MACHINES):
        start, rate = random.uniform(5e-6, 20e-6), random.uniform(0.05e-6, 0.3e-6)
        worn = tuple(DatedReversal(19_000.0 + n, wearing(random.uniform(2.0, 6.0) * start + n * 1e-6, random)) for n in range(3))
        after = tuple(DatedReversal(20_000.0 + 50 * n, wearing(start + rate * 50 * n, random)) for n in range(5))
        assert trend_of((*worn[::-1], *after)).line.slope == trend_of(after).line.slope, "in whatever order they are told"
        with pytest.raises(NotKnown, match="2 dated sets since it was mended show no trend"):
            trend_of((*worn, *after[:2]))


@pytest.mark.parametrize("homings", [4, 6, 10])
def test_a_scatter_of_homings_is_as_sure_as_drawing_them_again_shows(homings: int) -> None:
    drawn = [HomingReading(one) for one in np.random.default_rng(homings).normal(0, 3e-6, (2000, homings))]
    scatters = np.array([homing_scatter(one) for one in drawn])
    ranges = np.array([homing_full_steps(one, 0.03, 0.01) for one in drawn])
    share = homing_scatter_uncertainty(1.0, drawn[0])
    assert np.std(scatters) / np.mean(scatters) == pytest.approx(share, rel=0.1)
    assert np.std(ranges) / np.mean(ranges) == pytest.approx(homing_full_steps_uncertainty(1.0, drawn[0]), rel=0.15)


def trend_of(sets: tuple[DatedReversal, ...]) -> WearLine:
    return wear_line(backlash_since_mended(sets), sets)


def wearing(backlash: float, random: np.random.Generator) -> TwoWayReading:
    up, down = (side * backlash / 2 + random.normal(0, 1e-6, (3, 4)) for side in (-1, 1))
    return TwoWayReading(np.array([0.1, 0.2, 0.3, 0.4]), up, down)


def test_a_belt_is_as_tense_as_its_string_says_and_a_lever_gives_the_torque() -> None:
    """The tone against a string cut into masses and solved for its lowest mode; the lever by hand."""
    for tension, span, mass in ((120.0, 0.6, 0.02), (35.0, 1.1, 0.05)):
        parts = 400
        piece = span / parts
        stiff = tension / piece * (2 * np.eye(parts - 1) - np.eye(parts - 1, k=1) - np.eye(parts - 1, k=-1))
        lowest = float(np.sqrt(np.linalg.eigvalsh(stiff / (mass * piece))[0])) / (2 * np.pi)
        assert tone_tension(ToneReading(lowest, span, mass)) == pytest.approx(tension, rel=1e-4)
    assert preload_torque(DragReading(1.5, 0.02, None, None)) == pytest.approx(0.03)
