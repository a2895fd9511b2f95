"""How sure numbers are: against builds drawn from the same distributions, and modes against an eigenvalue solver."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.linalg import eigh
from tests.axis.test_random_axes import AXES, solved

from urban_mule.core.motor.stepper_modes import modes_on_field, train_stiffness_of
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.studies.doubts import (
    Doubts,
    UncertainInput,
    doubts_of,
    interval,
    log_width,
    odds_of,
    share_above,
    uncertain_inputs,
)
from urban_mule.core.studies.tolerance import with_values
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.document.edit import edited
from urban_mule.store.doubts import axis_doubts, open_doubts, paths_of
from urban_mule.store.solve import solve_axis

PROJECT = demo_project()
BUILDS = 4000


def drawn(one: UncertainInput, normal: np.ndarray) -> np.ndarray:
    """Values of an input: its variable is normal, whichever that is; what has one side only stays on it."""
    if one.minus is None or one.plus is None:
        step = (one.plus if one.minus is None else one.minus) - one.value  # type: ignore[operator]
        return np.asarray(one.value + np.abs(normal) * step)
    if one.label.endswith("efficiency"):
        lost = (1 - one.value) / one.value
        width = math.log((1 - one.plus) / one.plus / lost)
        return np.asarray(1 / (1 + lost * np.exp(width * normal)))
    if one.label == "windup_share":
        return np.clip(one.value + normal * (one.plus - one.value), 0.0, 1.0)
    if not math.isclose(one.plus - one.value, one.value - one.minus, rel_tol=1e-6):
        return np.asarray(one.value * np.exp(normal * math.log(one.plus / one.value)))
    return np.asarray(one.value + normal * (one.plus - one.value))


@pytest.mark.parametrize("name", ["X", "Z"])
def test_the_standard_uncertainty_is_that_of_many_builds(name: str) -> None:
    """Nothing is linearised in the builds; where every doubt is small both agree."""
    axis = PROJECT.axis(name)
    solution = solve_axis(PROJECT, axis)
    doubts, said = axis_doubts(PROJECT, axis, solution)
    small = tuple(one for one in doubts.inputs if one.minus is not None and one.plus is not None)
    assert len(small) > 10
    sure = doubts_of(solution, small)
    random = np.random.default_rng(3)
    builds = with_values(solution, {one.label: drawn(one, random.standard_normal(BUILDS)) for one in small})
    for quantity in ("working_margin", "first_resonance", "peak_torque", "inertia_ratio", "expected_lost_motion",
                     "available_torque_at_peak_speed"):
        spread = np.broadcast_to(np.asarray(builds[quantity], dtype=float), BUILDS)
        assert sure.standard(quantity) == pytest.approx(spread.std(), rel=0.12), quantity
        low, high = interval(sure.values[quantity], sure.standard(quantity))
        assert 0.92 <= np.mean((low <= spread) & (spread <= high)) <= 0.98, quantity
    lost = next(one for one in odds_of(solution, sure, said) if one.quantity == "expected_lost_motion")
    assert lost.share == pytest.approx(np.mean(np.asarray(builds["expected_lost_motion"]) < lost.limit), abs=0.05)


def test_every_axis_has_its_doubts_and_no_setting_has_any() -> None:
    known = 0
    for motion, motor, values in AXES[:40]:
        solution = solved(motion, motor, values)
        said = frozenset(name for name, value in values.items() if value is not None)
        doubts = doubts_of(solution, uncertain_inputs(solution, {}, said))
        assert "current_peak_real" not in doubts.moved and not set(doubts.moved) & set(solution.sheet.inputs)
        for name, row in doubts.moved.items():
            assert np.all(np.isfinite(row)) and doubts.standard(name) > 0
            assert sum(share for _, share in doubts.named(name)) <= 1 + 1e-9
            known += 1
    assert known > 800


def test_what_was_typed_goes_before_what_is_usual_and_what_is_measured_names_its_field() -> None:
    """A path of the open JSON names each input; what the project shares is the project's, an own supply the driver's."""
    axis = PROJECT.axis("X")
    paths = paths_of(PROJECT, axis)
    assert paths["holding_torque"] == "motor.holding_torque" and paths["supply_voltage"] == "project.supply_voltage"
    assert paths["train[1].efficiency"] == "train[1].efficiency"
    own = edited(PROJECT, ("axes", 0, "driver", "supply_voltage"), 36.0)
    assert paths_of(own, own.axes[0])["supply_voltage"] == "driver.supply_voltage"
    narrow = edited(PROJECT, ("axes", 0, "tolerances"), {"moving_mass": 0.001})
    for project, least, most in ((PROJECT, 0.02, 0.04), (narrow, 0.0004, 0.0007)):
        solution = solve_axis(project, project.axes[0])
        one = next(one for one in axis_doubts(project, project.axes[0], solution)[0].inputs if one.label == "moving_mass")
        assert least < (one.plus - one.value) / one.value < most  # type: ignore[operator]
    told = open_doubts(PROJECT, axis, solve_axis(PROJECT, axis))
    assert {"standard", "low", "high", "inputs"} == set(told["uncertainty"]["working_margin"])


def test_intervals_and_odds_at_their_edges() -> None:
    assert interval(10.0, 1.0) == (8.0, 12.0) and interval(-1.0, 5.0) == (-11.0, 9.0)
    low, high = interval(10.0, 4.0)
    assert 0 < low < 10 < high and low * high == pytest.approx(100) and log_width(0.0) == 0.0
    assert share_above(2.0, 0.0, 1.0) == 1.0 and share_above(2.0, 0.1, 2.0) == 0.5 and share_above(1.0, 0.5, -1.0) == 1.0
    assert Doubts((), {}, {"a": np.array([3.0, 4.0])}).standard("a") == 5.0


def test_the_modes_are_those_of_an_eigenvalue_solver_and_the_stiffness_comes_back_out_of_them() -> None:
    """Random fields, inertias and trains; what is adopted makes the very mode that was measured."""
    random = np.random.default_rng(8)
    back = 0
    for _ in range(200):
        field, turning, moved = (10 ** random.uniform(*span) for span in ((0.5, 2.5), (-5, -3), (0, 2)))
        count, travel, stiff = int(random.integers(1, 3)), 10 ** random.uniform(-3.5, -1.5), 10 ** random.uniform(4, 8)
        found = modes_on_field(field, turning, moved, count, travel, stiff)
        stiffness = count * np.array([[field + stiff * travel**2, -stiff * travel], [-stiff * travel, stiff]])
        values = eigh(stiffness, np.diag([count * turning, moved]), eigvals_only=True)
        assert found == pytest.approx(np.sqrt(values) / (2 * math.pi), rel=1e-6)
        rigid = modes_on_field(field, turning, moved, count, travel)
        assert rigid[0] >= found[0] * (1 - 1e-9), "a spring more makes no mode higher"
        try:
            again = train_stiffness_of(found[0], field, turning, moved, count, travel)
        except NotKnown:
            continue
        if again < 1e3 * stiff:
            assert modes_on_field(field, turning, moved, count, travel, again)[0] == pytest.approx(found[0], rel=1e-6)
            back += 1
        with pytest.raises(NotKnown, match="no train is stiff enough"):
            train_stiffness_of(1.01 * rigid[0], field, turning, moved, count, travel)
    assert back > 150
