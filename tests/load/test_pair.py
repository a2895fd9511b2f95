"""Two motors that move two axes together: against virtual work, through the file, and through the window."""

from __future__ import annotations

import json
import math
from collections import deque
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF, Qt
from tests.driving import leaf_of, practise
from tests.places import VECTORS

from urban_mule.bench.sessions.by_hand import steps_push
from urban_mule.bench.sessions.carried import usual, walk
from urban_mule.bench.sessions.kinds import givens_of
from urban_mule.bench.sessions.rounds import plan_of
from urban_mule.core.brief.settings_room import margin_at
from urban_mule.core.moves.pair_looks import WIRINGS, wiring_of
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.demo.brush import brush_project, build_brush
from urban_mule.desk.out.report import Report
from urban_mule.desk.walk import settle
from urban_mule.practice.machine import practice_machine, practice_pair
from urban_mule.store.commissioning import station_stands
from urban_mule.store.document.edit import edited
from urban_mule.store.document.made import LINK_MODELS
from urban_mule.store.document.practice import HiddenFaults
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.solve import solve_axis, solve_project
from urban_mule.store.text_files import BadFile

pytestmark = pytest.mark.every_axis


def plotter(**changed: Any) -> dict[str, Any]:
    document = json.loads((VECTORS / "20-pair.json").read_text())
    document.update(changed)
    return document


@pytest.mark.parametrize(("change", "said"), [
    ({"pairs": [{"axes": ["X", "Q"]}]}, "allowed are two different axes of X, Y"),
    ({"pairs": [{"axes": ["X", "X"]}]}, "allowed are two different axes"),
    ({"pairs": [{"axes": ["X", "Y"]}, {"axes": ["Y", "X"]}]}, "which is in pairs[0] already")])
def test_a_pair_that_is_none_is_a_sentence(change: dict[str, Any], said: str) -> None:
    with pytest.raises(BadFile, match=said.replace("[", r"\[").replace("]", r"\]")):
        parse_project(json.dumps(plotter(**change)).encode())


def test_unlike_sides_are_refused_with_both_numbers_and_what_is_not_known_is_not_compared() -> None:
    for part, key, value, said in (
            ("train", "teeth", 30, "X 64 mm, Y 60 mm"), ("motor", "rotor_inertia", 2e-5, "X 180 g·cm², Y 200")):
        document = plotter()
        holder = document["axes"][1][part]
        (holder[0] if part == "train" else holder)[key] = value
        with pytest.raises(BadFile, match=said):
            parse_project(json.dumps(document).encode())
    document = plotter()
    del document["axes"][1]["motor"]["rotor_inertia"]
    assert parse_project(json.dumps(document).encode()).pairs
    for key, value, said in (("motion", "rotary", "rotary"), ("motor_count", 2, "two motors already")):
        document = plotter()
        document["axes"][1] |= {key: value} | ({"train": [], "cycle": [], "readings": []} if key == "motion" else {})
        for gone in ("moving_mass", "friction_force", "controller") if key == "motion" else ():
            document["axes"][1].pop(gone)
        with pytest.raises(BadFile, match=said):
            parse_project(json.dumps(document).encode())


def test_a_pair_follows_its_axes_to_their_names_and_goes_with_one_that_goes() -> None:
    project = parse_project(json.dumps(plotter()).encode())
    renamed = edited(project, ("axes", 1, "name"), "V")
    assert renamed.pairs[0].axes == ("X", "V") and parse_project(export_project(renamed).encode()).pairs == renamed.pairs
    assert edited(project, ("axes",), project.axes[:1]).pairs is None
    assert edited(project, ("axes", 0, "moving_mass"), 3.0).pairs[0] is project.pairs[0], "else every axis is solved anew"
    alone = solve_axis(project, project.axes[0]).changed(fellow=None, motor_count=1)
    assert not alone.find("pair_peak_torque").applies, "an axis by itself has nothing of a pair"


