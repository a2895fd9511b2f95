"""Proof: what corrections buy against the next run of known machines; circle, squareness, drift, what repeats; the leaves."""

from __future__ import annotations

import csv
import io
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from tests.driving import leaf_of

from urban_mule.core.proof.circle import circle_parts, circular_deviation_clockwise, circular_hysteresis, shapes_of
from urban_mule.core.proof.square import piece_mismatch, squareness_by_diagonals
from urban_mule.core.readings.drift import DriftReading
from urban_mule.core.readings.first_order import first_order
from urban_mule.core.readings.pairs import CircleReading, CircleWay, DiagonalsReading, PieceReading
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.subjects import axis_sheet, sheet_of
from urban_mule.core.train.links import Screw
from urban_mule.desk.stages.proof.enter_pair import EnterPair
from urban_mule.store.exchange.open_json import parse_project
from urban_mule.store.text_files import BadFile

pytestmark = pytest.mark.every_axis

ONE = {"nominal": [1], "measured": [1]}
TARGETS = np.array([0.02, 0.071, 0.118, 0.177, 0.225, 0.271, 0.328, 0.374, 0.431, 0.478])


def run(truth: Any, seed: int, scatter: float = 2e-6, correct: Any = None, repeats: int = 5) -> TwoWayReading:
    """A run of a machine whose mean error is truth(x), with a reversal of 14 µm; correct: what is commanded in addition."""
    random = np.random.default_rng(seed)
    middle = truth(TARGETS) + (0.0 if correct is None else correct(TARGETS))
    half = 0.0 if correct is not None else 7e-6
    up, down = (middle + way * half + random.normal(0, scatter, (repeats, TARGETS.size)) for way in (-1, 1))
    return TwoWayReading(TARGETS, up, down)


def solve(*runs: TwoWayReading, **more: Any) -> Any:
    more = {"unit": "mm", **more}
    return axis_sheet("linear", "stepper").solve(positioning_reading=runs[-1], positioning_readings=runs, **more)


def test_fifty_machines_give_after_correction_what_was_predicted_and_never_better_than_chance() -> None:
    random, ratios = np.random.default_rng(4), []
    for number in range(50):
        slope, bow, scatter = random.uniform(-1e-4, 1e-4), random.uniform(-15e-6, 15e-6), random.uniform(1e-6, 4e-6)

        def truth(x: np.ndarray, slope: float = slope, bow: float = bow) -> np.ndarray:
            return slope * x + bow * np.sin(np.pi * x / 0.5)

        first = solve(run(truth, number, scatter))
        table = first["correction_table"]
        places, values = [one["target"] for one in table], [one["correction"] for one in table]
        predicted = first["accuracy_with_all"]
        again = solve(run(truth, 1000 + number, scatter, lambda x, p=places, v=values: np.interp(x, p, v)))
        gave = again["positioning_accuracy"]
        chance = again["positioning_accuracy_uncertainty"] + first["positioning_accuracy_uncertainty"]
        assert gave > predicted - 4 * chance, "better than predicted by more than chance would be a prediction too dark"
        ratios.append(gave / predicted)
    assert abs(float(np.median(ratios)) - 1) < 0.15, np.median(ratios)


def test_a_promise_is_what_the_next_run_gives_and_one_by_the_same_readings_is_too_good() -> None:
    """Tables made from a few repeats, used on a fresh run: the promise holds in the median, the readings' own word does not."""
    kept, flattered = [], []
    for number in range(60):
        first = solve(run(lambda x: 15e-6 * np.sin(np.pi * x / 0.5), number, 3e-6, repeats=3))
        table = first["correction_table"]
        places, values = [one["target"] for one in table], [one["correction"] for one in table]
        again = solve(run(lambda x: 15e-6 * np.sin(np.pi * x / 0.5), 500 + number, 3e-6,
                          lambda x, p=places, v=values: np.interp(x, p, v), repeats=3))
        gave = again["positioning_accuracy"]
        kept.append(gave / first["accuracy_promised"]["all"])
        flattered.append(gave / first["accuracy_with_all"])
    assert abs(float(np.median(kept)) - 1) < 0.08 < float(np.median(flattered)) - 1


