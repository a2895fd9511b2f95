"""Every sentence is read: what the code can say, what is said of the demo, of blank and of random axes, and the guide."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from tests.axis.test_random_axes import random_givens, solved
from tests.places import ROOT
from tests.plain import hard_to_read, words_of_ours

from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.subjects import axis_sheet, labels
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.solve import solve_axis, solve_project, solve_subject

IDS = {"debounce reckoned"}  # what files hold and nobody reads
HALF_SENTENCES = (" by", " the", " of", " to", " is", " are", " at", " with", " after", " when")


def constants(path: Path) -> Iterator[str]:
    """The texts of a module that are no docstrings."""
    nodes = [*ast.walk(ast.parse(path.read_text(encoding="utf-8")))]
    documented = {id(node.body[0].value) for node in nodes if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef))
                  and node.body and isinstance(node.body[0], ast.Expr)}
    for node in nodes:
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in documented and (
                " " in node.value or node.value[:1].isupper()):
            yield node.value


def said_of(solution: Solution) -> Iterator[str]:
    """All that is said of an axis: its judgements, and why a quantity is not known."""
    for verdict in solution.judged().values():
        if verdict is not None:
            yield " ".join(part for part in (verdict.sentence, verdict.next, verdict.school) if part)
    for name in solution.sheet.quantities:
        value = solution.find(name)
        if isinstance(value, Unknown):
            yield value.reason


def test_no_word_of_ours_stands_in_the_code_or_the_guide() -> None:
    found = [f"{path.name}: {fault}" for path in (ROOT / "src").rglob("*.py") for text in constants(path)
             if text not in IDS and "create table" not in text for fault in words_of_ours(text)]
    found += [f"{path.name}: {fault}" for path in (ROOT / "src").rglob("*.md")
              for line in path.read_text(encoding="utf-8").splitlines() for fault in hard_to_read(line)]
    assert not found, "\n".join(found)


def test_a_label_is_a_noun_that_stands_before_is_not_given() -> None:
    bad = [f"{name}: {label}" for name, label in labels().items() if label.lower().endswith(HALF_SENTENCES)
           or label.split(" ")[0] in ("It", "Its", "At", "To", "From", "Of", "In", "With")]
    assert not bad


def test_every_sentence_of_the_demo_is_plain(demo_file: Path) -> None:
    file = ProjectFile.open(demo_file)
    project = file.project()
    file.close()
    solutions = {axis.name: solve_axis(project, axis) for axis in project.axes}
    every = [*solutions.values(), solve_project(project, solutions), *(solve_subject(project, one) for one in project.spindles)]
    said = [text for solution in every for text in said_of(solution)]
    assert len(said) > 200
    assert not [fault for text in said for fault in hard_to_read(text)]


@pytest.mark.parametrize("motion", ["linear", "rotary"])
@pytest.mark.parametrize("motor", ["stepper", "servo"])
def test_every_sentence_of_a_blank_axis_is_plain(motion: str, motor: str) -> None:
    assert not [fault for text in said_of(axis_sheet(motion, motor).solve()) for fault in hard_to_read(text)]


@pytest.mark.parametrize("axes", [20, pytest.param(100, marks=pytest.mark.long)])
def test_every_sentence_of_many_random_axes_is_plain(axes: int) -> None:
    rng = np.random.default_rng(27)
    faults = [f"{number}: {fault}" for number in range(axes) for text in said_of(solved(*random_givens(rng)))
              for fault in hard_to_read(text)]
    assert not faults, "\n".join(faults[:20])
