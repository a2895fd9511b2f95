"""The picture comes first: measured on every leaf of the demo, in the usual window, the smallest, and at half as large again."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.driving import leaf_of
from tests.layout import (
    LaidOut,
    Seen,
    cut_widgets,
    drawn_over,
    empty_share,
    hidden_letters,
    hidden_results,
    nameless,
    said_in,
    share_of_picture,
    silent,
)
from tests.plain import hard_to_read

from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.kit import painting
from urban_mule.desk.kit.label_places import label_moves
from urban_mule.desk.stages.beside import MOST_ROWS, allot
from urban_mule.desk.stages.registry import OF
from urban_mule.desk.walk import settle

pytestmark = pytest.mark.every_axis

SIZES = {"usual": ((1280, 800), 0.55), "smallest": ((1024, 720), 0.5), "150 %": ((853, 533), 0.4)}
NOTHING_YET = {  # leaves of which the demo has nothing to show so far, and which may be empty
    "trust", "changes", "causes", "push", "drift", "lengths", "compare", "directions", "stall", "trend", "upkeep", "square"}
OF_THE_AXIS = ("Load", "Motor", "Moves")  # stages that another kind of axis fills otherwise; the others are alike
SPINDLE = 5  # stands after the five axes
EMPTY = 0.25  # of the window


@pytest.mark.parametrize(("name", "axes"), [
    ("usual", (0,)), *(pytest.param(name, axes, marks=pytest.mark.long) for name, axes in (
        ("usual", (2, SPINDLE)), ("smallest", (2,)), ("150 %", (3,))))])
def test_every_leaf_is_a_picture_first(demo_copy: Path, qtbot: Any, monkeypatch: Any, name: str, axes: tuple[int, ...]) -> None:
    """Its share of room, no result below an edge, no word on another or on a line, none cut or of ours, little empty; at rest;
    whoever only hears it knows what it shows, and whatever takes keys says what it is.
    """
    (wide, high), least = SIZES[name]
    monkeypatch.setattr(painting, "QPainter", Seen)
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    window.setMinimumSize(1, 1)
    window.resize(wide, high)
    settle(window.session)
    found: dict[str, list[str]] = {}
    seen, read, laid_out = 0, set[str](), LaidOut(window)
    for index in axes:
        window.show_other(0) if index == SPINDLE else window.show_axis(index)
        settle(window.session)
        for stage in STAGES:
            window.show_stage(stage)
            window.stage.finish()
            for word in window.stage.leaves.all_words:
                if index not in (axes[0], SPINDLE) and stage not in OF_THE_AXIS:
                    continue
                window.stage.leaves.turn(word)
                window.stage.finish()
                settle(window.session)
                window.stage.leaves.picture.bring_up_to_date()
                settle(window.session)
                image = window.grab().toImage()
                assert (window.width(), window.height()) == (wide, high)
                share, empty = share_of_picture(window.stage), empty_share(image)
                faults = [*drawn_over(window.stage), *cut_widgets(window.stage), *hidden_letters(window.stage), *nameless(window),
                          *(f"{row} is below the edge" for row in hidden_results(window.stage))]
                unread = {*said_in(window)} - read
                read |= unread
                faults += [fault for said in unread for fault in hard_to_read(said)]
                faults += [f"the picture has {share:.2f}"] if share < least else []
                faults += [f"{empty:.2f} of it is empty"] if empty > EMPTY and word not in NOTHING_YET else []
                faults += ["nothing is heard of its picture"] if silent(window.stage.leaves.picture) else []
                faults += ["it lays itself out without an end"] if laid_out.in_vain() else []
                if faults:
                    found[f"{index} {stage} {word}"] = faults
                seen += 1
    window.close()
    assert not found, "\n".join(f"{where}: {'; '.join(faults)}" for where, faults in found.items())
    assert seen > 45


def test_each_check_is_the_headline_of_a_leaf_of_its_stage() -> None:
    """What is judged beside a leaf leads somewhere: no check stands beneath the headline that no leaf says whole."""
    for specs in OF.values():
        for spec in specs.values():
            words = [word for word, _ in spec.leaves]
            assert {*spec.judged, *spec.behind, *spec.nothing} <= set(words), spec.name
            claimed = [check for checks in spec.judged.values() for check in checks]
            assert len(claimed) == len(set(claimed)) and spec.leaf_of("no such check") == words[0]


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.floats(0, 400), st.floats(0, 260), st.floats(20, 120), st.just(16.0)), min_size=1, max_size=9),
       st.lists(st.tuples(st.floats(0, 600), st.floats(0, 300)), min_size=2, max_size=6))
def test_labels_of_a_chart_keep_clear_of_each_other(labels: list[tuple[float, float, float, float]], line: list[Any]) -> None:
    moves = label_moves(labels, [np.array(line)], 600.0, 300.0)
    boxes = [(x + right, y + down, wide, high) for (x, y, wide, high), (right, down) in zip(labels, moves, strict=True)]
    for n, (x, y, wide, high) in enumerate(boxes):
        assert -0.01 <= x <= 600 - wide + 0.01 and -0.01 <= y <= 300 - high + 0.01, "it stays in the chart"
        for left, top, broad, tall in boxes[n + 1:]:
            assert x + wide <= left + 4 or left + broad <= x + 4 or y + high <= top + 4 or top + tall <= y + 4
    x, y, wide, high = labels[0]
    assert label_moves(labels[:1], [], 600.0, 300.0) == [(min(0.0, 600 - x - wide), min(0.0, 300 - y - high))], "not for nothing"


@given(st.integers(300, 1400), st.integers(0, 14), st.integers(0, 12), st.integers(1, 6))
def test_fields_and_results_share_the_width(width: int, fields: int, results: int, fit: int) -> None:
    beside, tiles, high = allot(width, fields, results, fit)
    assert (beside > 0) == (fields > 0) and (tiles > 0) == (results > 0 or not fields)
    assert not results or 1 <= high <= max(fit, 1)
    if fields and results and width > 800 and fit >= MOST_ROWS:
        assert tiles * high >= min(results, 3), "some results are seen beside however many fields"
