"""The stall search ends soon whatever the machine, and says what cannot be."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from tests.driving import leaf_of

from urban_mule.core.moves.stall import StallTrial, stall_stand
from urban_mule.core.sheet.given import BadValue


def searched(lowest: int, highest: int, sense: str, crash_below: float, early_above: float) -> tuple[Any, int]:
    """A machine that crashes below a sensitivity and stops early above another."""
    trials: list[StallTrial] = []
    while (stand := stall_stand(lowest, highest, sense, trials)).next is not None:
        sensitivity = stand.next if sense == "more" else -stand.next
        answer = "crashed" if sensitivity < crash_below else "early" if sensitivity > early_above else "good"
        trials.append(StallTrial(stand.next, answer))
        assert len(trials) < 100
    return stand, len(trials)


def test_it_ends_within_the_halvings_and_four_more_in_every_case() -> None:
    random = np.random.default_rng(2)
    for _ in range(3000):
        lowest = int(random.integers(-200, 200))
        wide = int(random.integers(1, 1200))
        sense = ("more", "less")[int(random.integers(2))]
        ends = sorted((lowest, lowest + wide)) if sense == "more" else sorted((-lowest, -lowest - wide))
        crash = float(random.uniform(ends[0] - 5, ends[1] + 5))
        early = crash + float(random.uniform(-0.4, 0.5 * wide))
        stand, count = searched(lowest, lowest + wide, sense, crash, early)
        assert count <= math.log2(wide + 1) + 4
        there = [n for n in range(ends[0], ends[1] + 1) if crash <= n <= early]
        if stand.found is None:
            assert not there and "nothing good" in stand.sentence, (there, stand)
        else:
            sensitivity = stand.found if sense == "more" else -stand.found
            assert sensitivity in there
            assert stand.room_to_crash is None or sensitivity - stand.room_to_crash < crash
            assert stand.room_to_early is None or sensitivity + stand.room_to_early > early


@pytest.mark.parametrize(("given", "said"), [
    ((5, 5, "more", []), "is none"), ((0, 10, "", []), "more or less sensitive"),
    ((0, 10, "more", [StallTrial(11, "good")]), "no trial"),
    ((0, 10, "more", [StallTrial(1, "fine")]), "no trial"), ((0, 10**6, "more", []), "is none")])
def test_what_is_no_search_is_a_sentence(given: Any, said: str) -> None:
    with pytest.raises(BadValue, match=said):
        stall_stand(*given)


def test_answers_that_contradict_are_told_and_a_good_one_that_fails_goes_on() -> None:
    contradicting = stall_stand(0, 255, "less", [StallTrial(100, "early"), StallTrial(60, "crashed")])
    assert contradicting.next is None and "contradict each other" in contradicting.sentence
    trials = [StallTrial(127, "good"), StallTrial(127, "good"), StallTrial(127, "crashed")]
    assert stall_stand(0, 255, "more", trials).next == 191, "once it crashed it is no good one, and more sensitive ones are tried"


def test_the_search_in_the_window_is_led_kept_and_stale_when_conditions_change(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Moves", "stall")
    assert "range" in leaf.says()[0] and not leaf.keys["good"].isEnabled()
    for name, value in (("stall_lowest", 0), ("stall_highest", 100), ("stall_greater_is", "more")):
        window.session.edit(window.session.axis_path(name), value)
    leaf.bring_up_to_date()
    assert leaf.says()[0].startswith("Try 50") and "hand on the stop" in leaf.caution.text()
    for answer in ("crashed", "early", "good", "good", "good"):
        qtbot.mouseClick(leaf.keys[answer], Qt.MouseButton.LeftButton)
        leaf.bring_up_to_date()
    assert window.session.axis.stall_threshold == 62 and "62 stopped well 3 times" in leaf.says()[0]
    assert [one.answer for one in window.session.axis.stall_trials] == ["crashed", "early", "good", "good", "good"]
    window.session.edit(("axes", 0, "switch_overtravel"), 0.004)
    rows = {row.name: row for row in window.tag.rows}
    assert rows["stall_threshold"].lines[0][0] == "62" and rows["homing_speed"].on_machine == "not set yet"
    window.session.edit(("axes", 0, "driver", "microsteps"), 32)
    leaf.bring_up_to_date()
    assert "does not hold any more: microsteps was 16, is 32" in leaf.says()[0]
    qtbot.mouseClick(leaf.keys["one back"], Qt.MouseButton.LeftButton)
    leaf.bring_up_to_date()
    assert len(window.session.axis.stall_trials) == 4 and leaf.says()[0].startswith("Try 62 again")
    qtbot.mouseClick(leaf.keys["begin anew"], Qt.MouseButton.LeftButton)
    leaf.bring_up_to_date()
    assert not window.session.axis.stall_trials and leaf.says()[0].startswith("Try 50")
    window.close()
