"""A machine on a wire: the protocol with every fault at every byte, all plans over a pseudo-terminal, a round in the window."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.practice import TerminalPort, practice_peer, serve_socket
from urban_mule.bench.sessions.carried import carry_out, usual, walk
from urban_mule.bench.sessions.kinds import PLAN_KINDS, steps_of
from urban_mule.bench.sessions.rounds import PlanAxis, Step
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.motion import at_rest
from urban_mule.bench.simulated.truth import Truth
from urban_mule.bench.wire.client import WireMachine
from urban_mule.bench.wire.messages import Message, checksum, message_in
from urban_mule.bench.wire.peer import Peer, serve
from urban_mule.bench.wire.ports import Port, open_port
from urban_mule.core.sheet.progress import Cancelled
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.links import Screw
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model import memory
from urban_mule.desk.model.session import Session
from urban_mule.store.file.project_file import ProjectFile

AXIS = PlanAxis(0.5, True, 0.2, ((0.1, 1.0), (0.2, 3.0)))
TRUTH = Truth(seed=5, scatter=0.0, indicator_noise=0.0)
LOOK = 0.002  # s that one look at the port takes
QUICK, TRIES = 0.008, 200  # s within which a quick bench answers, and how often it is asked: a late answer must do no harm
NEEDED = {"tone": {"span": "420", "linear_mass": "9.5"}, "drag": {"radius": "60"}}


def peer(pace: float = 0.0, truth: Truth = TRUTH) -> Peer:
    solution = axis_sheet("linear", "stepper").solve(
        travel=0.5, train=(Screw(lead=0.01),), step_angle=np.pi / 100, microsteps=64, unit="mm")
    with_play = solution.changed(train=(Screw(lead=0.01, clearance=20e-6),), friction_force=2.0, moving_mass=5.0)
    return practice_peer(SimulatedAxis(solution, truth, with_play), "X", True, pace)


@contextmanager
def on_terminal(served: Peer, wrapped: Callable[[Port], Port] = lambda port: port) -> Iterator[str]:
    """A peer on a pseudo-terminal; the address of its other end."""
    port, ended = TerminalPort(), threading.Event()
    thread = threading.Thread(target=serve, args=(wrapped(port), served, lambda: not ended.is_set()))
    thread.start()
    try:
        yield port.name
    finally:
        ended.set()
        thread.join()
        port.close()


def short_session(machine: WireMachine) -> list[float]:
    machine.hello()
    machine.enable()
    machine.move(0.1)
    return [machine.read()]


class Unplugged(OSError):
    """The cable came off."""


class Faulty:
    """A port on which a fault happens once, at a byte that comes in or goes out."""

    def __init__(self, port: Port, fault: str, way: str, at: int) -> None:
        self.port, self.fault, self.way, self.left = port, fault, way, at
        self.passed = {"in": 0, "out": 0}

    def _spoil(self, way: str, data: bytes) -> bytes:
        self.passed[way] += len(data)
        if way != self.way or self.left is None:
            return data
        if len(data) <= self.left:
            self.left -= len(data)
            return data
        at, self.left = self.left, None  # type: ignore[assignment]
        match self.fault:
            case "unplugged":
                raise Unplugged("the cable came off")
            case "garbage":
                return data[:at] + b"\xff\x00?" + data[at:]
            case "another":
                return data[:at] + bytes([data[at] ^ 1]) + data[at + 1:]
            case "half line":
                return data[:at]
            case "doubled":
                return data[:at + 1] + data
            case _:
                return data[:at] + data[at + 1:]

    def read(self, size: int) -> bytes:
        return self._spoil("in", self.port.read(size))

    def write(self, data: bytes) -> None:
        self.port.write(self._spoil("out", data))

    def close(self) -> None:
        self.port.close()


@pytest.mark.parametrize("fault", ["unplugged", *(pytest.param(fault, marks=pytest.mark.long) for fault in (
    "another", "garbage", "half line", "doubled", "lost"))])
def test_a_fault_at_every_byte_of_a_session_changes_no_number_and_moves_nothing_twice(fault: str) -> None:
    """Whatever happens once, the session comes to the same numbers, after plugging in again where the cable came off."""
    tried = 0
    for way in ("in", "out"):
        served = peer()
        moves: list[float] = []
        plain_move = served.machine.move
        served.machine.move = lambda to, moves=moves, plain=plain_move: (moves.append(to), plain(to))[1]  # type: ignore[method-assign]
        with on_terminal(served) as address:
            whole = Faulty(open_port(address, LOOK), "", way, 10_000)
            wanted = short_session(WireMachine(whole, QUICK, TRIES))
            whole.close()
            for at in range(whole.passed[way]):
                served.machine._state, served.machine._commanded = at_rest(served.machine.body), 0.0  # type: ignore[attr-defined]
                moves.clear()
                port = Faulty(open_port(address, LOOK), fault, way, at)
                machine = WireMachine(port, QUICK, TRIES)
                try:
                    found = short_session(machine)
                except DeviceError as why:
                    assert fault == "unplugged" and "the device is gone: the cable came off" in str(why) and machine.lost
                    machine.close()
                    machine = WireMachine(open_port(address, LOOK), QUICK, TRIES)
                    found = short_session(machine)
                else:
                    assert moves == [0.1], (fault, way, at, moves)
                assert found == pytest.approx(wanted, abs=1e-9), (fault, way, at)
                machine.close()
                tried += 1
    assert tried > 150


def test_silent_slow_and_foreign_benches_are_sentences() -> None:
    class Deaf:
        def read(self, size: int) -> bytes:
            time.sleep(0.001)
            return b""

        def write(self, data: bytes) -> None: ...

        def close(self) -> None: ...

    with pytest.raises(DeviceError, match="does not answer 'hello'; look at its power, its cable and its rate"):
        WireMachine(Deaf(), 0.005).hello()
    with on_terminal(peer()) as address:
        machine = WireMachine(open_port(address, LOOK), QUICK, TRIES)
        for words, said in ((("hello", "3"), "this bench speaks version 2 and 1"), (("dance",), "dance is no request of version 1"),
                            (("move", "here"), "the values of move do not fit"), (("move", "nan"), "do not fit"),
                            (("move", "0.1"), "not enabled"), (("record", "1e9"), "cannot be recorded")):
            with pytest.raises(DeviceError, match=said):
                machine._ask(*words)
        machine.enable()
        with pytest.raises(DeviceError, match="outside the travel"):
            machine.move(3.0)
        machine.close()
    slow = peer()
    plain = slow.machine.read
    slow.machine.read = lambda: (time.sleep(3 * QUICK), plain())[1]  # type: ignore[method-assign]
    with on_terminal(slow) as address:
        machine = WireMachine(open_port(address, LOOK), 2 * QUICK)
        assert short_session(machine) == pytest.approx([-12e-6], abs=2e-6), "a late answer counts when it is still waited for"
        machine.close()
    for answer, said in (((b"7", b"m"), "version 7 of the protocol, this program 2 and 1"),
                         ((b"1", b"m", b"much"), "no introduction"),
                         ((b"1", b"inch", b"0.5", b"machine", b"X"), "allowed are m or rad")):
        with pytest.raises(DeviceError, match=said):
            WireMachine(Answering(answer), QUICK).hello()


class Answering:
    """A bench that answers everything with the same words."""

    def __init__(self, words: tuple[bytes, ...]) -> None:
        self.words, self.out = words, b""

    def write(self, data: bytes) -> None:
        message = message_in(data.decode().strip())
        if message is not None:
            self.out += Message(message.number, ("done", *(word.decode() for word in self.words))).line()

    def read(self, size: int) -> bytes:
        data, self.out = self.out[:size], self.out[size:]
        return data

    def close(self) -> None: ...


def test_the_checksum_is_the_published_one_and_a_changed_line_is_no_message() -> None:
    assert checksum("123456789") == "29b1", "the check value of this CRC in the literature"
    line = Message(17, ("move", "0.25")).line().decode().strip()
    assert message_in(line) == Message(17, ("move", "0.25"))
    for at in range(len(line)):
        for other in "0x ":
            changed = line[:at] + other + line[at + 1:]
            assert changed == line or message_in(changed) is None
    assert [message_in(one) for one in ("", "29b1", "29b1 123456789", None, "µ")] == [None] * 5


@pytest.mark.parametrize("kind", sorted(kind for kind, plan in PLAN_KINDS.items() if plan.key == "axes" and not plan.pair
                                        and kind != "tuning"))  # of a servo: tests/ring/test_loops.py
def test_every_plan_runs_over_the_wire_as_it_runs_beside_the_machine(kind: str) -> None:
    settings = usual(kind, AXIS, **NEEDED.get(kind, {}), **({"duration": "0.5"} if kind == "acceleration" else {}))
    said: list[tuple[int, int]] = []
    beside = walk(kind, AXIS, settings, peer().machine, lambda done, total: bool(said.append((done, total)) or True))
    assert said[-1] == (len(steps_of(kind, AXIS, settings)),) * 2
    with on_terminal(peer()) as address:
        machine = WireMachine(open_port(address, LOOK), 0.2)
        machine.hello()
        over_wire = walk(kind, AXIS, settings, machine, lambda _done, _total: True)
        machine.close()
    assert over_wire.keys() == beside.keys()
    for name, value in beside.items():
        if isinstance(value, str):
            assert over_wire[name] == value
        else:
            np.testing.assert_allclose(over_wire[name], value, atol=2e-3 if kind in ("acceleration", "effort") else 1e-12)


def test_a_record_whose_lines_are_lost_is_asked_for_again() -> None:
    class Losing(Faulty):
        """Loses every 1009th byte that comes in, for ever, however the bytes come in pieces."""

        def read(self, size: int) -> bytes:
            data = self.port.read(size)
            before = self.passed["in"]
            self.passed["in"] += len(data)
            return bytes(one for place, one in enumerate(data, before + 1) if place % 1009)

    quiet = Truth(seed=2, sensor_noise=0.0)
    with on_terminal(peer(truth=quiet)) as address:
        machine = WireMachine(Losing(open_port(address, LOOK), "", "", 0), QUICK, TRIES)
        machine.enable()
        machine.shake(8.0, 60.0, 0.4)
        times, values = machine.record(0.7)
        machine.close()
    plain = peer(truth=quiet).machine
    plain.enable()
    plain.shake(8.0, 60.0, 0.4)
    same_times, same = plain.record(0.7)
    np.testing.assert_allclose(times, same_times, atol=1e-9)
    np.testing.assert_allclose(values, same, atol=1e-6)


def test_a_packed_record_is_the_plain_one_and_takes_a_fifth_of_the_time() -> None:
    quiet = Truth(seed=2, sensor_noise=0.0)
    found = []
    for versions in ((1,), (2, 1)):
        served = peer(truth=quiet)
        served.versions = versions
        with on_terminal(served) as address:
            machine = WireMachine(open_port(address, LOOK), 0.2)
            said = machine.hello()
            assert (said.version, said.rate, said.directions) == ((2, 1600.0, "xyz") if versions[0] == 2 else (1, 0.0, ""))
            machine.enable()
            machine.shake(8.0, 60.0, 0.4)
            found.append(machine.record(0.7))
            machine._port.rate = 9600
            if versions[0] == 2:
                assert machine.coming(11_520) / 60 == pytest.approx(2.2, abs=0.1)
                machine.disable()
                with pytest.raises(DeviceError, match="not enabled"):
                    machine.move(0.1)
            else:
                with pytest.raises(DeviceError, match="no request of version 1"):
                    machine.disable()
            machine.close()
    (times, values), (packed_times, packed_values) = found
    np.testing.assert_allclose(packed_times, times, atol=1e-9)
    np.testing.assert_allclose(packed_values, values, atol=0.51 * np.abs(values).max() / 32_767)


def test_samples_that_are_not_even_come_plain_and_every_line_fits() -> None:
    uneven = Truth(seed=2, lost_samples=5)
    served = peer(truth=uneven)
    answers = [*served.answers(Message(1, ("hello", "2"))), *served.answers(Message(2, ("record", "0.5")))]
    assert float(answers[-1].words[2]) == 0.0, "no spacing"
    with on_terminal(peer(truth=uneven)) as address:
        machine = WireMachine(open_port(address, LOOK), 0.2)
        machine.hello()
        times, _ = machine.record(0.5)
        assert np.ptp(np.diff(times)) > 1e-4
        machine.close()
    long = practice_peer(peer().machine, "a name that goes on and on " * 9, True)
    for request in (("hello", "2"), ("enable",), ("shake", "8", "60", "0.4"), ("record", "0.7"), ("packed", "0", "500"),
                    ("packed", "1119", "500"), ("packed", "99999", "5")):
        lines = [one.line() for one in long.answers(Message(999_999, request))]
        assert all(len(line) <= 121 for line in lines), max(lines, key=len)
    assert lines == [Message(999_999, ("done", "0")).line()], "beyond the end there are none"


class Recording(Answering):
    """A bench that says of its record what it is told to say, and sends these samples."""

    def __init__(self, count: str, *samples: str) -> None:
        super().__init__(())
        self.count, self.samples = count, samples

    def write(self, data: bytes) -> None:
        message = message_in(data.decode().strip())
        if message is None:
            return
        if message.verb == "samples":
            for sample in self.samples:
                self.out += Message(message.number, ("sample", *sample.split())).line()
        self.out += Message(message.number, ("done", *((self.count,) if message.verb == "record" else ()))).line()


@pytest.mark.parametrize(("count", "samples", "said"), [
    *((count, (), "whole number from 2 to") for count in ("0", "-5", "0.5", "3.7", "1e300")),
    *((count, (), "a number is needed") for count in ("1_0", "infinity", "nan", "0x10")),
    ("2", ("0 0.0 1.0 2.0", "1 0.1 1.0"), "sample 1 of the record has 2 numbers, the first one 3"),
    ("2", ("0 0.0 1.0", "1 0.1 1e300"), "no sensor of a machine sees more"), ("2", ("0 0.0 1.0", "1 0.1 1_0"), "does not come")])
def test_a_record_that_cannot_be_is_a_sentence(count: str, samples: tuple[str, ...], said: str) -> None:
    with pytest.raises(DeviceError, match=said):
        WireMachine(Recording(count, *samples), 0.02).record(0.5)


def test_a_move_is_stopped_on_its_way_and_a_socket_serves_one_after_another() -> None:
    served, ended, told = peer(pace=5.0), threading.Event(), list[str]()
    thread = threading.Thread(target=serve_socket, args=(served, 0, told.append, lambda: not ended.is_set()))
    thread.start()
    try:
        while not told:
            time.sleep(0.005)
        machine = WireMachine(open_port(told[0]))
        machine.enable()
        until = time.monotonic() + 0.5
        machine.go_on = lambda: time.monotonic() < until
        with pytest.raises(Cancelled):
            machine.move(0.4)
        machine.go_on = lambda: True
        assert 0.0 < machine.position() < 0.2, "it stands where it was stopped"
        machine.close()
        again = WireMachine(open_port(told[0]))
        assert again.hello().practice and again.introduction.name == "X"
        again.close()
    finally:
        ended.set()
        thread.join()


def test_what_only_a_hand_can_do_is_left_to_it() -> None:
    class Real(SimulatedAxis):
        practice = False

    machine = Real(axis_sheet("linear", "stepper").solve(travel=0.5), TRUTH)
    machine.enable()
    with pytest.raises(DeviceError, match="take it by hand"):
        carry_out(Step("frequency", "Pluck", 1.0, 0.0, (("hand", "tone", 0.4, 0.01),)), machine)
    assert carry_out(Step("plus[0][0]", "Push", 1.0, 0.0, (("hand", "push", 40.0), ("read",))), machine) == machine.read()
    for what, values in (("push", ()), ("fly", (1.0,)), ("tone", (0.0, 0.0))):
        with pytest.raises(DeviceError, match="nothing a hand can do here"):
            machine.hand(what, *values)


@pytest.fixture
def practice_window(demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Window:
    monkeypatch.setattr(memory, "memory_file", lambda: tmp_path / "memory" / "last.json")
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    window.session.show_axis(1)
    return window


def test_a_round_by_wire_moves_only_at_a_press_and_outlives_the_bench(practice_window: Window, qtbot: Any) -> None:
    window = practice_window
    window.show_stage("Slack")
    window.stage.open_round("reversal")
    view = window.stage.round
    assert view is not None
    view.plan.fields["repeats"].setText("1")
    qtbot.mouseClick(view.plan.start, Qt.MouseButton.LeftButton)
    row = view.machine
    assert row.practise.isVisible() and not row.presses.isVisible()
    qtbot.mouseClick(row.practise, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: row.machine is not None, timeout=20_000)
    assert "made up" in row.caution.text() or "makes its numbers up" in row.caution.text()
    assert row.press.text() == "Power the motor (F9)"
    qtbot.wait(150)
    assert not view.round.taken and row.machine.position() == 0.0, "nothing moves without a press"
    qtbot.keyClick(view.editor, Qt.Key.Key_F9)
    qtbot.waitUntil(lambda: "Move to" in row.press.text())
    first = view.steps[0]
    assert row.press.text() == f"Move to {view.axis.said(first.moves[0])}, then {view.axis.said(first.moves[1])}, and read (F9)"
    qtbot.keyClick(view.editor, Qt.Key.Key_F9)
    qtbot.waitUntil(lambda: len(view.round.taken) == 1, timeout=10_000)
    qtbot.wait(100)
    assert len(view.round.taken) == 1 and view.round.taken[0]["source"] == "practice"
    row._bench.kill()
    qtbot.waitUntil(lambda: row.machine is None, timeout=10_000)
    assert "The round waits" in row.said.text() and len(view.round.taken) == 1
    qtbot.mouseClick(row.practise, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: row.machine is not None, timeout=20_000)
    row.by_itself.setChecked(True)
    qtbot.mouseClick(row.press, Qt.MouseButton.LeftButton)
    deciding = window.session.axis
    while window.stage.round is not None and not view.question.text():
        qtbot.wait(50)
    while window.stage.round is not None:
        if view.question.text():
            qtbot.keyClick(view.editor, Qt.Key.Key_Return)
        qtbot.wait(50)
    reading = window.session.axis.readings[-1]
    assert len(window.session.axis.readings) == len(deciding.readings) + 1 and reading.kind == "reversal" and reading.practice
    assert (reading.sources or {}) == {}


def test_a_bench_that_is_busy_for_ever_can_be_left(practice_window: Window, qtbot: Any) -> None:
    with socket.create_server(("127.0.0.1", 0)) as server:
        server.settimeout(10)
        heard, ended = threading.Event(), threading.Event()

        def busy() -> None:
            visitor, _ = server.accept()
            visitor.settimeout(0.05)
            asked = 0
            while not ended.is_set():
                with suppress(OSError):
                    found = [message_in(line) for line in visitor.recv(4096).decode().splitlines()]
                    asked = max([asked, *(one.number for one in found if one is not None)])
                    heard.set()
                with suppress(OSError):
                    visitor.sendall(Message(asked, ("busy",)).line())
            visitor.close()

        thread = threading.Thread(target=busy)
        thread.start()
        window = practice_window
        window.show_stage("Slack")
        window.stage.open_round("reversal")
        window.stage.round.plan.begin()
        row = window.stage.round.machine
        row.port.setText(f"socket://127.0.0.1:{server.getsockname()[1]}")
        qtbot.mouseClick(row.join, Qt.MouseButton.LeftButton)
        qtbot.waitUntil(lambda: heard.is_set() and row.running and row.join.text() == "Stop connecting")
        qtbot.mouseClick(row.join, Qt.MouseButton.LeftButton)
        qtbot.waitUntil(lambda: not row.running and row.join.text() == "Connect", timeout=10_000)
        ended.set()
        thread.join()


def test_a_practice_bench_cannot_serve_a_real_project(practice_window: Window, qtbot: Any) -> None:
    window = practice_window
    window.session.edit(("practice",), None, "a real machine")
    served, ended, told = peer(), threading.Event(), list[str]()
    thread = threading.Thread(target=serve_socket, args=(served, 0, told.append, lambda: not ended.is_set()))
    thread.start()
    try:
        window.show_stage("Ring")
        window.stage.open_round("acceleration")
        view = window.stage.round
        assert view is not None
        view.plan.start.click()
        assert not view.editor.isVisible() and "shakes from 8 to 110 Hz" in view.instruction.text()
        view.machine.port.setText(told[0])
        view.machine.join.click()
        qtbot.waitUntil(lambda: not view.machine.running)
        assert "File > Practice on this machine" in view.machine.said.text() and view.machine.machine is None
        view.machine.port.setText("socket://nowhere")
        view.machine.join.click()
        qtbot.waitUntil(lambda: "names no socket" in view.machine.said.text())
    finally:
        ended.set()
        thread.join()


@pytest.mark.parametrize("address", [
    "socket://127.0.0.1:²", "/dev/ttyX@4294967296", "/dev/ttyX@-5", f"socket://{'h' * 280}:4000", "/dev/tty" + "x" * 5000, "socket://:1",
    "/dev/tty\0", "socket://127.0.0.1:99999", "@9600", ""])
def test_an_address_that_names_nothing_is_a_short_sentence(address: str) -> None:
    with pytest.raises(DeviceError) as why:
        open_port(address)
    assert len(str(why.value)) < 420 and "Error" not in str(why.value)
