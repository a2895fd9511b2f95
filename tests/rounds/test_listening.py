"""An indicator on a wire: bytes cut anywhere, spoilt anywhere, unplugged anywhere; a round that takes its numbers through them."""

from __future__ import annotations

import os
import socket
import tty
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.wire.lines import LONGEST, Lines, number_in
from urban_mule.bench.wire.listener import Heard, listen
from urban_mule.bench.wire.ports import open_port
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model import memory
from urban_mule.desk.model.session import Session
from urban_mule.desk.shared.round_view import RoundView
from urban_mule.store.file.project_file import ProjectFile

SENT = b"+0012.5\r\n-3,25 mm\r\nA: 7\n.5\r\n"
NUMBERS = ["+0012.5", "-3,25 mm", "7", ".5"]


def heard(*pieces: bytes) -> list[str]:
    lines = Lines()
    return [number for piece in pieces for line in lines.feed(piece)
            if line is not None and (number := number_in(line)) is not None]


def test_lines_are_the_same_however_the_bytes_are_cut_and_whatever_comes_between() -> None:
    assert heard(SENT) == NUMBERS
    for first in range(len(SENT) + 1):
        for second in range(first, len(SENT) + 1):
            assert heard(SENT[:first], SENT[first:second], SENT[second:]) == NUMBERS
    for at in range(len(SENT) + 1):
        for noise in (b"\x00", b"\xff\xfe", b"?" * (LONGEST + 5), b"\r\n\r\n", b"ERR 4\r\n"):
            found = heard(SENT[:at] + noise + SENT[at:])
            assert sum(one in NUMBERS for one in found) >= len(NUMBERS) - 1, (at, noise, found)
            if b"\r\n" not in noise:
                assert set(found) <= set(NUMBERS), f"a spoilt line is no other number: {found}"
    assert [number_in(line) for line in ("12 13", "1.2.3", "", "mm", "--4", "x1y2", "12e")] == [*[None] * 6, "12 e"]


def test_a_late_tail_is_no_number_of_its_own() -> None:
    lines = Lines()
    assert lines.feed(b"12.3") == [] and lines.half
    lines.drop()
    assert not lines.half and lines.feed(b"45\r\n7\r\n") == [None, "7"]


def test_a_socket_that_closes_and_a_port_that_is_none_are_sentences() -> None:
    with socket.create_server(("127.0.0.1", 0)) as server:
        port = open_port(f"socket://127.0.0.1:{server.getsockname()[1]}")
        peer, _ = server.accept()
        peer.sendall(SENT + b"junk\r\n1")
        peer.close()
        found: list[str] = []
        with pytest.raises(DeviceError, match="the device is gone"):
            listen(port, found.append, found.append, lambda: True)
        assert found == [*NUMBERS, "“junk”"], "the half line at the end is no number"
    for address, said in (("", "no port is named"), ("/dev/nowhere", "cannot be opened"), ("/dev/x@fast", "no rate")):
        with pytest.raises(DeviceError, match=said):
            open_port(address)