def test_a_wave_is_a_correction_of_its_own() -> None:
    wave, phase = 8e-6, 0.7
    reading = run(lambda x: 4e-5 * x + wave * np.sin(2 * np.pi * x / 0.01 + phase), 3, 0.5e-6)
    solution = solve(reading, train=(Screw(lead=0.01),))
    found, = solution["wave_corrections"]
    assert abs(found["amplitude"] - wave) < 3 * found["amplitude_uncertainty"] < 0.3 * wave
    assert math.cos(found["phase"] - phase) > 0.97 and found["period"] == pytest.approx(0.01)
    assert solution["accuracy_with_waves"] < 0.5 * solution["accuracy_with_backlash"]
    assert solution["accuracy_between"]["table"] > solution["accuracy_promised"]["all"], "between its points a table knows nothing"


def test_drift_and_hysteresis_widen_what_a_run_says() -> None:
    calm = solve(run(lambda x: 4e-5 * x, 3, 1e-6), proof_gauge_uncertainty=1e-6)
    wandering = run(lambda x: 4e-5 * x, 3, 1e-6)
    walk = np.linspace(0, 12e-6, len(wandering.up))[:, None]
    drifted = solve(TwoWayReading(wandering.targets, wandering.up + walk, wandering.down + walk), proof_gauge_uncertainty=1e-6)
    assert drifted["positioning_accuracy_uncertainty"] > calm["positioning_accuracy_uncertainty"] + 1e-6
    leaning = calm.changed(proof_gauge_hysteresis=3e-6)
    for name, times in (("positioning_accuracy_uncertainty", 2.0), ("reversal_value_uncertainty", 4.0)):
        assert leaning[name] ** 2 - calm[name] ** 2 == pytest.approx(times * (3e-6) ** 2 / 3, rel=1e-6)


def test_how_sure_a_drift_is_holds_what_is_so() -> None:
    held, time = [], np.array([0, 2, 5, 10, 15, 20, 30, 40, 55, 70, 90, 110.0]) * 60
    for seed in range(80):
        noise = np.random.default_rng(seed).normal(0, 0.8e-6, time.size)
        reading = DriftReading(time, 30e-6 * -np.expm1(-time / 1500) + noise)
        solution = axis_sheet("linear", "stepper").solve(unit="mm", drift_reading=reading)
        held += [abs(solution["drift_final"] - 30e-6) <= 2 * solution["drift_final_uncertainty"],
                 abs(solution["drift_time_constant"] - 1500) <= 2 * solution["drift_time_constant_uncertainty"]]
    assert 0.9 <= np.mean(held) <= 1.0


def test_what_repeats_is_told_from_line_reversal_and_scatter() -> None:
    wave = 1.4e-6  # a tenth of the reversal
    reading = run(lambda x: 4e-5 * x + wave * np.sin(2 * np.pi * x / 0.01 + 0.4), 3, 0.15e-6)
    solution = solve(reading, train=(Screw(lead=0.01),))
    found, = solution["periodic_errors"]
    assert found.name == "the lead of the screw" and found.amplitude == pytest.approx(wave, rel=0.2)
    assert "repeats with the lead of the screw" in solution["error_shares"]
    plain = solve(run(lambda x: 4e-5 * x, 3, 0.3e-6), train=(Screw(lead=0.01),))
    assert plain["periodic_errors"] == ()
    false = sum(bool(solve(run(lambda x: 0 * x, seed), train=(Screw(lead=0.01),))["periodic_errors"]) for seed in range(40))
    assert false <= 6, "chance alone seldom makes a wave"


def test_a_run_of_one_target_one_repeat_or_nothing_worth_correcting_is_said() -> None:
    one = TwoWayReading(np.array([0.1]), np.array([[1e-6], [2e-6]]), np.array([[0.0], [1e-6]]))
    for name in ("accuracy_with_scale", "correction_table"):
        with pytest.raises(NotKnown, match="one target shows no slope"):
            solve(one)[name]
    single = run(lambda x: 0 * x, 1, repeats=1)
    for name in ("accuracy_with_all", "accuracy_floor", "correction_table", "promised_before"):
        with pytest.raises(NotKnown):
            solve(single)[name]
    idle = solve(run(lambda x: 0 * x, 2), accuracy_wanted=1e-4)
    verdict = next(v for v in idle.verdicts() if v.check == "table")
    assert "not worth correcting" in verdict.sentence or "within their own scatter" in verdict.sentence


