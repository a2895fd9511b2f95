"""The session under random work: what is shown, what is saved and what a fresh solve gives are always the same thing."""

from __future__ import annotations

import random
import re
import sqlite3
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given as any_given
from hypothesis import strategies as st

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.subjects import axis_sheet
from urban_mule.desk.app import Desk, application, open_command
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model import solver
from urban_mule.desk.model.last_used import LastUsed
from urban_mule.desk.model.session import Session
from urban_mule.store.document.plain import plain
from urban_mule.store.exchange.open_json import export_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.settings import BY_ENTRY, settings_of
from urban_mule.store.solve import axis_inputs, open_solution, solve_project
from urban_mule.store.state import machine
from urban_mule.store.text_files import BadFile

NUMBERS: dict[tuple[str, ...], tuple[float | None, ...]] = {
    ("moving_mass",): (3.0, 5.6, 12.0, None), ("friction_force",): (0.0, 9.0, None), ("incline",): (0.0, 0.5, None),
    ("motor", "holding_torque"): (1.2, 2.1, None), ("motor", "rotor_inertia"): (3e-5, 9e-5, None),
    ("motor", "phase_resistance"): (0.5, 1.5, None), ("motor", "thermal_resistance"): (1.5, 3.0, None),
    ("driver", "current_peak"): (3.0, 4.2, None), ("driver", "microsteps"): (8, 16, 64, None), ("motor_count",): (1, 2),
    ("tolerances",): (None,)}
SHARED = {("ambient_temperature",): (15.0, 30.0), ("unit_system",): ("metric", "inch")}


@pytest.fixture
def session(qtbot: Any, demo_copy: Path) -> Any:
    application()
    made = Session(ProjectFile.open(demo_copy))
    qtbot.waitUntil(lambda: not made.analysing, timeout=20_000)
    yield made
    made.close()


def agrees_with_a_fresh_solve(session: Session) -> None:
    """Every axis' kept solution, and that of all together, against the document solved from nothing, the analysed record apart."""
    kept = {axis.name: session.solution_of(axis) for axis in session.project.axes}
    assert open_solution(session.together) == open_solution(solve_project(session.project, kept))
    for axis in session.project.axes:
        inputs = axis_inputs(session.project, axis) | {"acceleration_reading": None}
        kept = session.solution_of(axis)
        fresh = axis_sheet(axis.motion, axis.motor_kind).solve(**inputs)
        for name in ("working_margin", "peak_torque", "steps_per_unit", "inertia_ratio", "temperature_rise", "voltage_needed",
                     "reversal_microsteps", "holding_force", "continuous_margin"):
            one, other = (s.get(name) if name in s.sheet.quantities else None for s in (kept, fresh))
            assert (one is None and other is None) or one == pytest.approx(other, rel=1e-12), (axis.name, name)
        said = {v.check: v.sentence for v in session.state_of(axis).all_verdicts}  # in inch they are said otherwise
        for verdict in fresh.verdicts():
            if verdict.stage not in ("Ring", "Brief"):
                assert said[verdict.check] == verdict.sentence, axis.name


