"""Where a machine could hurt: it is told to stop when it is left, a small move comes first, no travel is made up, cautions."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from tests.rounds.test_machine_wire import TRUTH, on_terminal, peer

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.practice import practice_peer, serve_socket
from urban_mule.bench.sessions.kinds import PLAN_KINDS, small_move, steps_of
from urban_mule.bench.sessions.rounds import PlanAxis, really_taken
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.wire.client import WireMachine
from urban_mule.bench.wire.ports import open_port
from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.cards import card_html, plan_html
from urban_mule.desk.out.machine import wall_html
from urban_mule.store.document.edit import edited
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.solve import solve_axis


class Real(SimulatedAxis):
    """A machine that does not say that it is made up."""

    practice = False
    stopped = False

    def stop(self) -> None:
        self.stopped = True
        super().stop()


@pytest.fixture
def real_project(demo_copy: Path, qtbot: Any) -> Window:
    """The demo as a project of a real machine: nothing of X was measured yet."""
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    bare = edited(edited(window.session.project, ("practice",), None), ("axes", 0, "readings"), ())
    window.session.replace(bare, "a real machine")
    return window


@contextmanager
def served(machine: SimulatedAxis, pace: float) -> Iterator[str]:
    ended, told = threading.Event(), list[str]()
    made = practice_peer(machine, "X", True, pace)
    thread = threading.Thread(target=serve_socket, args=(made, 0, told.append, lambda: not ended.is_set()))
    thread.start()
    while not told:
        time.sleep(0.005)
    try:
        yield told[0]
    finally:
        ended.set()
        thread.join()


def connected(window: Window, qtbot: Any, address: str) -> Any:
    """A reversal round on a wire, its motor powered, up to the first press."""
    window.show_stage("Slack")
    window.stage.open_round("reversal")
    view = window.stage.round
    assert view is not None
    qtbot.mouseClick(view.plan.start, Qt.MouseButton.LeftButton)
    view.machine.port.setText(address)
    view.machine.join.click()
    qtbot.waitUntil(lambda: view.machine.machine is not None, timeout=10_000)
    view.machine.press.click()
    qtbot.waitUntil(lambda: not view.machine.running and "powered" in view.machine.said.text(), timeout=10_000)
    return view


LEAVING: dict[str, Callable[[Window, Any], None]] = {
    "Pause": lambda window, view: view.buttons["Pause"].click(),
    "another stage": lambda window, _view: window.show_stage("Motor"),
    "another axis": lambda window, _view: window.session.show_axis(2)}


@pytest.mark.every_axis
@pytest.mark.parametrize("way", LEAVING)
def test_a_machine_that_is_left_while_it_moves_is_told_to_stop(real_project: Window, qtbot: Any, way: str) -> None:
    machine = Real(solve_axis(real_project.session.project, real_project.session.axis), TRUTH)
    with served(machine, 4.0) as address:
        view = connected(real_project, qtbot, address)
        view.machine.press.click()
        qtbot.waitUntil(lambda: view.machine.running)
        qtbot.wait(400)
        LEAVING[way](real_project, view)
        qtbot.waitUntil(lambda: machine.stopped, timeout=5_000)
        assert abs(machine.position()) < 0.5 * 5e-3, "it stands where it was stopped"
    real_project.close()


def test_whatever_goes_wrong_while_it_moves_it_is_told_to_stop() -> None:
    machine = Real(solve_axis_of_peer(), TRUTH)
    with served(machine, 0.0) as address:
        wire = WireMachine(open_port(address))
        wire.hello()

        def unforeseen() -> None:
            raise TypeError("nobody foresaw this")

        with pytest.raises(TypeError, match="nobody foresaw"):
            wire.carry(unforeseen)
        until = time.monotonic() + 2
        while not machine.stopped and time.monotonic() < until:
            time.sleep(0.01)
        assert machine.stopped
        wire.leave()
        with pytest.raises(DeviceError):
            wire.position()


def solve_axis_of_peer() -> Any:
    return peer().machine.solution  # type: ignore[attr-defined]


def test_a_machine_at_rest_is_left_at_once() -> None:
    with on_terminal(peer()) as address:
        wire = WireMachine(open_port(address))
        wire.hello()
        wire.leave()
        with pytest.raises(DeviceError):
            wire.position()


def test_the_first_round_of_a_machine_begins_with_a_small_move_that_is_looked_at(real_project: Window, qtbot: Any) -> None:
    window, told = real_project, list[str]()
    window.session.told.connect(told.append)
    machine = Real(solve_axis(window.session.project, window.session.axis), TRUTH)
    with served(machine, 0.0) as address:
        view = connected(window, qtbot, address)
        assert "5 mm towards plus" in view.instruction.text() and not view.editor.isVisible() and view.answers.isVisible()
        assert view.machine.press.text() == "Move 5 mm towards plus (F9)"
        view.machine.press.click()
        qtbot.waitUntil(lambda: not view.machine.running and machine.position() > 0)
        assert machine.position() == pytest.approx(5e-3) and not view.round.taken
        qtbot.waitUntil(lambda: "Look before you press" in view.question.text())
        view.it_did_not.click()
        assert window.stage.round is None and window.session.rounds == [] and "Moves, directions" in told[-1]
    window.stage.open_round("reversal")
    view = window.stage.round
    qtbot.mouseClick(view.plan.start, Qt.MouseButton.LeftButton)
    view.it_did.click()
    assert view.editor.isVisible() and "coming towards plus" in view.instruction.text() and view.caution.isVisible()
    view.pause()
    window.stage.open_round("reversal", window.session.rounds[0])
    assert not window.stage.round.answers.isVisible(), "seen once is enough"
    window.close()


MOVING = [kind for kind, one in PLAN_KINDS.items() if one.moves and not one.pair]


@pytest.mark.parametrize("kind", [*MOVING, "acceleration"])
def test_no_plan_makes_up_how_far_an_axis_travels(kind: str) -> None:
    """Without a travel no step is planned; of an axis without ends it is said how far, and nothing goes beyond that."""
    bare = PlanAxis(None, True, 0.2, ((0.1, 1.0),))
    settings = PLAN_KINDS[kind].settings(bare) | ({"by": "move"} if kind == "acceleration" else {})
    with pytest.raises(BadValue, match="how far does it travel"):
        steps_of(kind, bare, settings)
    if kind == "acceleration":
        return
    known = PlanAxis(0.08, True, 0.2, ((0.1, 1.0),))
    asked = {**PLAN_KINDS[kind].settings(known), "free_travel": "80"}
    places = [place for step in steps_of(kind, bare, asked) for place in step.moves]
    assert places and min(places) >= 0 and max(places) <= 0.08


@pytest.mark.every_axis
def test_every_step_that_can_hurt_has_its_caution_on_the_screen_and_on_paper(real_project: Window, qtbot: Any) -> None:
    session = real_project.session
    session.show_axis(2)
    real_project.show_stage("Moves")
    for kind, one in PLAN_KINDS.items():
        assert one.caution or kind == "ripple", kind
    real_project.stage.open_round("ladder")
    view = real_project.stage.round
    qtbot.mouseClick(view.plan.start, Qt.MouseButton.LeftButton)
    assert "meant to stall" in view.caution.text() and "falls when the power goes" in view.caution.text()
    steps = steps_of("ladder", view.axis, PLAN_KINDS["ladder"].settings(view.axis))
    paper = plan_html(session, ("ladder", "Z", steps, "mm", view.plan_kind.caution_on(view.axis)))
    assert "meant to stall" in paper and "falls when the power goes" in paper
    assert "falls when the power goes" in wall_html(session) and "Block Z first: it falls" in card_html(session)
    session.edit(session.axis_path("counterbalance_force"), 2 * float(session.solution["gravity_load"]))
    assert "rises when the power goes" in wall_html(session) and "Block Z first: it rises" in card_html(session)
    real_project.close()


def test_a_blank_axis_is_asked_for_its_travel_and_led_to_the_field(real_project: Window, qtbot: Any) -> None:
    window = real_project
    window.session.edit(window.session.axis_path("travel"), None)
    window.show_stage("Slack")
    window.stage.open_round("reversal")
    plan = window.stage.round.plan
    assert not plan.start.isEnabled() and "How far does it travel" in plan.fault.text() and plan.lacks.isVisible()
    plan.fields["free_travel"].setText("300")
    plan._typed("free_travel")
    assert plan.start.isEnabled() and len(plan.fields["targets"].text().split()) == 5
    plan.lacks.click()
    assert window.stage.spec.name == "Brief" and window.stage.round is None
    window.close()


def test_the_times_of_numbers_are_the_clock_s_where_the_clock_follows_the_plan() -> None:
    begun = datetime(2026, 3, 1, tzinfo=UTC)

    def at(*minutes: float) -> list[str]:
        return [(begun + timedelta(minutes=one)).isoformat() for one in minutes]

    planned = [0.0, 120.0, 300.0]
    assert really_taken(planned, at(0, 2.5, 5.2)) == pytest.approx([0.0, 150.0, 312.0])
    assert really_taken(planned, at(0, 0.1, 0.2)) == planned, "typed from paper"
    assert small_move(PlanAxis(0.02, True)).does == (("creep", pytest.approx(1e-3)),), "a twentieth of a short travel at most"