@pytest.mark.parametrize(("rise", "tau"), [(30e-6, 900.0), (-18e-6, 2400.0)])
def test_a_drift_is_found_again_and_a_short_or_still_record_is_refused(rise: float, tau: float) -> None:
    time = np.array([0, 2, 5, 10, 15, 20, 30, 45, 60, 90, 120]) * 60.0
    values = rise * (1 - np.exp(-time / tau)) + np.random.default_rng(1).normal(0, 0.3e-6, time.size)
    solution = axis_sheet("linear", "stepper").solve(drift_reading=DriftReading(time, values))
    assert solution["drift_final"] == pytest.approx(rise, rel=0.05)
    assert solution["drift_time_constant"] == pytest.approx(tau, rel=0.12)
    assert solution["warm_up_time_needed"] == pytest.approx(3 * solution["drift_time_constant"])
    for bad, said in ((values[:2], "do not tell"), (np.zeros(time.size), "no time constant fits")):
        with pytest.raises(NotKnown, match=said):
            first_order(time[:bad.size], bad, True)
    with pytest.raises(NotKnown, match="shorter than its time constant|no time constant fits"):
        first_order(time[:6], 1e-6 * time[:6], True)


def circle(truth: np.ndarray, noise: float, count: int = 72, both: bool = True) -> CircleReading:
    random, ways = np.random.default_rng(2), []
    for turn in (-1.0, 1.0):
        angle = np.radians(np.linspace(0, 360, count, endpoint=False) + 1.7)
        ways.append(CircleWay(angle, shapes_of(angle, turn, 0.1) @ truth + random.normal(0, noise, count)))
    return CircleReading(("X", "Y"), 0.1, ways[0], ways[1] if both else None)


def test_a_circle_with_all_its_parts_is_taken_apart_again() -> None:
    truth = np.array([2e-6, 5e-6, -4e-6, 2.2e-4, -1.5e-4, 12e-6, 20e-6])
    found = circle_parts(circle(truth, 0.5e-6))
    for name, wanted, room in (("scale_mismatch", 2.2e-4, 1e-5), ("squareness", -1.5e-4, 1e-5), ("reversal_x", 12e-6, 1e-6),
                               ("reversal_y", 20e-6, 1e-6), ("centre_x", 5e-6, 5e-7)):
        assert getattr(found, name) == pytest.approx(wanted, abs=room), name
    hung_back = circle(np.array([0, 0, 0, 0, 0, 0, 18e-6]), 0.0)
    assert circular_hysteresis(hung_back) == pytest.approx(18e-6, rel=0.02), "at the top and bottom both ways differ by all of it"
    skewed = circle(np.array([0, 0, 0, 0, 1e-4, 0, 0]), 0.0)
    assert circular_deviation_clockwise(skewed) == pytest.approx(1e-4 * 0.1, rel=0.01), "R·γ from side to side"
    with pytest.raises(NotKnown, match="not measured counterclockwise"):
        circle_parts(circle(truth, 0.0, both=False))
    with pytest.raises(NotKnown, match="cannot tell its parts apart"):
        circle_parts(circle(truth, 0.0, count=3))
    few = CircleReading(("X", "Y"), 0.1, CircleWay(np.array([0.1, 1.0, 2.0]), np.zeros(3)), None)
    with pytest.raises(NotKnown, match="lie on any circle"):
        circular_deviation_clockwise(few)