@pytest.mark.every_axis
def test_of_many_axes_the_shown_one_answers_first(session: Session, qtbot: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    axes = tuple(axis.model_copy(update={"name": f"{axis.name}{n}"}) for n in range(5) for axis in session.project.axes)
    session.edit(("axes",), axes, "a machine of twenty")
    qtbot.waitUntil(lambda: not session.analysing, timeout=20_000)
    told: list[frozenset[str]] = []
    solved: list[str] = []
    monkeypatch.setattr(machine, "axis_inputs", lambda project, axis: solved.append(axis.name) or axis_inputs(project, axis))
    session.changed.connect(told.append)
    drawn = session.together["supply_power_needed"]
    session.edit(("ambient_temperature",), 31.0)
    assert session.axis.name in solved and len(solved) <= 1 + solver.AT_ONCE and session.analysing and len(told) == 1
    asked = session.project.axes[-1]
    assert session.solution_of(asked)["ambient_temperature"] == 31.0, "whoever asks is not given an old number"
    qtbot.waitUntil(lambda: not session.analysing)
    assert sorted(solved) == sorted(axis.name for axis in axes), "each once"
    assert all(session.sheet.has(name) or session.together.sheet.has(name) for name in told[1]), "else who hears of it asks in vain"
    assert len(told) == 2 and "temperature_rise" in told[1] | told[0] and session.together["supply_power_needed"] == drawn
    agrees_with_a_fresh_solve(session)


@pytest.mark.every_axis
@pytest.mark.parametrize(("seed", "at_once"), [
    pytest.param(2, solver.AT_ONCE, marks=pytest.mark.long), pytest.param(5, 0, marks=pytest.mark.long)])
def test_any_order_of_edits_undos_and_axes_leaves_one_truth(
        session: Session, seed: int, at_once: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(solver, "AT_ONCE", at_once)  # none: every other axis is behind until somebody asks
    rng = random.Random(seed)
    begun, revisions = export_project(session.project), len(session.file.revisions())
    changes = 0
    for step in range(30):
        stack, before = session.undo_stack, session.project
        match rng.randrange(10):
            case 0 | 1 if stack.canUndo():
                stack.undo()
            case 2 if stack.canRedo():
                stack.redo()
            case 3:
                session.show_axis(rng.randrange(len(session.project.axes)))
            case 4:
                path, values = rng.choice(list(SHARED.items()))
                session.edit(path, rng.choice(values))
            case 5 if len(session.project.axes) > 2:
                kept = list(session.project.axes)
                kept.pop(rng.randrange(len(kept)))
                session.edit(("axes",), tuple(kept), "one axis less")
            case 6:
                twin = session.axis.model_copy(update={"name": f"N{step}"})
                session.edit(("axes",), (*session.project.axes, twin), "one axis more")
            case _:
                path, values = rng.choice([(p, v) for p, v in NUMBERS.items() if session.axis.motor_kind == "stepper"
                                           or p[0] not in ("motor", "driver")])
                session.edit(session.axis_path(*path), rng.choice(values))
        changes += session.project is not before
        if step % 10 == 9:
            agrees_with_a_fresh_solve(session)
    assert changes > 10 and len(session.file.revisions()) == revisions + changes, "one revision a change, no more"
    assert export_project(session.file.project()) == export_project(session.project), "what is shown is what is saved"
    session.undo_stack.setIndex(0)
    assert export_project(session.project) == begun == export_project(session.file.project())
    agrees_with_a_fresh_solve(session)


@pytest.mark.every_axis
def test_a_refused_edit_changes_nothing_and_several_changes_are_one_step(session: Session) -> None:
    before, count = session.project, len(session.file.revisions())
    for changes in ([(session.axis_path("moving_mass"), 7.0), (session.axis_path("friction_force"), -1.0)],
                    [(session.axis_path("driver", "microsteps"), 7.5)], [(session.axis_path("name"), "Y")]):
        with pytest.raises(BadValue):
            session.edit_all(changes)
        assert session.project is before and session.undo_stack.count() == 0
    session.edit_all([(session.axis_path("moving_mass"), 7.0), (session.axis_path("friction_force"), 4.0)], "both")
    assert session.undo_stack.count() == 1 and len(session.file.revisions()) == count + 1
    session.undo_stack.undo()
    assert session.project is before
    session.edit(session.axis_path("moving_mass"), session.axis.moving_mass)
    assert session.undo_stack.count() == 1, "the same value again is no change"


def test_a_file_that_cannot_be_written_is_told_and_the_work_goes_on(session: Session) -> None:
    told: list[str] = []
    session.failed.connect(told.append)
    other = sqlite3.connect(session.path)
    other.execute("pragma busy_timeout = 0")
    session.file._db.execute("pragma busy_timeout = 10")
    other.execute("begin exclusive")
    session.edit(session.axis_path("moving_mass"), 8.0)
    session.write("a line nobody can keep")
    session.hardware.put({"microsteps": 16.0})
    reading = session.axis.last_reading("reversal").model_copy(update={"note": "taken while nothing could be written"})
    session.add_reading(reading)
    assert len(told) >= 4 and all("not saved" in why and "\n" not in why for why in told)
    assert session.axis.moving_mass == 8.0, "what was typed is still there"
    other.execute("rollback")
    other.close()
    session.edit(session.axis_path("moving_mass"), 9.0)
    saved = ProjectFile.open(session.path).project().axes[0]
    assert saved.moving_mass == 9.0 and plain(saved.readings[-1]) == plain(reading), "and so is what was measured"


@pytest.mark.parametrize(("table", "column", "value"), [
    ("revision", "time", "'x'"), ("revision", "time", "'9999-12-31T23:59:59+00:00'"), ("revision", "label", "x'00ff'"),
    ("revision", "document", "'{}', changes = null"),
    ("reading", "data", "'{\"kind\": \"travel\"}'"), ("reading", "kind", "'lever'"), ("entry", "text", "cast(x'c3' as text)")])
def test_a_scratched_file_is_named_when_it_is_opened(
    qtbot: Any, demo_copy: Path, tmp_path: Path, table: str, column: str, value: str, capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """Each sound as a database, senseless as a project: one sentence at once, and the window that is open stays."""
    application()
    monkeypatch.setattr("urban_mule.desk.app.QApplication.exec", lambda *_: 0)  # were it opened after all, the loop would never end
    sound = tmp_path / "sound.mule"
    sound.write_bytes(demo_copy.read_bytes())
    with sqlite3.connect(demo_copy) as db:
        db.execute(f"update {table} set {column} = {value}")
    db.close()
    assert open_command(demo_copy) == 2
    said = capsys.readouterr().err
    assert said.count("\n") == 1 and str(demo_copy) in said and "Traceback" not in said
    desk = Desk()
    first = desk.show(ProjectFile.open(sound))
    told: list[str] = []
    monkeypatch.setattr(first, "tell", told.append)
    first.opened.emit(("open", demo_copy))
    assert desk.window is first and len(told) == 1 and str(demo_copy) in told[0]
    first.close()
    with pytest.raises(BadFile):
        Session(ProjectFile.open(demo_copy))


@pytest.mark.every_axis
def test_the_tag_sets_what_the_open_answer_says(window: Window) -> None:
    """Two ways out of one truth: each row of the tag against the JSON answer and the report's own tag."""
    session = window.session
    for index, axis in enumerate(session.project.axes):
        session.show_axis(index)
        answer = open_solution(session.solution)["quantities"]
        rows = {row.name: row for row in settings_of(session.state)}
        assert len(rows) >= 4, axis.name
        set_by = {"top_acceleration": "acceleration_to_set", "backlash": "backlash_compensation"}
        for name in (*BY_ENTRY, "steps_per_unit", "top_speed", "microsteps", "hold_fraction", *set_by):
            said = set_by.get(name, name)
            if name in rows and said in answer:
                assert float(rows[name].value) == pytest.approx(float(answer[said]), abs=6e-8, rel=1e-9), (axis.name, name)
        if axis.motor_kind == "servo":
            continue  # whose drive sets its current by itself
        said = next(row for row in rows.values() if row.name in ("switches", *BY_ENTRY))
        peak, rms = (float(number) for number in re.findall(r"[\d.]+", said.beneath))
        assert peak == pytest.approx(answer["current_peak_real"], rel=6e-3), axis.name
        assert rms == pytest.approx(peak / np.sqrt(2), rel=6e-3), "two forms of one current"



@any_given(st.lists(st.tuples(st.integers(0, 8), st.booleans()), max_size=40))
def test_what_is_made_before_stays_while_it_is_used(steps: list[tuple[int, bool]]) -> None:
    """Against the plain list of all that was asked for or kept: what is there is the last few of them, each once."""
    kept, touched = LastUsed[int, int](4), list[int]()
    for number, (key, keeps) in enumerate(steps):
        there = key in touched[-4:]
        assert (kept.get(key) is not None) is there
        if keeps:
            kept.keep(key, number)
        if keeps or there:
            touched = [*(one for one in touched if one != key), key]
        if keeps:
            assert kept.get(key) == number
