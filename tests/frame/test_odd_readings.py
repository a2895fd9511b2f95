"""Readings as they seldom come: turned round, cut short, all alike, nothing but zeros, one number struck out. Every leaf of their
stage shows them, or says in words why not; that nothing was logged which nobody foresaw is looked at after every test.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.subjects import KINDS
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.walk import settle
from urban_mule.store.document.pairs import PAIR_MODELS
from urban_mule.store.document.plain import plain
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.file.project_file import ProjectFile


def columns_of(kind: str, data: dict[str, Any]) -> list[str]:
    """The columns of a reading that hold several numbers, rows or a list."""
    return [one.name for one in reading_kinds()[kind].columns if one.shape in ("list", "rows") and data.get(one.name) is not None]


def turned_round(kind: str, data: dict[str, Any]) -> dict[str, Any]:
    """Everything from its end to its beginning; of rows each row."""
    shapes = {one.name: one.shape for one in reading_kinds()[kind].columns}
    return {name: [row[::-1] for row in data[name]] if shapes[name] == "rows" and not isinstance(data[name][0], (int, float))
            else data[name][::-1] for name in columns_of(kind, data)}


def cut_to(count: int) -> Callable[[str, dict[str, Any]], dict[str, Any]]:
    def cut(kind: str, data: dict[str, Any]) -> dict[str, Any]:
        """So many places: of a table that stands beside a list so many columns, else so many rows."""
        names = columns_of(kind, data)
        listed = any(isinstance(data[name][0], (int, float)) for name in names)
        return {name: [row[:count] for row in data[name]] if listed and isinstance(data[name][0], list) else data[name][:count]
                for name in names}

    return cut


def filled_with(value: float | None) -> Callable[[str, dict[str, Any]], dict[str, Any]]:
    """Every number of the last column the same: its first, or this one."""
    def fill(kind: str, data: dict[str, Any]) -> dict[str, Any]:
        name = columns_of(kind, data)[-1]
        numbers = np.array(data[name], dtype=float)
        return {name: np.full_like(numbers, numbers.ravel()[0] if value is None else value).tolist()}

    return fill


def struck(kind: str, data: dict[str, Any]) -> dict[str, Any]:
    """One number struck out of the first table, or of the last list."""
    names = columns_of(kind, data)
    rows = [name for name in names if np.ndim(np.array(data[name], dtype=float)) > 1]
    place = f"{rows[0]}[0][1]" if rows else f"{names[-1]}[1]"
    return {"struck": {place: "the stand was touched"}}


WAYS = {"turned round": turned_round, "one": cut_to(1), "two": cut_to(2), "three": cut_to(3), "all alike": filled_with(None),
        "zeros": filled_with(0.0), "large": filled_with(1e6), "struck": struck}


def odd_ones(reading: Any, ways: tuple[str, ...] = tuple(WAYS)) -> dict[str, Any]:
    """A reading in each of these ways that is taken."""
    found, data = {}, {key: value for key, value in plain(reading).items() if key != "id"}
    for way, change in ((way, WAYS[way]) for way in ways):
        try:
            found[way] = READING_MODELS[reading.kind].model_validate({**data, "sources": None, **change(reading.kind, data)})
        except (ValueError, TypeError, IndexError):
            continue  # refused where it is typed or read
    return found


@pytest.mark.every_axis
@pytest.mark.parametrize(("place", "ways"), [(0, ("struck",)), *(
    pytest.param(place, tuple(WAYS), marks=pytest.mark.long) for place in range(5))])
def test_readings_that_seldom_come_so_are_shown_or_said(demo_copy: Path, qtbot: Any, place: int, ways: tuple[str, ...]) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    session = window.session
    session.show_axis(place)
    settle(session)
    kept, shown = session.axis.readings, 0
    for kind in sorted({one.kind for one in kept}):
        stage = reading_kinds()[kind].stage
        window.show_stage(stage)
        last = session.axis.last_reading(kind)
        for way, odd in odd_ones(last, ways).items():
            session.edit(session.axis_path("readings"), tuple(odd if one is last else one for one in kept), f"{kind} {way}")
            if kind == "acceleration":  # analysed in a worker
                settle(session)
            for word in window.stage.leaves.all_words:
                window.stage.leaves.turn(word)
                window.stage.leaves.picture.bring_up_to_date()
                assert window.stage.headline.text().strip() and not window.stage.grab().isNull(), (kind, way, word)
            shown += 1
        session.edit(session.axis_path("readings"), kept, "as it was")
    assert shown > len({one.kind for one in kept}) // 2, "most of them are taken"
    window.close()


def odd_pairs() -> dict[str, dict[str, Any]]:
    """Readings of two axes as they seldom come: a quarter of a circle, one way, far off, squares of two places."""
    turn = np.radians(np.arange(0.0, 360.0, 5.0))
    whole = {"angle": turn.tolist(), "deviation": (1e-5 * np.cos(2 * turn)).tolist()}
    quarter = {"angle": turn[:19].tolist(), "deviation": (1e-5 * np.sin(turn[:19])).tolist()}
    still = {"angle": turn.tolist(), "deviation": [0.0] * turn.size}
    far = {"angle": turn[::-1].tolist(), "deviation": [0.02] * turn.size}
    said: dict[str, dict[str, Any]] = {
        "one way": {"kind": "circle", "radius": 0.1, "clockwise": whole},
        "the other way": {"kind": "circle", "counterclockwise": whole},
        "a quarter": {"kind": "circle", "radius": 0.1, "clockwise": quarter, "counterclockwise": quarter},
        "nothing off": {"kind": "circle", "radius": 0.1, "clockwise": still, "counterclockwise": still},
        "far off": {"kind": "circle", "radius": 0.1, "clockwise": far, "counterclockwise": still},
        "a perfect square": {"kind": "diagonals", "side_x": 0.3, "side_y": 0.4, "diagonal_plus": 0.5, "diagonal_minus": 0.5},
        "no parallelogram": {"kind": "diagonals", "side_x": 0.3, "side_y": 0.4, "diagonal_plus": 0.9, "diagonal_minus": 0.1},
        "a flat square": {"kind": "square", "places": [0.0, 0.1], "deviation": [0.0, 0.0]},
        "a straight edge": {"kind": "straightness", "places": [0.0, 0.1, 0.2], "deviation": [0.0, 1e-6, 0.0]},
        "a piece": {"kind": "piece", "x": {"nominal": [0.1], "measured": [0.1]}, "y": {"nominal": [0.1], "measured": [0.2]}}}
    found = {}
    for name, data in said.items():
        try:
            found[name] = PAIR_MODELS[data["kind"]].model_validate({
                **data, "axes": ("X", "Y"), "taken": "2026-11-02T10:00:00+00:00", "source": "typed"})
        except ValueError as why:
            assert str(why).strip(), "what is refused says why"
    return found


@pytest.mark.every_axis
def test_odd_readings_of_two_axes_are_shown_or_said(demo_copy: Path, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    session = window.session
    window.show_stage("Proof")
    window.stage.leaves.turn("circle")
    picture, shown = window.stage.leaves.picture, 0
    for name, odd in odd_pairs().items():
        for system in ("metric", "inch"):
            session.edit_all([(("readings",), (odd,)), (("unit_system",), system)], name)
            picture.bring_up_to_date()
            assert window.stage.headline.text().strip() and not window.stage.grab().isNull(), (name, system)
            shown += 1
    assert shown >= 14
    perfect = odd_pairs()["a perfect square"]
    session.edit_all([(("readings",), (perfect,)), (("unit_system",), "metric")], "a square")
    assert session.together["squareness_by_diagonals"] == pytest.approx(0.0, abs=1e-12)
    session.edit(("readings",), None, "none")
    picture.bring_up_to_date()
    assert not window.stage.grab().isNull()
    window.close()


def test_odd_tables_of_speeds_are_shown_or_said(demo_copy: Path, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    session, taken = window.session, 0
    window.show_other(0)
    for command, speed in (
            ([0.0, 10.0], [0.0, 900.0]), ([10.0, 5.0, 0.0], [900.0, 450.0, 0.0]), ([0.0, 5.0, 10.0], [0.0, 0.0, 0.0]),
            ([1.0, 2.0, 3.0], [300.0, 200.0, 100.0]), ([0.0, 1.0, 2.0], [0.0, 1e5, 10.0]), ([5.0, 5.000001], [300.0, 301.0])):
        try:
            session.edit(("spindles", 0, "speed_table"), {"command": command, "speed": speed}, "odd")
        except ValueError as why:
            assert str(why).strip()
            continue
        taken += 1
        for stage in KINDS["spindle"].stages:
            window.show_stage(stage)
            for word in window.stage.leaves.all_words:
                window.stage.leaves.turn(word)
                window.stage.leaves.picture.bring_up_to_date()
                assert window.stage.headline.text().strip() and not window.stage.grab().isNull(), (stage, word, command, speed)
    assert taken > 1
    window.close()