@pytest.fixture
def view(demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> RoundView:
    monkeypatch.setattr(memory, "memory_file", lambda: tmp_path / "memory" / "last.json")
    monkeypatch.setattr("urban_mule.desk.shared.listening.BY_ITSELF", 0.0)
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    window.session.show_axis(1)
    window.show_stage("Slack")
    window.stage.open_round("reversal")
    found = window.stage.round
    assert found is not None
    found.plan.begin()
    found.window_kept = window  # type: ignore[attr-defined]
    return found


def plugged(view: RoundView, qtbot: Any) -> tuple[int, int]:
    """A pseudo-terminal on which the round listens: this end and the other."""
    here, there = os.openpty()
    tty.setraw(there)
    view.listening.port.setText(os.ttyname(there))
    view.listening.button.click()
    qtbot.waitUntil(lambda: "Listening" in view.listening.said.text())
    qtbot.wait(150)
    return here, there


def test_a_round_takes_numbers_from_a_wire_and_outlives_its_unplugging(view: RoundView, qtbot: Any) -> None:
    assert view.round is not None
    here, there = plugged(view, qtbot)
    for count, text in enumerate((b"-12.5\r\n", b"-11\r\n", b"-12\r\n"), start=1):
        for byte in text:
            os.write(here, bytes([byte]))
        qtbot.waitUntil(lambda count=count: len(view.round.taken) == count)
    assert [one["source"] for one in view.round.taken] == ["device"] * 3
    os.write(here, b"LOW BAT\r\n")
    qtbot.waitUntil(lambda: "“LOW BAT”, which is no number" in view.listening.said.text())
    qtbot.keyClicks(view.editor, "-1")
    os.write(here, b"-13\r\n")
    qtbot.waitUntil(lambda: "while -1 stands in the box" in view.question.text())
    assert len(view.round.taken) == 3
    view.editor.clear()
    os.write(here, b"-12")
    os.close(here)
    os.close(there)
    qtbot.waitUntil(lambda: "The device is gone" in view.listening.said.text(), timeout=5000)
    assert "The round waits" in view.listening.said.text() and len(view.round.taken) == 3
    qtbot.keyClicks(view.editor, "-12.25")
    qtbot.keyClick(view.editor, Qt.Key.Key_Return)
    here, there = plugged(view, qtbot)
    os.write(here, b"-12.75\r\n")
    qtbot.waitUntil(lambda: len(view.round.taken) == 5)
    assert [one["source"] for one in view.round.taken] == ["device", "device", "device", "typed", "device"]
    view.hide()
    qtbot.waitUntil(lambda: view.listening.button.text() == "Listen")
    os.close(here)
    os.close(there)
    view.round.taken[:] = [{**view.round.taken[n % 4], "place": step.place} for n, step in enumerate(view.steps)]
    view.finish()
    reading = view.session.axis.readings[-1]
    assert reading.source == "device" and set((reading.sources or {}).values()) == {"typed"}
    assert len(reading.sources) == len(view.steps) // 4


def test_an_indicator_that_sends_by_itself_waits_for_enter(view: RoundView, qtbot: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("urban_mule.desk.shared.listening.BY_ITSELF", 100.0)
    assert view.round is not None
    here, there = plugged(view, qtbot)
    os.write(here, b"-12.0\r\n")
    qtbot.waitUntil(lambda: len(view.round.taken) == 1)
    for _ in range(5):
        os.write(here, b"-12.1\r\n")
    qtbot.waitUntil(lambda: view.editor.text() == "-12.1")
    qtbot.wait(100)
    assert len(view.round.taken) == 1 and "sends by itself" in view.listening.said.text()
    qtbot.keyClick(view.editor, Qt.Key.Key_Return)
    assert len(view.round.taken) == 2 and view.round.taken[-1]["source"] == "device"
    view.listening.button.click()
    os.close(here)
    os.close(there)


def test_of_one_who_sends_faster_than_anybody_looks_only_the_newest_is_kept(view: RoundView, qtbot: Any) -> None:
    """Before, every line was a signal of its own: the window stood still while it sent, and what was waiting grew."""
    fast = Heard(0.6)
    for n in range(100_000):
        fast.number(f"{n}")
    assert fast.taken() == (["99999"], None)
    here, there = plugged(view, qtbot)
    view.listening._heard.by_itself, shown = 100.0, list[str]()
    view.listening.shown.connect(shown.append)
    for n in range(4000):
        os.write(here, f"-{n}.5\r\n".encode())
    qtbot.waitUntil(lambda: view.editor.text() == "-3999.5")
    assert len(shown) < 400, "it was looked at, not handed over line by line"
    view.listening.button.click()
    os.close(here)
    os.close(there)


def test_two_keys_pressed_while_the_window_is_busy_are_two_numbers() -> None:
    between = Heard(0.0)
    between.number("1")
    between.number("2")
    between.spoilt("“LOW BAT”")
    assert between.taken() == (["1", "2"], "“LOW BAT”")
    assert between.taken() == ([], None)
