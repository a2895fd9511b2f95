"""Which numbers of a round are asked about: slips are, honest readings of every plan are not."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from urban_mule.bench.sessions.carried import carry_out, usual
from urban_mule.bench.sessions.doubt import doubt, quantile, smallest_step
from urban_mule.bench.sessions.kinds import PLAN_KINDS, steps_of
from urban_mule.bench.sessions.rounds import plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.demo.courtyard import demo_project
from urban_mule.practice.made import sound_truth
from urban_mule.store.solve import solve_axis

MICRON = 1e-6


def test_the_quantile_is_that_of_the_distribution() -> None:
    for freedom in (5, 6, 7, 9, 11, 14, 17, 25, 40, 90, 200, 5000):
        assert quantile(freedom) == pytest.approx(float(stats.t.ppf(0.9995, freedom)), rel=4e-3), freedom


@pytest.mark.parametrize(("taken", "value", "said"), [
    ([2, 2], 1, ""), ([2, 2, 2, 2, 2, 2, 2], 1, ""), ([12.5, 12, 13, 14], -200, "far"), ([12.5, 12, 13, 14], 35, "far"),
    ([12.5, 12, 13, 14], 15, ""), ([12.5, 12, 13, 14], 125, "ten times too large"), ([12.5, 12, 13, 12.8], -12.6, "the other sign"),
    ([120, 121, 119.5], 12.1, "ten times too small"), ([5], 500, "")])
def test_what_is_asked_about_at_one_place(taken: list[float], value: float, said: str) -> None:
    """Two equal numbers do not make the third one odd; a slip of the hand is asked about from the fourth number on."""
    values = {f"places[{n}]": one * MICRON for n, one in enumerate(taken)}
    found = doubt(values, f"places[{len(taken)}]", value * MICRON, MICRON)
    assert found.startswith(said) and bool(found) == bool(said), found


def test_slips_are_found_in_every_table_once_the_repeats_have_begun() -> None:
    rng = np.random.default_rng(8)
    for _ in range(40):
        values: dict[str, float] = {}
        middle = rng.uniform(8e-6, 30e-6, 5)
        for repeat in range(5):
            for target in range(5):
                value, place = float(middle[target] + 0.4e-6 * rng.standard_normal()), f"up[{repeat}][{target}]"
                if repeat >= 2:
                    assert doubt(values, place, 10 * value, MICRON) == "ten times too large"
                    assert doubt(values, place, value / 10, MICRON) == "ten times too small"
                    assert doubt(values, place, -value, MICRON) == "the other sign than the others"
                    assert doubt(values, place, 3.3 * value, MICRON) == "far from the others"
                values[place] = value
    assert smallest_step(["12.5", "3", "0,25"]) == 0.01 and smallest_step([]) == 0.0
    warm = {f"temperature[{n}]": one for n, one in enumerate((21.0, 21.1, 22.5))}
    assert doubt(warm, "temperature[3]", 31.0, 0.1, repeats=False) == ""
    assert doubt(warm, "temperature[3]", 230.0, 0.1, repeats=False) == "ten times too large"


def test_of_two_hundred_honest_numbers_fewer_than_one_is_asked_about() -> None:
    """Every plan that takes numbers, on the made-up machines of the demo, read by gauges of three smallest steps, axis by axis."""
    project, asked, total, seeds = demo_project(), {}, 0, 1
    for place, axis in enumerate(project.axes):
        solution = solve_axis(project, axis)
        plan = plan_of(axis, solution)
        for kind, one in PLAN_KINDS.items():
            if one.records or one.key != "axes" or one.pair or kind in ("ripple", "tuning") or (
                    kind == "tone" and axis.name != "X") or (kind == "ladder" and axis.motor_kind == "servo"):
                continue
            for seed in range(place, place + seeds):
                machine = SimulatedAxis(solution, sound_truth(seed + 17, plan.linear))
                machine.enable()
                step = (1e-6, 1e-5, 1e-4)[seed % 3] if one.unit == "[travel]" else 0.1
                settings = usual(kind, plan)
                if kind == "drag":
                    settings |= {"radius": "50"}
                if kind == "tone":
                    settings |= {"span": "400", "linear_mass": "20"}
                values: dict[str, float] = {}
                for number in steps_of(kind, plan, settings):
                    value = round(float(carry_out(number, machine)) / step) * step
                    if doubt(values, number.place, value, step, 0.0, one.repeats):
                        asked.setdefault(kind, []).append((axis.name, seed, number.place, value))
                    values[number.place] = value
                    total += 1
    count = sum(map(len, asked.values()))
    assert total > 700 and count < total / 200, (count, total, asked)
