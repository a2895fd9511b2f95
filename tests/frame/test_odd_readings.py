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
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.walk import settle
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


@pytest.mark.parametrize(("place", "ways"), [(0, ("struck", "all alike")), *(
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
    assert shown >= len({one.kind for one in kept}), "most of them are taken"
    window.close()
