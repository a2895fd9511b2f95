"""Rounds of two axes: plans against a bench whose truth is known, by hand in the window, and over the wire."""

from __future__ import annotations

import os
import socket
import threading
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from tests.driving import leaf_of

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.practice import practice_peer
from urban_mule.bench.sessions.carried import walk
from urban_mule.bench.sessions.gauged import PlanGauge
from urban_mule.bench.sessions.kinds import PLAN_KINDS, columns_of, steps_of
from urban_mule.bench.sessions.rounds import PlanAxis
from urban_mule.bench.simulated.pair import SimulatedPair
from urban_mule.bench.wire.client import WireMachine
from urban_mule.bench.wire.peer import Peer, serve
from urban_mule.bench.wire.ports import SocketPort
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.subjects import sheet_of
from urban_mule.demo.courtyard import demo_project
from urban_mule.practice.machine import practice_machine
from urban_mule.store.document.pairs import PAIR_MODELS, pair_inputs

pytestmark = pytest.mark.every_axis

PROJECT = demo_project()
AXIS = PlanAxis(0.86, True, 0.4, others=(("Y", 0.6),))


def pair(seed: int = 4) -> SimulatedPair:
    both = [practice_machine(PROJECT, PROJECT.axis(name), 1) for name in "XY"]
    made = SimulatedPair(both[0], both[1], seed)
    made.out_of_square = 3e-4
    return made


def solved(kind: str, columns: dict[str, Any]) -> Any:
    made = PAIR_MODELS[kind].model_validate({"kind": kind, "axes": ("X", "Y"), **columns, **(
        {"gauge_uncertainty": 2e-6} if kind != "circle" else {})})
    return sheet_of("machine").solve(axes_together=(), wirings=(), **pair_inputs((made,)))


def test_each_round_of_two_axes_finds_what_is_so() -> None:
    found = {kind: solved(kind, walk(kind, AXIS, PLAN_KINDS[kind].usual(AXIS), pair(), lambda *_: True))
             for kind in ("circle", "diagonals", "square", "straightness")}
    assert found["circle"]["squareness_error"] == pytest.approx(3e-4, abs=4e-5)
    assert found["square"]["squareness_by_square"] == pytest.approx(3e-4, abs=2e-5)
    assert found["diagonals"]["squareness_by_diagonals"] == pytest.approx(3e-4, abs=1.5e-4)
    bends = abs(pair()._bend) * (1 - 0.8**2)
    assert found["straightness"]["straightness"] == pytest.approx(bends, abs=2.5e-6)
    assert found["straightness"]["straightness_uncertainty"] == pytest.approx(np.sqrt(2) * 2e-6)


def test_a_circle_that_would_crush_its_gauge_or_leaves_the_travel_says_so() -> None:
    axis = PlanAxis(**{**vars(AXIS), "gauge": PlanGauge("dial", "dial", 1e-3)})
    usual = {**PLAN_KINDS["circle"].usual(axis), "gauge": axis.gauge.plain()}
    for wrong, said in (({"every": "30"}, "would crush the dial"), ({"radius": "400"}, "leaves the travel of Y"),
                        ({"second": "Q"}, "the other axis is Q"), ({"centre": "300"}, "two numbers are needed"),
                        ({"every": "90"}, "allowed is 1 to 45")):
        with pytest.raises(BadValue, match=said):
            steps_of("circle", axis, {**usual, **wrong})
    assert len(steps_of("circle", axis, {**usual, "every": "6", "centre": "300 300"})) == 1 + 2 * 60
    with pytest.raises(BadValue, match="not even one angle"):
        columns_of("circle", axis, {**usual, "every": "6"}, {})


def test_a_second_axis_goes_over_the_wire_where_a_bench_announces_it_and_older_ones_still_work() -> None:
    here, there = socket.socketpair()
    going = threading.Event()
    made = pair()
    peer = practice_peer(made, "a very long name of an axis", True, 0.0, "Y axis: left")
    served = threading.Thread(target=serve, args=(SocketPort(there), peer, lambda: not going.is_set()), daemon=True)
    served.start()
    machine = WireMachine(SocketPort(here))
    try:
        said = machine.hello()
        assert said.second == "Y_ax" and said.practice
        columns = walk("square", AXIS, {"second": "Y", "targets": "60 200 340 480"}, machine, lambda *_: True)
        assert solved("square", columns)["squareness_by_square"] == pytest.approx(3e-4, abs=3e-5)
    finally:
        going.set()
        served.join(5)
    old = Peer(made.first, "X", "m", 0.86)
    assert not any(word.startswith("second=") for word in old._more)
    alone = WireMachine(SocketPort(here))
    with pytest.raises(DeviceError, match="moves one axis"):
        alone.second(0.1)
    here.close()
    there.close()


def test_a_square_is_read_by_hand_and_stands_in_the_project(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Proof", "square")
    picture.rounds["square"].click()
    view = window.stage.round
    assert view is not None and view.kind == "square" and "second" in view.plan.fields
    view.plan.gauge.setCurrentIndex(0)
    view.plan.gauge.activated.emit(0)
    view.plan.fields["targets"].setText("50 250 450")
    view.plan.look()
    view.plan.begin()
    assert "its stock set along the first axis" in view.instruction.text()
    while window.stage.round is view and view.step is not None:
        if view.step.asks == "done":
            view.say_done()
        else:
            view.editor.setText(f"{view.step.at * 100:g}")  # µm: 0.1 mm a metre
            view.take()
    reading = window.session.project.readings[-1]
    assert reading.kind == "square" and reading.source == "typed" and reading.axes == ("X", "Y")
    assert window.session.together["squareness_by_square"] == pytest.approx(1e-4, rel=1e-6)
    assert any("Readings along a square taken" in entry.text for entry in window.session.entries())
    window.session.undo_stack.undo()
    window.close()
    assert os.fspath(demo_copy)