def test_squareness_by_diagonals_is_that_of_the_parallelogram() -> None:
    for gamma in (-2e-3, 3e-4, 0.0):
        a, b = 0.7, 0.45
        corner = np.array([a + b * math.sin(gamma), b * math.cos(gamma)])
        other = np.array([b * math.sin(gamma) - a, b * math.cos(gamma)])
        reading = DiagonalsReading(("X", "Y"), a, b, float(np.linalg.norm(corner)), float(np.linalg.norm(other)), 2e-5)
        assert squareness_by_diagonals(reading) == pytest.approx(gamma, abs=1e-12)
    with pytest.raises(NotKnown, match="no rectangle"):
        squareness_by_diagonals(DiagonalsReading(("X", "Y"), 0.1, 0.1, 0.9, 0.1, None))
    with pytest.raises(NotKnown, match="gauge"):
        sheet_of("machine").solve(diagonals_reading=DiagonalsReading(("X", "Y"), 0.3, 0.4, 0.5, 0.5, None))[
            "squareness_by_diagonals_uncertainty"]
    lengths = np.array([0.05, 0.05, 0.1])
    piece = PieceReading(("X", "Y"), lengths, lengths + np.array([2e-5, 4e-5, 0]), np.array([0.1]), np.array([0.1 - 5e-5]))
    assert piece_mismatch(piece) == pytest.approx(5e-5)
    with pytest.raises(NotKnown, match="no length was measured along both"):
        piece_mismatch(PieceReading(("X", "Y"), np.array([0.05]), np.array([0.05]), np.array([0.1]), np.array([0.1])))


@pytest.mark.parametrize(("reading", "said"), [
    ({"kind": "circle", "axes": ["X", "X"], "radius": 0.1, "clockwise": {"angle": [0], "deviation": [0]}}, "two different linear"
                                                                                                           " axes"),
    ({"kind": "circle", "axes": ["X", "Q"], "radius": 0.1, "clockwise": {"angle": [0], "deviation": [0]}}, "two different linear"
                                                                                                           " axes"),
    ({"kind": "circle", "axes": ["X", "Y"], "radius": 0.1}, "neither is here"),
    ({"kind": "circle", "axes": ["X", "Y"], "radius": -1, "clockwise": {"angle": [0], "deviation": [0]}}, "above 0"),
    ({"kind": "circle", "axes": ["X", "Y"], "radius": 1, "clockwise": {"angle": [0, 1], "deviation": [0]}}, "1 values for 2"),
    ({"kind": "piece", "axes": ["X", "Y"], "x": {"nominal": [0], "measured": [1]}, "y": ONE}, "above 0"),
    ({"kind": "diagonals", "axes": ["X", "Y"], "side_x": 1, "side_y": 1, "diagonal_plus": 1.4}, "diagonal_minus")])
def test_what_is_no_reading_of_two_axes_is_a_sentence(reading: dict[str, Any], said: str) -> None:
    import json

    raw = json.dumps({"format": "urban-mule/1", "axes": [{"name": "X"}, {"name": "Y"}], "readings": [reading]}).encode()
    with pytest.raises(BadFile, match=said):
        parse_project(raw)


