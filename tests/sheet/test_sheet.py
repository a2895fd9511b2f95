"""The sheet: wiring errors, laziness, working, sensitivity, and the habits every quantity keeps."""

from __future__ import annotations

import subprocess
import sys
import types

import numpy as np
import pytest
from tests.places import ROOT

from urban_mule.core.sheet.given import BadValue, Given
from urban_mule.core.sheet.quantity import Circular, Doubled, MissingInput, NotKnown, quantity
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.working import formula_of, working_of, working_text
from urban_mule.core.subjects import axis_sheet

SHEETS = [(motion, motor) for motion in ("linear", "rotary") for motor in ("stepper", "servo")]


def module(**functions: object) -> types.ModuleType:
    made = types.ModuleType("made")
    for name, function in functions.items():
        function.__module__ = "made"  # type: ignore[attr-defined]
        setattr(made, name, function)
    return made


@quantity("m", symbol="a", source="test")
def doubled_length(length):  # type: ignore[no-untyped-def]
    """Twice the length; length [m]."""
    return 2 * length


@quantity("m", symbol="b", source="test")
def ring_one(ring_two):  # type: ignore[no-untyped-def]
    """One of two; ring_two [m]."""
    return ring_two


@quantity("m", symbol="c", source="test")
def ring_two(ring_one):  # type: ignore[no-untyped-def]
    """The other; ring_one [m]."""
    return ring_one


LENGTH = Given("length", "m", "l", "a length", above=0)


def test_a_sheet_that_does_not_fit_together_is_refused_when_it_is_built() -> None:
    with pytest.raises(MissingInput, match="doubled_length needs length, which nothing gives"):
        Sheet([module(f=doubled_length)], [])
    with pytest.raises(Doubled, match="length is given twice"):
        Sheet([module(f=doubled_length)], [LENGTH, LENGTH])
    with pytest.raises(Circular, match="ring_one needs ring_two needs ring_one|ring_two needs ring_one needs ring_two"):
        Sheet([module(f=ring_one, g=ring_two)], [])


def test_values_outside_what_is_allowed_name_themselves() -> None:
    sheet = Sheet([module(f=doubled_length)], [LENGTH])
    for value in (-1.0, float("nan"), float("inf"), "3", True, 10**400, 1e16):
        with pytest.raises(BadValue, match="length"):
            sheet.solve(length=value)
    with pytest.raises(MissingInput, match="width is not something"):
        sheet.solve(width=1.0)
    with pytest.raises(NotKnown, match="length is not given"):
        sheet.solve()["doubled_length"]
    assert sheet.solve(length=np.array([1.0, 2.0]))["doubled_length"].tolist() == [2.0, 4.0]


@pytest.mark.parametrize(("motion", "motor"), SHEETS)
def test_every_quantity_states_unit_symbol_source_and_meaning(motion: str, motor: str) -> None:
    sheet = axis_sheet(motion, motor)
    for q in sheet.quantities.values():
        assert q.doc, q.name
        assert q.source, q.name
        assert q.structure or q.symbol, q.name
        assert "[" not in sheet.unit(q.name), q.name
        assert q.structure or formula_of(sheet, q), f"{q.name} has no formula"
    for one in sheet.inputs.values():
        assert one.doc, one.name


def test_an_edit_computes_only_what_depends_on_it() -> None:
    sheet = axis_sheet("linear", "stepper")
    first = sheet.solve(moving_mass=3.0, current_peak=2.0, phase_resistance=0.5)
    assert first["copper_loss"] == 2.0
    kept = first["friction_load"]
    after = first.changed(current_peak=4.0)
    assert after["copper_loss"] == 8.0
    assert "friction_load" in after._known and after["friction_load"] is kept
    assert "copper_loss" not in first.changed(current_peak=4.0)._known
    assert first["copper_loss"] == 2.0, "a solution never changes"
    assert {"current_peak", "copper_loss", "temperature_rise"} <= after.differing(first)
    assert "friction_load" not in after.differing(first)


def test_sensitivity_ranks_by_elasticity() -> None:
    solution = axis_sheet("linear", "stepper").solve(current_peak=3.0, phase_resistance=0.5)
    (first, power), (second, linear) = solution.sensitivity("copper_loss")
    assert (first, second) == ("current_peak", "phase_resistance")
    assert power == pytest.approx(2.01, abs=1e-9) and linear == pytest.approx(1.0, abs=1e-9)


def test_the_working_reads_its_formula_off_the_code() -> None:
    solution = axis_sheet("linear", "stepper").solve(current_peak=3.0, phase_resistance=0.5)
    rows = working_of(solution, "copper_loss")
    assert rows[0].formula == "I²·R" and rows[0].value == 4.5
    text = working_text(rows)
    assert "copper_loss = 4.5 W" in text and "    current_peak = 3 A" in text
    assert "not known: holding torque is not given" in working_text(working_of(solution, "set_torque"))


def test_importing_the_core_loads_no_interface_database_or_signal_package() -> None:
    code = "import sys, urban_mule.core.subjects as a; a.axis_sheet('linear', 'stepper'); print(*sys.modules)"
    loaded = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.split()
    assert "numpy" in loaded
    for name in ("PyQt6", "pyqtgraph", "sqlite3", "scipy", "scipy.signal", "pint", "matplotlib"):
        assert name not in loaded


def test_the_import_guard_sees_a_broken_rule(tmp_path: object) -> None:
    """Linters have been seen to miss violations: break the rule in a copy and see it fail."""
    import pathlib
    import shutil

    root = ROOT
    copy = pathlib.Path(str(tmp_path))
    shutil.copytree(root / "src", copy / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    shutil.copy(root / "pyproject.toml", copy)
    broken = copy / "src/urban_mule/core/motor/heat.py"
    broken.write_text(broken.read_text(encoding="utf-8") + "\nimport PyQt6.QtCore\n", encoding="utf-8")
    lint = pathlib.Path(sys.executable).parent / "lint-imports"
    run = subprocess.run([lint, "--no-cache"], cwd=copy, capture_output=True, text=True,
                         env={"PYTHONPATH": str(copy / "src"), "PATH": "/usr/bin:/bin"}, check=False)
    assert run.returncode == 1 and "urban_mule.core.motor.heat -> PyQt6" in run.stdout, run.stdout + run.stderr


def test_generated_pages_are_those_of_this_code() -> None:
    from tools.write_docs import pages

    for path, text in pages().items():
        assert path.read_text(encoding="utf-8") == text, f"{path.name} is old: run make docs"
