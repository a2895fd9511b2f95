"""Pictures that a journey passes by: what they draw is what the numbers say, and an empty one says how it is filled."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtGui import QPainter, QPicture
from tests.drawn import drawn
from tests.driving import leaf_of

from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.chart import Chart
from urban_mule.desk.kit.theme import LIGHT, NIGHT, theme
from urban_mule.store.document.readings import READING_MODELS

COLD = {"kind": "drift", "time": [0.0, 300, 600, 1200, 2400, 4800], "deviation": [0.0, 8e-6, 13e-6, 19e-6, 22e-6, 23e-6],
        "source": "typed"}


def said(picture: Any) -> str:
    """All words on a chart, as one line."""
    return drawn(picture.chart).words


def look(window: Window) -> Any:
    picture = window.stage.leaves.picture
    picture.bring_up_to_date()
    picture.grab()
    assert picture.property("fault") is None
    return picture


def test_drift_is_drawn_with_where_it_ends_and_when_it_is_warm(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Proof", "drift")
    found = re.search(r"warm after (\d+) minutes", " ".join(said(picture).split()))
    assert found is not None and 40 < int(found[1]) < 140
    session = window.session
    session.edit(session.axis_path("readings"), tuple(one for one in session.axis.readings if one.kind != "drift"))
    picture = look(window)
    assert "No warm-up run yet" in " ".join(said(picture).split())
    window.session.add_reading(READING_MODELS["drift"].model_validate(COLD))
    picture = look(window)
    rise, wait = window.session.solution["drift_rise"], window.session.solution["warm_up_time_needed"]
    assert f"final drift {rise.rise * 1e6:.3g} µm" in said(picture) and f"warm after {wait / 60:.0f} minutes" in said(picture)
    minutes, values = picture.chart._pool["curve"][0].getData()
    assert values[-1] == pytest.approx(rise.rise * 1e6 * -np.expm1(-minutes[-1] * 60 / rise.time_constant)) and values[0] == 0
    off = COLD | {"deviation": [one + 75e-6 for one in COLD["deviation"]], "time": [0.0, 300, 600, 1200, 2400, 7200]}
    window.session.add_reading(READING_MODELS["drift"].model_validate(off))
    picture = look(window)
    assert picture.chart._pool["curve"][0].getData()[1][0] > 70, "the curve runs through the points, not from nothing"
    assert "at the start" in said(picture)
    window.other_units()
    assert look(window) is picture
    window.close()


@pytest.mark.parametrize("layout", ["loop", "open"])
def test_a_belt_is_drawn_as_it_lies(demo_copy: Path, qtbot: Any, layout: str) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Load", "chain")
    plain = picture.grab().toImage()
    window.session.edit(window.session.axis_path("train", 1, "layout"), layout)
    drawn = look(window).grab().toImage()
    assert (drawn != plain) is (layout == "open"), "a loop is what a belt is that says nothing"
    window.close()


@pytest.mark.every_axis
@pytest.mark.parametrize("system", ["metric", "inch"])
def test_a_positioning_run_is_drawn_as_it_was_read_with_two_s_of_scatter(demo_copy: Path, qtbot: Any, system: str) -> None:
    """Read back by the units at the axes: a mil that is an inch, or a band of one s, would stand here."""
    window, _ = leaf_of(demo_copy, qtbot, "Proof", "run")
    if system == "inch":
        window.other_units()
    found, bands = drawn(look(window).chart), window.session.solution["positioning_bands"]
    scatter = bands.scatter()
    means = bands.mean_up, bands.mean_down
    for mean, s, (x, low, high), (_, points) in zip(means, scatter, found.bands, found.points, strict=True):
        assert x == pytest.approx(bands.targets) and points == pytest.approx(mean)
        assert high - low == pytest.approx(4 * s) and (high + low) / 2 == pytest.approx(mean)
    assert f"A = {window.session.solution['positioning_accuracy'] / (2.54e-5 if system == 'inch' else 1e-6):.3g}" in found.words
    window.close()


def test_the_numbers_at_an_axis_are_those_of_its_words_by_day_and_by_night_and_on_the_next_axis(
    qtbot: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Dressed a second time, a chart of less than one had a thousand times as much written at its axes."""
    chart = Chart("time, s", "torque, N·m", "a chart")
    qtbot.addWidget(chart)
    chart.resize(500, 300)
    chart.show()
    for x_label, y_label, times, night in (("time, s", "torque, N·m", 1.0, False), ("time, s", "torque, N·m", 1.0, True),
                                           ("speed, m/s", "torque, oz·in", 100.0, True), ("speed, m/s", "torque, N·m", 1.0, False)):
        monkeypatch.setattr(theme, "palette", NIGHT if night else LIGHT)
        chart.name_axes(x_label, y_label, times)
        chart.restart()
        chart.frame((0.0, 0.5), (0.0, 0.8))
        chart.grab()
        for axis, most, so_often in ((chart.axes["bottom"], 0.5, 1.0), (chart.axes["left"], 0.8, times)):
            sheet = QPicture()
            painter = QPainter(sheet)
            _, _, written = axis.generateDrawSpecs(painter)
            painter.end()
            numbers = [float(text) for _, _, text in written]
            assert len(numbers) > 2 and 0.5 * most < max(numbers) / so_often <= most, (y_label, night, numbers)
