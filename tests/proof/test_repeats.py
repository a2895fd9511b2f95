"""A positioning run by plain loops over the definitions of ISO 230-2, some readings struck out; what is typed of two axes."""

from __future__ import annotations

import math
import statistics
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from urban_mule.core.proof.positioning import (
    mean_deviation_range,
    positioning_accuracy,
    positioning_bands,
    repeatability,
    reversal_value,
    systematic_deviation,
)
from urban_mule.core.readings.repeats import mean_of, scatter_of
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.subjects import axis_sheet
from urban_mule.desk.stages.proof.enter_pair import TYPED, typed_along, typed_circle, typed_diagonals, typed_piece


def table(rng: np.random.Generator, repeats: int, targets: int, gaps: bool) -> np.ndarray:
    """Deviations [m], at least two of each column left where some are struck out."""
    found = rng.normal(0, 3e-6, (repeats, targets)) + rng.normal(0, 2e-5, targets)
    for column in range(targets if gaps and repeats > 2 else 0):
        found[rng.permutation(repeats)[:rng.integers(0, repeats - 1)], column] = np.nan
    return found


def kept(values: np.ndarray) -> list[list[float]]:
    """What counts of each column, as plain numbers."""
    return [[float(one) for one in column if not math.isnan(one)] for column in values.T]


@pytest.mark.parametrize("seed", range(30))
def test_a_run_is_judged_as_the_standard_defines_it(seed: int) -> None:
    """Every figure by a loop over lists, the statistics of the library of the language instead of arrays."""
    rng = np.random.default_rng(seed)
    repeats, targets = int(rng.integers(2, 7)), int(rng.integers(2, 9))
    reading = TwoWayReading(np.sort(rng.uniform(0, 0.6, targets)), table(rng, repeats, targets, seed % 2 == 0),
                            table(rng, repeats, targets, seed % 3 == 0))
    up, down = kept(reading.up), kept(reading.down)
    mean_up, mean_down = ([statistics.fmean(one) for one in way] for way in (up, down))
    s_up, s_down = ([statistics.stdev(one) for one in way] for way in (up, down))
    bands = positioning_bands(reading)
    assert bands.mean_up == pytest.approx(mean_up) and bands.scatter()[1] == pytest.approx(s_down)
    highest = max(max(m + 2 * s for m, s in zip(means, ss, strict=True)) for means, ss in ((mean_up, s_up), (mean_down, s_down)))
    lowest = min(min(m - 2 * s for m, s in zip(means, ss, strict=True)) for means, ss in ((mean_up, s_up), (mean_down, s_down)))
    assert positioning_accuracy(bands) == pytest.approx(highest - lowest)
    assert reversal_value(bands) == pytest.approx(max(abs(a - b) for a, b in zip(mean_up, mean_down, strict=True)))
    assert repeatability(bands) == pytest.approx(max(max(2 * a + 2 * b + abs(m - n), 4 * a, 4 * b) for a, b, m, n in zip(
        s_up, s_down, mean_up, mean_down, strict=True)))
    assert systematic_deviation(bands) == pytest.approx(max(mean_up + mean_down) - min(mean_up + mean_down))
    middles = [(a + b) / 2 for a, b in zip(mean_up, mean_down, strict=True)]
    assert mean_deviation_range(bands) == pytest.approx(max(middles) - min(middles))
    assert reading.reversal == pytest.approx([a - b for a, b in zip(mean_up, mean_down, strict=True)])


@given(rows=st.lists(st.lists(st.one_of(st.none(), st.floats(-1, 1, allow_subnormal=False)), min_size=3, max_size=3),
                     min_size=3, max_size=8))
@settings(max_examples=150, deadline=None)
def test_what_is_struck_out_does_not_count(rows: list[list[float | None]]) -> None:
    """Means and scatter of columns of which some are gaps; one that is all gaps has neither."""
    values = np.array([[math.nan if one is None else one for one in row] for row in rows])
    with np.errstate(all="ignore"):
        means, scatter = mean_of(values), scatter_of(values)
        along = mean_of(values, axis=1)
    for column, left in enumerate(kept(values)):
        if not left:
            assert math.isnan(means[column])
            continue
        assert means[column] == pytest.approx(statistics.fmean(left), abs=1e-15)
        if len(left) > 1:
            assert scatter[column] == pytest.approx(statistics.stdev(left), abs=1e-12)
    for row, left in enumerate(kept(values.T)):
        assert math.isnan(along[row]) if not left else along[row] == pytest.approx(statistics.fmean(left), abs=1e-15)


