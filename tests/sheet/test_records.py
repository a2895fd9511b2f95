"""Records share their methods: beside a real dataclass they do the same. What is computed over arrays is what one by one gives."""

from __future__ import annotations

import copy
import dataclasses
import pickle
from dataclasses import FrozenInstanceError, dataclass, field, fields, replace
from typing import Any, ClassVar

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from scipy.optimize import curve_fit

from urban_mule.core.proof.corrections import CORRECTIONS, correction_of
from urban_mule.core.proof.positioning import accuracy_by, positioning_bands
from urban_mule.core.proof.promises import accuracy_between, one_left_out, own_scatter
from urban_mule.core.readings.first_order import first_order
from urban_mule.core.readings.median import median
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.ring.spectrum import TimeBase
from urban_mule.core.sheet.record import record


@record(frozen=True)
class Mine:
    """What is compared."""

    name: str
    size: float = 1.0
    parts: tuple[int, ...] = ()
    seen: dict[str, int] = field(default_factory=dict)
    kinds: ClassVar[int] = 3

    @property
    def twice(self) -> float:
        return 2 * self.size


@record(frozen=True)
class More(Mine):
    size: float = 2.0
    more: str = "m"


@record(frozen=True, eq=False)
class Apart:
    name: str


@dataclass(frozen=True)
class Real:
    name: str
    size: float = 1.0
    parts: tuple[int, ...] = ()
    seen: dict[str, int] = field(default_factory=dict)


@given(st.text(max_size=3), st.floats(-9, 9), st.lists(st.integers(0, 3), max_size=3))
def test_a_record_is_made_compared_shown_and_changed_as_a_dataclass_is(name: str, size: float, parts: list[int]) -> None:
    said: dict[str, Any] = {"name": name, "size": size, "parts": tuple(parts), "seen": {"a": 1}}
    mine, real = Mine(**said), Real(**said)
    assert repr(mine) == repr(real).replace("Real", "Mine") and dataclasses.asdict(mine) == dataclasses.asdict(real)
    assert mine == Mine(name, size, tuple(parts), {"a": 1}) and (mine == Mine(name)) is (real == Real(name))
    assert [one.name for one in fields(mine)] == [one.name for one in fields(real)]
    other = replace(mine, size=size + 1)
    assert other != mine and other.twice == 2 * (size + 1) and mine.size == size
    assert copy.deepcopy(mine) == mine == pickle.loads(pickle.dumps(mine))


def test_a_record_refuses_what_a_dataclass_refuses_and_keeps_what_the_class_says() -> None:
    for kind in (Mine, Real):
        for wrong in ({}, {"name": "a", "sise": 2}):
            with pytest.raises(TypeError):
                kind(**wrong)  # type: ignore[arg-type]
        with pytest.raises(TypeError):
            kind("a", 1.0, (), {}, "too much")  # type: ignore[call-arg]
        with pytest.raises(TypeError):
            kind("a", name="b")  # type: ignore[misc]
        with pytest.raises(FrozenInstanceError):
            kind("a").size = 3.0  # type: ignore[misc]
        with pytest.raises(FrozenInstanceError):
            del kind("a").size
        one, other = kind("a"), kind("a")
        assert one.seen == {} and one.seen is not other.seen and kind.size == 1.0  # type: ignore[comparison-overlap]
    one = Apart("a")
    assert one == one and one != Apart("a") and len({one, Apart("a")}) == 2, "one of these is itself alone"
    more = More("a")
    assert (more.size, more.more, more.kinds) == (2.0, "m", 3) and [one.name for one in fields(more)] == [
        "name", "size", "parts", "seen", "more"]
    assert Mine("a") != More("a", size=1.0), "another kind is something else"


@given(arrays(float, st.integers(1, 30), elements=st.floats(-1e6, 1e6) | st.just(float("nan"))))
def test_the_median_is_numpys_without_what_is_no_number(values: np.ndarray) -> None:
    known = values[~np.isnan(values)]
    assert median(values) == pytest.approx(np.median(known), abs=1e-9) if known.size else np.isnan(median(values))