def test_a_pair_is_made_and_dissolved_on_load_in_one_step_and_refused_where_the_sides_differ(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Load", "chain")
    session = window.session
    row = window.stage.together
    row.choose("Y")
    assert session.project.pairs is None and "Y" in row.said.text() and row.said.text().endswith(".")
    twin = session.axis.model_copy(update={"name": "V", "readings": (), "following": None})
    session.edit_all([(("axes",), (*session.project.axes, type(twin).model_validate(
        {**{name: getattr(twin, name) for name in type(twin).model_fields if getattr(twin, name) is not None}})))])
    settle(session)
    row.refresh()
    before = float(session.solution["peak_torque"])
    row.choose("V")
    settle(session)
    assert session.project.pairs[0].axes == ("X", "V") and "when both are at their hardest" in row.said.text()
    assert float(session.solution["peak_torque"]) == pytest.approx(float(session.solution["pair_peak_torque"])) != before
    row.choose("no other axis")
    settle(session)
    assert session.project.pairs is None and float(session.solution["peak_torque"]) == pytest.approx(before)
    session.undo_stack.undo()
    assert session.project.pairs is not None
    window.close()


def test_what_the_other_axis_asks_is_never_left_out_in_silence() -> None:
    """While the other axis has no cycle, torque, speed and margin of this one are unknown, not smaller."""
    document = plotter()
    del document["axes"][1]["cycle"]
    project = parse_project(json.dumps(document).encode())
    solution = solve_axis(project, project.axes[0])
    for name in ("peak_torque", "peak_speed", "rms_torque", "working_margin", "pulse_rate", "pair_peak_torque"):
        unknown = solution.find(name)
        assert isinstance(unknown, Unknown) and "Y" in str(unknown.reason), name
    assert solution.get("load_inertia_at_motor") is not None, "its mass is known"


def test_a_motor_of_a_pair_is_set_on_both_axes_and_unlike_settings_are_a_fault_by_name() -> None:
    project = parse_project(json.dumps(plotter()).encode())
    stronger = edited(project, ("axes", 0, "motor", "rotor_inertia"), 2.4e-5)
    assert [axis.motor.rotor_inertia for axis in stronger.axes] == [2.4e-5, 2.4e-5] and stronger.pairs == project.pairs
    assert [axis.train[0].teeth for axis in edited(project, ("axes", 1, "train", 0, "teeth"), 20).axes] == [20, 20]
    unlike = edited(project, ("axes", 1, "driver", "microsteps"), 8)
    verdicts = {one.check: one for one in solve_axis(unlike, unlike.axes[0]).verdicts()}
    assert verdicts["follower"].level == "short" and "microsteps 8 instead of 16" in verdicts["follower"].sentence


def test_two_looks_tell_eight_wirings_against_the_kinematics_of_the_belts() -> None:
    """Of every wiring, drawn as matrices from commands to belts and back, both looks are those of that wiring, and of no other."""
    belts = np.array([[1, 1], [1, -1]])
    for one in WIRINGS:
        order = np.array([[0, 1], [1, 0]]) if one.exchanged else np.eye(2)
        signs = np.diag([-1 if one.a else 1, -1 if one.b else 1])
        went = np.linalg.inv(belts) @ signs @ order @ belts
        assert np.array_equal(went, np.array(one.looks).T)
        assert wiring_of(*one.looks) is one
    assert len({one.looks for one in WIRINGS}) == 8 and wiring_of((1, 0), (0, 0)) is None
    assert "B turns" in WIRINGS[1].name() and "A turns" in WIRINGS[1].name(turned=True)


def test_both_looks_are_written_down_for_both_axes_in_one_step(tmp_path: Path, qtbot: Any) -> None:
    ProjectFile.create(tmp_path / "plotter.mule", parse_project(json.dumps(plotter()).encode())).close()
    window, picture = leaf_of(tmp_path / "plotter.mule", qtbot, "Moves", "directions", axis=1)
    session, looks = window.session, picture.both
    assert looks.isVisible() and not picture.arrow.isVisible()
    qtbot.mouseClick(looks.keys[0][(0, -1)], Qt.MouseButton.LeftButton)
    assert [axis.direction_seen for axis in session.project.axes] == [None, None], "one look tells nothing yet"
    qtbot.mouseClick(looks.keys[1][(-1, 0)], Qt.MouseButton.LeftButton)
    assert "A turns the wrong way round" in looks.told.text()
    assert {axis.direction_seen for axis in session.project.axes} == {"the other way"}
    assert window.tag.title.text().endswith("motor B") and session.project.motor_name(session.project.axes[0]) == "X, motor A"
    settle(session)
    assert "Turn nothing round before that" in next(one for one in session.solution.verdicts() if one.check == "direction").next
    qtbot.mouseClick(looks.keys[0][(1, 0)], Qt.MouseButton.LeftButton)
    assert looks.looks == {0: (1, 0)} and {axis.direction_seen for axis in session.project.axes} == {"the other way"}
    session.undo_stack.undo()
    assert [axis.direction_seen for axis in session.project.axes] == [None, None]


def test_the_plan_names_the_hardest_move_and_an_axis_by_itself_has_none(tmp_path: Path, qtbot: Any) -> None:
    """The four moves are those of virtual work at their hardest; the belts of the drawing stay as long wherever the carriage is."""
    ProjectFile.create(tmp_path / "plotter.mule", parse_project(json.dumps(plotter()).encode())).close()
    window, picture = leaf_of(tmp_path / "plotter.mule", qtbot, "Load", "both axes", axis=1)
    torques, solution = picture.torques(), window.session.solution
    assert torques["both, to plus"][0] == pytest.approx(float(solution["pair_peak_torque"]))
    assert torques["{0} to plus, {1} to minus"][1] == pytest.approx(torques["both, to plus"][0]), "the other diagonal is B's"
    assert torques["along {0}"][0] == pytest.approx(torques["along {0}"][1]) and "motor A gives 0.167" in picture.says()[0]
    qtbot.mouseClick(picture.keys["along {1}"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: picture.plan.phase > 0.1)
    frame = QRectF(0, 0, 300, 200)
    lengths = [[sum(math.dist((a.x(), a.y()), (b.x(), b.y())) for a, b in pairwise(belt))
                for belt in picture.plan._belts(frame, at, 6.0)] for at in (QPointF(40, 50), QPointF(180, 120), QPointF(260, 20))]
    assert np.ptp(np.array(lengths), axis=0) == pytest.approx([0, 0])
    window.stage.leaves.turn("chain")
    assert window.plates.joined.joins() and "share two motors" in window.plates.joined.accessibleName()
    window.stage.together.turned.activated.emit(1)
    settle(window.session)
    assert window.session.project.pairs[0].turned and "motor B turns by" in window.session.undo_stack.undoText()
    window.stage.together.choose("no other axis")
    settle(window.session)
    assert window.session.project.pairs is None and "both axes" not in window.stage.leaves.all_words


def test_unequal_steps_of_a_pair_make_a_circle_that_is_out_of_square_and_the_proof_says_so(tmp_path: Path, qtbot: Any) -> None:
    """Belts that go unequally far shear the plane: the radius of a circle made so is that of axes out of square by their share."""
    share, radius, angles = 4e-4, 0.08, np.linspace(0, 2 * math.pi, 73)
    x, y = radius * np.cos(angles), radius * np.sin(angles)
    a, b = (1 + share / 2) * (x + y), (1 - share / 2) * (x - y)
    way = {"angle": angles.tolist(), "deviation": (np.hypot((a + b) / 2, (a - b) / 2) - radius).tolist()}
    document = plotter(readings=[{"kind": "circle", "axes": ["X", "Y"], "radius": radius, "counterclockwise": way,
                                    "clockwise": way}])
    ProjectFile.create(tmp_path / "plotter.mule", parse_project(json.dumps(document).encode())).close()
    window, picture = leaf_of(tmp_path / "plotter.mule", qtbot, "Proof", "circle")
    assert abs(float(window.session.together["squareness_error"])) == pytest.approx(share, rel=1e-3)
    assert any("tones of both belts" in cell for row in picture.listed.rows for cell in row.texts)


def test_the_busier_motor_of_a_diagonal_is_drawn_and_named(tmp_path: Path, qtbot: Any) -> None:
    """Motor, both motors: at the same instants the torques are those of the pair's peak, and of the axis alone."""
    ProjectFile.create(tmp_path / "plotter.mule", parse_project(json.dumps(plotter()).encode())).close()
    window, picture = leaf_of(tmp_path / "plotter.mule", qtbot, "Motor", "both motors")
    straight, both = picture.moves()
    solution = window.session.solution
    assert np.abs(both.torque).max() == pytest.approx(float(solution["pair_peak_torque"]))
    assert np.abs(straight.torque).max() == pytest.approx(float(solution["pair_peak_torque"] * (1 - solution["pair_share"])))
    assert np.array_equal(*straight.torque) and "motor A" in picture.says()[0]
    work = np.trapezoid((both.torque * both.speed).sum(axis=0), both.time)
    assert work > 0, "friction takes it"
    report = Report(window.session)
    deque(report.steps, maxlen=0)
    assert "Motor A, entered here, and motor B, entered on Y, move both axes together" in report.html()
    assert any("second demo" in action.text().replace("&", "") for action in window.menuBar().actions()[0].menu().actions())


def test_both_belts_stand_side_by_side_with_what_was_heard(tmp_path: Path, qtbot: Any) -> None:
    ProjectFile.create(tmp_path / "plotter.mule", parse_project(json.dumps(plotter()).encode())).close()
    window, picture = leaf_of(tmp_path / "plotter.mule", qtbot, "Slack", "tone", axis=1)
    heard = [(letter, axis.name, reading.frequency) for letter, axis, reading in picture.belts()]
    assert heard == [("A", "X", 61.0), ("B", "Y", 59.5)]
    assert abs(picture.apart()) == pytest.approx(float(window.session.solution["pair_tone_difference"])) and picture.apart() > 0
    assert "Belt A, of X: 61" in picture.accessibleName() and window.stage.headline.text().startswith("This belt pulls")
    window.session.edit(("axes", 0, "readings"), ())
    settle(window.session)
    assert picture.apart() is None


@pytest.mark.parametrize("slack", ["X", "Y"])
def test_a_slack_belt_of_the_practice_machine_gives_way_along_its_own_diagonal_and_pulls_askew(slack: str) -> None:
    """The same belt is found whichever axis is pushed, and what one axis lags pulls the other one along."""
    project = edited(brush_project(), ("hidden",), HiddenFaults.model_validate(
        {"axis": slack, "seed": 3, "faults": [{"fault": "slack belt", "size": 0.2}]}))
    found = []
    for axis in project.axes[:2]:
        machine = practice_machine(project, axis, 0)
        plan = plan_of(axis, machine.solution)
        gives = {}
        for along in ("A", "B"):
            row = walk("push", plan, usual("push", plan, direction=along, forces="8 16"), machine, lambda *_: True)
            assert row["direction"] == along
            gives[along] = np.mean(np.subtract(np.array(row["plus"])[:, -1], np.array(row["minus"])[:, -1]))
        found.append(gives["A"] / gives["B"])
    soft, stiff = ("A", "B") if slack == "X" else ("B", "A")
    assert all(one > 1.3 if soft == "A" else one < 1 / 1.3 for one in found), (soft, stiff, found)
    pair = practice_pair(project, project.axes[0], project.axes[1], 0)
    assert pair.askew == pytest.approx((2 / 3 if slack == "X" else -2 / 3), abs=0.25), "a fifth of the stiffness on one side"
    sound = practice_pair(edited(project, ("hidden",), None), project.axes[0], project.axes[1], 0)
    assert abs(sound.askew) < 0.15


def test_both_motors_of_a_servo_pair_take_the_lower_gains() -> None:
    """The heavier axis allows another gain than the lighter one: both sheets set the lower, and the longer integral time."""
    document = plotter()
    for axis in document["axes"]:
        axis["motor"] = {"kind": "servo", "rated_torque": 0.64, "peak_torque": 1.9, "rotor_inertia": 1.8e-5,
                         "rated_speed": 314.0, "counts_per_turn": 131072}
        axis["driver"] = {"supply_voltage": 48.0, "current_loop_bandwidth": 1200.0, "velocity_sample_time": 1.25e-4}
    document["axes"][0]["driver"]["position_gain"] = 55.0
    project = parse_project(json.dumps(document).encode())
    x, y = (solve_axis(project, axis) for axis in project.axes)
    own = [float(one.changed(fellow=None)["velocity_gain_to_set"]) for one in (x, y)]
    assert own[0] != pytest.approx(own[1], rel=0.01)
    for name, value in (("velocity_gain_to_set", min(own)), ("position_gain_to_set", 55.0)):
        assert [float(one[name]) for one in (x, y)] == pytest.approx([value, value]), name
    integrals = [float(one["velocity_integral_to_set"]) for one in (x, y)]
    assert integrals[0] == pytest.approx(integrals[1], rel=1e-6)


def test_the_stations_of_a_pair_are_those_of_two_motors_on_two_axes() -> None:
    project = parse_project(json.dumps(plotter()).encode())
    names = [[one.station.name for one in station_stands(one, one.axes[0], solve_axis(one, one.axes[0]))]
             for one in (project, edited(project, ("pairs",), None))]
    assert {"both belts alike", "both motors alike", "two looks"} == set(names[0]) - set(names[1])
    assert names[0][-2:] == ["first power", "two looks"]


def test_switches_of_a_pair_that_do_not_stand_alike_are_a_fault() -> None:
    document = plotter()
    for axis, first in zip(document["axes"], ("1", "0"), strict=True):
        axis["driver"]["banks"] = [{"name": "S1", "count": 1, "tables": [{"switches": [1], "rows": [
            {"positions": first, "microsteps": 16}, {"positions": "10"[int(first)], "microsteps": 8}]}]}]
    project = parse_project(json.dumps(document).encode())
    said = next(one for one in solve_axis(project, project.axes[0]).verdicts() if one.check == "follower")
    assert said.level == "short" and "switches S1 0 instead of S1 1" in said.sentence


def test_the_brush_comes_with_its_history(tmp_path: Path) -> None:
    """The second demo: exchanged plugs first, then unlike tones with a circle out of square, and both put right."""
    file = build_brush(tmp_path / "brush.mule")
    now, first = file.project(), file.project(2)
    assert [axis.direction_seen for axis in first.axes[:2]] == ["as it should", "the other way"]
    assert [axis.direction_seen for axis in now.axes[:2]] == ["as it should", "as it should"]
    before = next(file.project(one.id) for one in file.revisions() if "as they were fitted" in one.label)
    said, lean = [], []
    for project in (before, now):
        solved = {axis.name: solve_axis(project, axis) for axis in project.axes}
        said.append({one.check: one.level for one in solved["Y"].verdicts()}["tones of both belts"])
        lean.append(abs(float(solve_project(project, solved)["squareness_error"])))
    assert said == ["tight", "good"] and lean[0] > 5 * lean[1]
    fed = {one.check: one for one in solve_axis(now, now.axes[2]).verdicts()}["scale"]
    assert now.practice and fed.level == "tight" and "less than commanded" in fed.sentence
    file.close()


def test_a_push_along_a_diagonal_says_which(tmp_path: Path, qtbot: Any) -> None:
    """The plan asks along what is pushed only where two motors share two axes; the reading keeps it, and both diagonals compare."""
    build_brush(tmp_path / "brush.mule").close()
    window, _ = leaf_of(tmp_path / "brush.mule", qtbot, "Slack", "push")
    before = len(window.session.axis.readings)
    practise(window, qtbot, "push", forces="8 12 16", repeats="1", direction="A")
    settle(window.session)
    assert len(window.session.axis.readings) == before + 1 and window.session.axis.readings[-1].direction == "A"
    shared = plan_of(window.session.axis, window.session.solution)
    told = steps_push(shared, {"forces": "8 12", "repeats": 1, "direction": "B", "axis": shared})[0].instruction
    assert "along the diagonal, the other axis to the other side," in told
    plain = plan_of(window.session.project.axes[2], window.session.solution_of(window.session.project.axes[2]))
    assert "direction" not in {one.name for one in givens_of("push", plain)}


def test_motors_tried_at_once_are_tried_in_both_places() -> None:
    """A scan over rotors gives what the project gives with each of them set on both axes."""
    project = parse_project(json.dumps(plotter()).encode())
    rotors = np.array([6e-6, 3e-5, 9e-5])
    scanned = solve_axis(project, project.axes[0]).changed(rotor_inertia=rotors)
    for place, rotor in enumerate(rotors):
        both = edited(project, ("axes", 0, "motor", "rotor_inertia"), float(rotor))
        alone = solve_axis(both, both.axes[0])
        for name in ("rms_torque", "peak_torque", "inertia_ratio", "pair_share"):
            assert float(np.broadcast_to(scanned[name], rotors.shape)[place]) == pytest.approx(float(alone[name])), name


def test_a_driver_and_a_link_of_a_pair_are_those_of_both_at_their_own_terminals() -> None:
    document = plotter()
    for axis, terminal in zip(document["axes"], ("1A", "2A"), strict=True):
        axis["driver"]["terminals"] = {"step": terminal}
    document["axes"][1]["train"][0]["span"] = 0.5
    project = parse_project(json.dumps(document).encode())
    x = project.axes[0]
    other = edited(project, ("axes", 0, "driver"), x.driver.model_copy(update={"current_peak": 1.9, "microsteps": 8}))
    assert [axis.driver.current_peak for axis in other.axes] == [1.9, 1.9]
    assert [axis.driver.terminals.step for axis in other.axes] == ["1A", "2A"]
    reduced = edited(project, ("axes", 0, "train"), (LINK_MODELS["reduction"](kind="reduction", ratio=3.0), *x.train))
    assert [[link.kind for link in axis.train] for axis in reduced.axes] == [["reduction", "belt"]] * 2
    assert [axis.train[1].span for axis in reduced.axes] == [0.8, 0.5] and reduced.pairs == project.pairs
    assert reduced.axes[0].train[0].id != reduced.axes[1].train[0].id
    other_teeth = type(x.train[0]).model_validate({**dict(x.train[0]), "teeth": 20, "inertia": 4e-6})
    smaller = edited(project, ("axes", 0, "train"), (other_teeth,))
    assert [(axis.train[0].teeth, axis.train[0].inertia, axis.train[0].span) for axis in smaller.axes] == [
        (20, 4e-6, 0.8), (20, 4e-6, 0.5)], "what changed, and nothing else"
    assert smaller.axes[1].train[0].id == project.axes[1].train[0].id
    back = edited(reduced, ("axes", 1, "train"), reduced.axes[1].train[1:])
    assert [axis.train[0].span for axis in back.axes] == [0.8, 0.5]


def test_what_is_promised_and_reached_leaves_the_other_axis_its_part() -> None:
    """A speed or acceleration that is offered, once taken, has the margin that was promised: on the pair, not on one axis alone."""
    document = plotter()
    for axis in document["axes"]:
        axis |= {"speed_wanted": 1.4, "safety_factor": 2.0}
        axis["controller"]["max_pulse_rate"] = 90e3
        for move in axis["cycle"]:
            move |= {"speed": 0.55, "acceleration": 9.0}
    project = parse_project(json.dumps(document).encode())
    x = solve_axis(project, project.axes[0])
    capped, limits = x["capped_torque"], x["torque_limits"]
    for speed, steep in ((0.55, 9.0), (0.4, 3.0)):
        taken = edited(project, ("axes", 0, "cycle"), tuple(
            move.model_copy(update={"speed": speed, "acceleration": steep}) for move in project.axes[0].cycle))
        after = solve_axis(taken, taken.axes[0])
        assert margin_at(capped, limits, speed, steep) == pytest.approx(float(after["working_margin"]))
        assert float(capped.rms(speed, steep)) == pytest.approx(float(after["rms_torque"]))
    for at in x["speed_limits"]:
        faster = edited(project, ("axes", 0, "cycle"), tuple(
            move.model_copy(update={"speed": at.value, "distance": 3.0 * math.copysign(1, move.distance)})
            for move in project.axes[0].cycle))
        after = solve_axis(faster, faster.axes[0])
        if at.stage == "Drive":
            assert float(after["pulse_rate"]) == pytest.approx(90e3)
        elif "2 times" in at.why:
            assert float(after["working_margin"]) == pytest.approx(2.0, rel=0.01)
    assert {at.stage for at in x["speed_limits"]} >= {"Drive", "Motor"}
    motor = next(at for at in x["acceleration_limits"] if at.stage == "Motor" and "2 times" in at.why)
    steeper = edited(project, ("axes", 0, "cycle"), tuple(
        move.model_copy(update={"acceleration": motor.value}) for move in project.axes[0].cycle))
    assert float(solve_axis(steeper, steeper.axes[0])["working_margin"]) == pytest.approx(2.0, rel=0.01)
