"""What readings teach: by the formulas of a linear model, on machines with a gross mistake, through edits of the document."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from tools.learning import Mistake, after, learning, measured, named, sort_of, with_mistake

from urban_mule.core.readings.travel import TravelReading
from urban_mule.core.studies.doubts import doubts_of
from urban_mule.core.studies.learning import learning_of
from urban_mule.core.studies.suspects import causes_of, told_apart_by
from urban_mule.demo.courtyard import demo_project
from urban_mule.practice.made import sound_truth
from urban_mule.store.document.edit import edited
from urban_mule.store.document.project import Project
from urban_mule.store.doubts import axis_doubts, known_by_learning
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.experience import keep, kept, learnt_here, offered
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.learning import axis_learning, axis_teaching, learnt_changes
from urban_mule.store.solve import solve_axis
from urban_mule.store.text_files import BadFile

PROJECT = demo_project()


@pytest.fixture(scope="module")
def measured_project(demo_file: Path) -> Project:
    """The demo with its readings."""
    file = ProjectFile.open(demo_file)
    project = file.project()
    file.close()
    return project


def learnt(project: Project, place: int = 0) -> Project:
    """The project once an axis has learnt from its readings."""
    axis = project.axes[place]
    for path, value in learnt_changes(project, place, axis_learning(project, axis, solve_axis(project, axis)), "today"):
        project = edited(project, path, value)
    return project


def test_one_length_teaches_as_two_measurements_of_one_thing_are_weighed() -> None:
    """A scale and a pitch are one number measured twice; the weighted mean and its doubt, by hand."""
    sort = sort_of(PROJECT, "X")
    off, u, model, own = 3e-4, 5e-5, 5e-4, 2e-4
    travel = TravelReading(commanded=0.4, measured=np.full(3, 0.4 * (1 + off)), gauge_uncertainty=u * 0.4)
    found = learning_of(sort.solution.changed(travel_reading=travel, scale_reading=travel), sort.inputs, sort.said)
    pitch = next(one for one in found.learned if one.label.endswith(".pitch"))
    gain = own**2 / (own**2 + u**2 + model**2)
    assert pitch.learned_value / pitch.value - 1 == pytest.approx(gain * off, rel=1e-3)
    assert pitch.learned_uncertainty / pitch.uncertainty == pytest.approx(np.sqrt(1 - gain), rel=1e-3)
    other = learning_of(found.moved.solution, sort.inputs, sort.said, taught={"scale": True})
    assert next(one.taught for one in other.compared if one.pair.name == "scale")
    assert not any(one.label.endswith(".pitch") for one in other.learned), "a reading that has taught teaches no more"


@pytest.mark.parametrize(("name", "mistake"), [
    ("X", Mistake("train[1].specific_stiffness", 0.3)), ("Z", Mistake("train[1].lead", 2.0)), ("X", Mistake("microsteps", 2.0)),
    *(pytest.param(*one, marks=pytest.mark.long) for one in (
        ("X", Mistake("friction_force", 4.0)), ("Y", Mistake("train[1].teeth", 21 / 20)),
        ("C", Mistake("train[0].torsional_stiffness", 0.2))))])
def test_a_gross_mistake_is_flagged_and_its_cause_is_among_three(name: str, mistake: Mistake) -> None:
    """A dirty rail, a slack belt, another lead, a wrong switch, a tooth more, a soft reduction, measured by whole rounds."""
    sort = sort_of(PROJECT, name)
    truth = sound_truth(11, sort.linear)
    assert not learning(sort, measured(sort, truth, sort.solution)).contradictions, "as it is written down nothing contradicts"
    wrong = learning(sort, measured(sort, truth, with_mistake(sort.solution, mistake)))
    causes = causes_of(wrong)
    assert wrong.contradictions and named(mistake, tuple(one.label for one in causes)), [one.label for one in causes]
    assert any(told_apart_by(wrong, one, tuple(other for other in causes if other is not one)) for one in causes)


def test_learning_makes_goals_surer_keeps_what_is_known_together_and_does_not_teach_twice(
    measured_project: Project,
) -> None:
    sort = sort_of(PROJECT, "X")
    found = learning(sort, measured(sort, sound_truth(5, True), sort.solution))
    before, now = doubts_of(sort.solution, sort.inputs), after(sort, found)[1]
    for goal in ("working_margin", "expected_lost_motion"):
        assert now.standard(goal) < before.standard(goal)
    alone = doubts_of(now_solution := after(sort, found)[0], now.inputs)
    assert alone.standard("expected_lost_motion") > 1.2 * now.standard("expected_lost_motion"), "correlation is what was learnt"
    assert now_solution["expected_lost_motion"] == now.values["expected_lost_motion"]
    project = learnt(measured_project)
    axis = project.axes[0]
    again = axis_learning(project, axis, solve_axis(project, axis))
    assert axis.belief is not None and not again.learned and all(one.taught or not one.teaches for one in again.compared)
    assert "lost motion of " in axis.belief.sources[axis.belief.inputs.index("friction_force")]
    assert parse_project(export_project(project).encode()).axes[0].belief == axis.belief


def test_what_was_learnt_follows_names_and_links_and_ends_where_a_field_is_typed_over(
    measured_project: Project,
) -> None:
    project = learnt(measured_project)
    belief = project.axes[0].belief
    link = {one for one in belief.inputs if one.startswith("train[1].")}
    assert link
    renamed = edited(project, ("axes", 0, "name"), "Bridge")
    assert renamed.axes[0].belief == belief
    train = project.axes[0].train
    inserted = edited(project, ("axes", 0, "train"), (train[0], {"kind": "reduction", "ratio": 2.0}, *train[1:]))
    assert {one.replace("train[1].", "train[2].") for one in link} <= set(inserted.axes[0].belief.inputs)
    turned = edited(inserted, ("axes", 0, "train"), (inserted.axes[0].train[1], inserted.axes[0].train[0], *train[1:]))
    assert {one.replace("train[1].", "train[2].") for one in link} <= set(turned.axes[0].belief.inputs)
    assert "train[1].torsional_stiffness" in turned.axes[0].belief.inputs, "the coupling is the second link now"
    gone = edited(project, ("axes", 0, "train"), (train[0],))
    assert not any(one.startswith("train[1].") for one in gone.axes[0].belief.inputs)
    kept_rows = [n for n, one in enumerate(belief.inputs) if not one.startswith("train[1].")]
    assert np.array_equal(np.array(gone.axes[0].belief.correlation), np.array(belief.correlation)[np.ix_(kept_rows, kept_rows)])
    typed = edited(project, ("axes", 0, "friction_force"), 7.25)
    solution = solve_axis(typed, typed.axes[0])
    assert "friction_force" not in known_by_learning(typed, typed.axes[0], solution)
    assert "friction_force" in axis_teaching(typed, typed.axes[0], solution).left
    wide = [next(one.plus / one.value for one in axis_doubts(of, of.axes[0], solve_axis(of, of.axes[0]))[0].inputs
                 if one.label == "friction_force") for of in (measured_project, project, typed)]
    assert wide[1] < wide[0] == pytest.approx(wide[2]), "as sure as it was before it was learnt"


BAD: dict[str, dict[str, Any]] = {
    "correlation is not positive": {"correlation": [[1, 1.2], [1.2, 1]]},
    "names 'moving_mas', which is no input of an axis; the nearest is 'moving_mass'": {"inputs": ["moving_mas", "friction_force"]},
    "allowed are numbers to": {"values": [float("nan"), 6.0]},
    "uncertainties[1], of friction_force, is 0; allowed is a number above 0": {"uncertainties": [0.1, 0]},
    "has 1 values for 2 inputs": {"values": [5.6]},
    "names 'moving_mass' twice": {"inputs": ["moving_mass", "moving_mass"]},
    "no symmetric matrix with 1 on its diagonal": {"correlation": [[1, 0.2], [0.1, 1]]},
}


@pytest.mark.parametrize("fault", BAD)
def test_a_belief_that_cannot_be_is_refused_with_a_sentence(fault: str) -> None:
    sound = {"inputs": ["moving_mass", "friction_force"], "values": [5.6, 6.0], "uncertainties": [0.1, 1.0],
             "correlation": [[1, -0.3], [-0.3, 1]]}
    body = {"format": "urban-mule/1", "axes": [{"name": "X", "moving_mass": 5.6, "belief": {**sound, **BAD[fault]}}]}
    with pytest.raises(BadFile, match="belief") as why:
        parse_project(json.dumps(body).encode())
    assert fault in str(why.value) and "\n" not in str(why.value)
    assert parse_project(json.dumps({**body, "axes": [{"name": "X", "belief": sound}]}).encode())


def test_a_shop_keeps_what_it_learnt_and_the_next_machine_is_offered_it(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, measured_project: Project,
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", os.fspath(tmp_path))
    project = learnt(measured_project)
    axis = project.axes[0]
    found = learnt_here(project, axis, solve_axis(project, axis), "30 November 2026")
    keep(found)
    keep(found)
    assert kept() == found, "twice kept is kept once"
    friction, belt = offered("guide", "friction_coefficient"), offered("belt", "specific_stiffness")
    assert belt[0].value == axis.train[1].specific_stiffness and project.name in belt[0].words and "30 November" in belt[0].source
    assert 0.002 < friction[0].value < 0.3
    place = tmp_path / "urban-mule" / "experience.json"
    place.write_text('{"format": "urban-mule-experience/1", "values": [{"of": "belt"}]}')
    assert offered("belt", "efficiency") == ()
    with pytest.raises(BadFile, match=r"values\[0\]"):
        keep(found)
