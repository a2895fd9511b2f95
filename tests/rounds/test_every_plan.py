"""Every plan, through the window: the practice bench walks it by itself, and a reading comes of it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from tests.driving import practise

from urban_mule.bench.sessions.kinds import PLAN_KINDS
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.desk.frame.window import Window
from urban_mule.desk.walk import settle
from urban_mule.store.file.project_file import ProjectFile

TYPED = {"tone": {"span": "420", "linear_mass": "9.5"}, "drag": {"radius": "60", "lowest": "0.02", "highest": "0.05"},
         "positioning": {"temperature": "22", "temperature_uncertainty": "0.5"}}
SHORT = ("positioning", "acceleration", "push", "tone")  # of each sort of plan one
ELSEWHERE = ("warming", "cooling", "ladder", "homing", "travel", "tuning")  # with Motor, Drive, Moves, Practice and Ring


@pytest.mark.parametrize("kind", [pytest.param(kind, marks=[] if kind in SHORT else [pytest.mark.long]) for kind in sorted(
    {kind for kind, plan in PLAN_KINDS.items() if plan.key == "axes" and not plan.pair} - set(ELSEWHERE))])
def test_every_plan_ends_in_a_reading_that_is_in_the_file(window: Window, qtbot: Any, kind: str) -> None:
    """The set is the axis' own, says that it is made up and under which conditions it was taken, and is saved."""
    session = window.session
    window.show_stage(reading_kinds()[kind].stage)
    before = len(session.axis.readings)
    practise(window, qtbot, kind, **TYPED.get(kind, {}))
    settle(session)
    assert len(session.axis.readings) == before + 1
    made = session.axis.readings[-1]
    assert made.kind == kind and made.practice and made.taken
    assert made.conditions["current_peak"] == session.axis.driver.current_peak
    if kind == "positioning":
        assert session.solution.inputs["proof_temperature_uncertainty"] == 0.5 and made.conditions["ambient_temperature"] == 22
    for column in reading_kinds()[kind].columns:
        value = getattr(made.core, column.name)
        if column.shape in ("list", "rows"):
            assert np.all(np.isfinite(value)), column.name
    assert session.solution.get(f"{kind}_reading") is not None
    window.stage.picture.grab()
    path: Path = session.path
    kept = ProjectFile.open(path)
    assert kept.project().axes[0].readings[-1].kind == kind
    kept.close()
    session.undo_stack.undo()
    assert len(session.axis.readings) == before