def _runs(seed: int) -> TwoWayReading:
    rng = np.random.default_rng(seed)
    targets = np.sort(rng.uniform(0, 0.6, rng.integers(6, 12)))
    middle = rng.normal(0, 2e-5, targets.size) + 1e-4 * targets
    up, down = (middle + way * 6e-6 + rng.normal(0, 3e-6, (5, targets.size)) for way in (-1, 1))
    return TwoWayReading(targets, up, down)


@pytest.mark.parametrize("seed", range(6))
def test_what_corrections_promise_is_what_leaving_out_one_by_one_gives(seed: int) -> None:
    reading = _runs(seed)
    bands, rows = positioning_bands(reading), np.arange(len(reading.up))
    for name in CORRECTIONS:
        means = ((reading.up[rows != j].mean(axis=0), reading.down[rows != j].mean(axis=0)) for j in rows)
        each = [np.stack(correction_of(name, bands.targets, one)) for one in means]
        spread = np.sqrt((len(rows) - 1) / len(rows) * np.sum((np.stack(each) - np.mean(each, axis=0)) ** 2, axis=0))
        found = own_scatter(name, bands.targets, (one_left_out(reading.up), one_left_out(reading.down)))
        assert np.allclose(found, spread, rtol=1e-9, atol=1e-15)
    x, middle, half = bands.targets, bands.middle, bands.reversal.mean() / 2
    said: dict[str, list[float]] = {"line": [], "table": []}
    for place in range(1, x.size - 1):
        others = np.delete(np.arange(x.size), place)
        said["line"].append(float(np.polyval(np.polyfit(x[others], middle[others], 1), x[place])))
        said["table"].append(float(np.interp(x[place], x[others], middle[others])))
    s_up, s_down = (one[1:-1] for one in bands.scatter())
    for name, value in accuracy_between(reading).items():
        off = np.array(said[name])
        one_by_one = accuracy_by((bands.mean_up - half)[1:-1] - off, (bands.mean_down + half)[1:-1] - off, s_up, s_down)
        assert value == pytest.approx(one_by_one, rel=1e-7), name


@pytest.mark.parametrize("from_zero", [True, False])
@pytest.mark.parametrize("seed", range(8))
def test_a_rise_is_the_least_squares_fit_of_another_method(from_zero: bool, seed: int) -> None:
    rng = np.random.default_rng(seed)
    time = np.linspace(30.0, 3600.0, 60)
    true = (0.0 if from_zero else 20.0, rng.uniform(5, 40), rng.uniform(300, 1800))
    values = true[0] + true[1] * (1 - np.exp(-time / true[2])) + rng.normal(0, 0.2, time.size)

    def rise(t: np.ndarray, height: float, tau: float, start: float = 0.0) -> np.ndarray:
        return np.asarray(start + height * (1 - np.exp(-t / tau)))

    first = [true[1], true[2]] if from_zero else [true[1], true[2], true[0]]
    best, _ = curve_fit(rise, time, values, first, xtol=1e-14, ftol=1e-14)
    found = first_order(time, values, from_zero)
    assert (found.rise, found.time_constant) == pytest.approx(tuple(best[:2]), rel=2e-6)


def test_a_torn_record_is_mended_where_an_even_one_is_taken_as_it_is() -> None:
    from urban_mule.core.readings.acceleration import AccelerationReading
    from urban_mule.core.ring.spectrum import time_base

    time = np.arange(2000) / 1600.0
    values = np.sin(2 * np.pi * 40 * time)[:, None] * [1.0, 0.5, 0.1]
    even: TimeBase = time_base(AccelerationReading(time, values))
    assert even.values is values or np.array_equal(even.values, values)
    assert (even.lost, even.longest_gap, even.resampled) == (0, 0, False)
    kept = np.delete(np.arange(2000), [300, 301, 302, 900])
    torn: TimeBase = time_base(AccelerationReading(time[kept], values[kept]))
    assert (torn.lost, torn.longest_gap, torn.resampled) == (4, 3, True)
    assert torn.sample_rate == pytest.approx(1600.0) and len(torn.values) == 2000