def test_corrections_circle_and_diagonals_in_the_window(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Proof", "corrections")
    rungs = {words: value for words, value, _ in leaf.ladder.rungs}
    assert rungs["as it is"] > rungs["table and backlash"] > rungs["limit set by scatter"]
    told = {words for words, _, before in leaf.ladder.rungs if before is not None}
    assert told == {"as it is", "scale corrected", "backlash compensated", "table", "table and backlash", "limit set by scatter"}
    promised = window.session.solution["accuracy_promised"]
    assert rungs["table and backlash"] == pytest.approx(1e6 * promised["all"]), "with the scatter that a table has itself"
    assert rungs["table, in between"] > rungs["table and backlash"], "and at places that it does not know"
    rows = list(csv.DictReader(io.StringIO(leaf.table_csv())))
    assert len(rows) == 11 and set(rows[0]) >= {"target [mm]", "correction [µm]", "worth"}
    window.stage.leaves.turn("circle")
    pair: Any = window.stage.leaves.picture
    pair.bring_up_to_date()
    assert "Circle of X and Y, practice, made up" in pair.says()[1] and len(pair.listed.rows) == 9
    assert pair.says()[0] == window.stage.headline.text() == "The circle is 52 µm out of round, clockwise."
    window.stage.leaves.turn("square")
    square: Any = window.stage.leaves.picture
    square.bring_up_to_date()
    assert any("µm/m" in row.texts[0] for row in square.listed.rows)
    enter = square.enter("diagonals")
    assert isinstance(enter, EnterPair)
    wrong = {"": "no reading is typed", "400\n300\n500": "four lengths are needed", "400\n300\n500\nabc": "“abc” is no number"}
    for text, said in wrong.items():
        enter.lines.setPlainText(text)
        enter.take()
        assert said in enter.said.text().lower() and not enter.isHidden()
    enter.lines.setPlainText("400\n300\n500.12\n499.98\n0.02")
    enter.take()
    made = window.session.project.readings[-1]
    assert made.kind == "diagonals" and made.source == "typed" and made.axes == ("X", "Y")
    wanted = (0.50012**2 - 0.49998**2) / (4 * 0.4 * 0.3)
    assert window.session.together["squareness_by_diagonals"] == pytest.approx(wanted, rel=1e-6)
    circle_entry = square.enter("circle")
    circle_entry.first.setText("100")
    lines = [f"{angle} {5 * math.cos(math.radians(2 * angle)):.2f} -" for angle in range(0, 360, 15)]
    circle_entry.lines.setPlainText("\n".join(lines))
    circle_entry.take()
    assert window.session.together["circular_deviation_clockwise"] == pytest.approx(10e-6, rel=0.02)
    assert "counterclockwise" in window.session.together.find("circular_hysteresis").reason
    window.session.undo_stack.undo()
    window.session.undo_stack.undo()
    assert len(window.session.project.readings) == 2
    path = window.session.path
    window.session.undo_stack.redo()
    window.close()
    from urban_mule.store.file.project_file import ProjectFile

    file = ProjectFile.open(path)
    assert [one.kind for one in file.project().readings] == ["circle", "diagonals", "diagonals"]
    file.close()


def test_the_gauge_counts_at_both_extremes_of_the_accuracy() -> None:
    """Thrown as often as it takes: one gauge, off by a number of its own at each of the two extremes that A spans."""
    rng, u = np.random.default_rng(5), 4e-6
    targets = np.linspace(0.05, 0.55, 6)
    rows = np.linspace(-2e-5, 2e-5, 6) + np.zeros((5, 6)) + 1e-10 * rng.standard_normal((5, 6))
    sheet = axis_sheet("linear", "stepper")
    solution = sheet.solve(positioning_reading=TwoWayReading(targets, rows, rows + 1e-11), proof_gauge_uncertainty=u)
    spread = [float(np.ptp(np.array([-2e-5, 2e-5]) + rng.normal(0, u, 2))) for _ in range(20_000)]
    assert solution["positioning_accuracy_uncertainty"] == pytest.approx(np.std(spread), rel=0.03)


def test_a_doubt_of_the_temperature_stretches_a_run() -> None:
    """Thrown as often as it takes: axis and gauge each off by a temperature of their own, the run as long as it is."""
    rng, targets = np.random.default_rng(8), np.linspace(0.05, 0.85, 9)
    rows = 5e-5 * (targets - 0.05) + 1e-10 * rng.standard_normal((5, 9))
    said = {"positioning_reading": TwoWayReading(targets, rows, rows + 1e-11), "expansion": 11.5e-6, "proof_gauge_expansion": 8e-6}
    sheet = axis_sheet("linear", "stepper")
    surely, doubted = sheet.solve(**said), sheet.solve(**said, proof_temperature_uncertainty=1.5)
    axis, gauge = rng.normal(0, 1.5, (2, 20_000))
    thrown = np.ptp(rows.mean(axis=0) + (11.5e-6 * axis - 8e-6 * gauge)[:, None] * targets, axis=1)
    assert doubted["run_temperature_uncertainty"] == pytest.approx(np.std(thrown), rel=0.03)
    for name in ("positioning_accuracy_uncertainty", "systematic_deviation_uncertainty", "mean_deviation_range_uncertainty"):
        assert math.hypot(surely[name], np.std(thrown)) == pytest.approx(doubted[name], rel=0.03)
    assert surely.find("run_temperature_uncertainty").reason