def test_one_repeat_has_means_and_no_scatter_and_gaps_reach_no_result() -> None:
    single = TwoWayReading(np.array([0.0, 0.1]), np.array([[1e-6, 2e-6]]), np.array([[0.0, 1e-6]]))
    bands = positioning_bands(single)
    assert reversal_value(bands) == pytest.approx(1e-6)
    with pytest.raises(NotKnown, match="one repeat shows no scatter"):
        positioning_accuracy(bands)
    rng = np.random.default_rng(4)
    whole = TwoWayReading(np.linspace(0, 0.5, 6), table(rng, 5, 6, False), table(rng, 5, 6, False))
    struck = TwoWayReading(whole.targets, whole.up.copy(), whole.down.copy())
    struck.up[2, 3] = math.nan
    solutions = [axis_sheet("linear", "stepper").solve(unit="mm", positioning_reading=one) for one in (whole, struck)]
    for name in ("positioning_accuracy", "repeatability", "accuracy_with_scale", "accuracy_with_all", "reversal_value"):
        before, after = (solution[name] for solution in solutions)
        assert math.isfinite(after) and after == pytest.approx(before, rel=0.6), name


LENGTH = st.floats(0.1, 900.0).map(lambda value: round(value, 3))
SMALL = st.floats(-80.0, 80.0).map(lambda value: round(value, 2))
SYSTEMS = {"metric": (1e-3, 1e-6), "inch": (0.0254, 2.54e-5)}  # what a length and a small length are in m


@given(places=st.lists(st.tuples(LENGTH, SMALL), min_size=1, max_size=12), system=st.sampled_from(sorted(SYSTEMS)),
       comma=st.booleans(), between=st.sampled_from([" ", "  ", ";", "; ", "\t"]))
@settings(max_examples=80, deadline=None)
def test_places_come_back_as_they_were_typed(
        places: list[tuple[float, float]], system: str, comma: bool, between: str) -> None:
    """With points or commas, a real minus, any gap between, empty lines, in either system."""
    lines = [f"{place:.3f}{between}{off:.2f}" for place, off in places]
    text = "\n\n".join(lines)
    if comma:
        text = text.replace(".", ",").replace("-", "−")
    found, (length, small) = typed_along(text, "", system), SYSTEMS[system]
    assert found["places"] == pytest.approx([place * length for place, _ in places])
    assert found["deviation"] == pytest.approx([off * small for _, off in places])


@given(angles=st.lists(st.tuples(st.floats(0, 360).map(lambda v: round(v, 1)), SMALL, SMALL), min_size=3, max_size=20),
       system=st.sampled_from(sorted(SYSTEMS)))
@settings(max_examples=50, deadline=None)
def test_a_circle_comes_back_both_ways_and_one_way(angles: list[tuple[float, float, float]], system: str) -> None:
    length, small = SYSTEMS[system]
    both = typed_circle("\n".join(f"{a} {one} {other}" for a, one, other in angles), "100", system)
    assert both["radius"] == pytest.approx(100 * length)
    for column, way in enumerate(("clockwise", "counterclockwise"), start=1):
        assert both[way]["angle"] == pytest.approx([math.radians(row[0]) for row in angles])
        assert both[way]["deviation"] == pytest.approx([row[column] * small for row in angles])
    one_way = typed_circle("\n".join(f"{a} - {other}" for a, _, other in angles), "", system)
    assert one_way["radius"] is None and set(one_way) == {"radius", "counterclockwise"}


def test_a_piece_and_diagonals_are_told_by_their_lines() -> None:
    piece = typed_piece("x 100 100,02\nY 50 49.98\nx 200 200.05", "", "metric")
    assert piece["x"] == {"nominal": pytest.approx([0.1, 0.2]), "measured": pytest.approx([0.10002, 0.20005])}
    assert piece["y"]["measured"] == pytest.approx([0.04998])
    square = typed_diagonals("400\n300\n500.1\n499.9", "")
    assert square == {"side_x": pytest.approx(0.4), "side_y": pytest.approx(0.3), "diagonal_plus": pytest.approx(0.5001),
                      "diagonal_minus": pytest.approx(0.4999)}
    assert typed_diagonals("400\n300\n500.1\n499.9\n0.01", "")["gauge_uncertainty"] == pytest.approx(1e-5)


@pytest.mark.parametrize(("kind", "text", "said"), [
    ("straightness", "", "no reading is typed yet"),
    ("straightness", "10 2\n20", "line 2: a place and a deviation are needed"),
    ("straightness", "10 2\n\n20 much", "line 3: “much” is no number"),
    ("square", "10 nan", "line 1: “nan” is no number"),
    ("circle", "0 1 2 3", "line 1: an angle and one or two deviations are needed, here are 4 words"),
    ("circle", "north 1", "line 1: “north” is no number"),
    ("diagonals", "1\n2\n3", "four lengths are needed, and perhaps the gauge's uncertainty; here are 3 lines"),
    ("piece", "z 10 10", "line 1: x or y, a nominal and a measured length are needed"),
    ("piece", "x 10", "line 1: x or y"),
    ("square", "1 1\n" * 5001, "there are 5001 lines; at most 5000 are taken"),
])
def test_a_slip_is_named_with_its_line(kind: str, text: str, said: str) -> None:
    typed: Any = TYPED[kind]
    with pytest.raises(BadValue) as why:
        typed(text, "100")
    assert said in str(why.value)
