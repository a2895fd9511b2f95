"""How a driver warms, through the window: measured on the practice bench, judged, adopted on the Brief, undone."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from tests.driving import leaf_of, practise

from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.file.project_file import ProjectFile


def test_a_driver_that_warms_more_than_computed_is_said_and_adopted(demo_copy: Path, qtbot: Any) -> None:
    """A round on the practice bench, whose driver is as computed; then a hotter one: the check, the trust, undo, the file."""
    window, _leaf = leaf_of(demo_copy, qtbot, "Drive", "cooling")
    session = window.session
    practise(window, qtbot, "cooling")
    solution = session.solution
    known = 0.85 * solution["cooled_resistance"]
    assert solution["measured_cooled_resistance"] == pytest.approx(known, rel=0.35), "its real losses are not known so well"
    judged = next(v for v in session.verdicts() if v.check == "driver heat")
    assert judged.sentence.startswith("The driver gets to"), "a fin is cooler than what it cools: no contradiction"
    last = session.axis.last_reading("cooling")
    hot = READING_MODELS["cooling"].model_validate({
        "kind": "cooling", "time": [float(one) for one in last.time],
        "temperature": [22 + 3 * float(one - 22) for one in last.temperature]})
    session.edit(session.axis_path("readings"), (*session.axis.readings, hot))
    judged = next(v for v in session.verdicts() if v.check == "driver heat")
    assert judged.sentence.startswith("The driver really gets to") and judged.level in ("tight", "short")
    window.show_stage("Brief")
    window.stage.leaves.turn("trust")
    trust = window.stage.picture
    qtbot.waitUntil(lambda: "driver_thermal is so" in trust.buttons, timeout=20_000)
    was, measured = session.axis.driver.thermal_resistance_finned, session.solution["measured_cooled_resistance"]
    trust.buttons["driver_thermal is so"].click()
    qtbot.waitUntil(lambda: "driver_thermal is so" not in trust.buttons and "learn" in trust.buttons, timeout=20_000)
    trust.buttons["learn"].click()
    learnt = session.axis.driver.thermal_resistance_finned
    assert was < learnt < measured, "between both, by their doubts"
    assert "driver.thermal_resistance_finned" in session.axis.belief.inputs
    kept = ProjectFile.open(session.path)
    assert kept.project().axes[0].belief.inputs == session.axis.belief.inputs
    assert any(entry.text.startswith("Learnt from ") for entry in kept.entries())
    kept.close()
    session.undo_stack.undo()
    assert session.axis.driver.thermal_resistance_finned == was and session.axis.belief is None
