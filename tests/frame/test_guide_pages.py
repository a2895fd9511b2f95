"""The pages of the guide say what there is: every leaf, key and menu word in them is one of the window's."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtGui import QAction, QKeySequence
from tests.driving import leaf_of
from tests.places import ROOT

from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.frame.guide import PAGES, guide_page
from urban_mule.desk.stages.registry import OF, SPECS

LEAD = re.compile(r"^- ((?:\*\*[\w ]+\*\*(?:, )?)+)", re.MULTILINE)  # the words that a line of a page begins with


@pytest.mark.parametrize("stage", STAGES)
def test_every_leaf_of_a_stage_stands_on_its_page_and_none_that_is_not(stage: str) -> None:
    page = guide_page(stage.lower())
    leaves = {word for word, _ in SPECS[stage].leaves}
    bold = set(re.findall(r"\*\*([\w ]+)\*\*", page))
    assert bold >= leaves, f"not told: {leaves - bold}"
    led = {word for line in LEAD.findall(page) for word in re.findall(r"\*\*([\w ]+)\*\*", line)}
    assert led <= leaves, f"no leaf: {led - leaves}"


def test_the_page_of_a_spindle_names_its_stages() -> None:
    page = guide_page("spindle")
    assert {stage for stage in OF["spindles"] if f"**{stage}**" in page} == set(OF["spindles"])


def test_a_page_is_short_enough_to_be_read_and_defers_where_it_can_hurt() -> None:
    for name in PAGES:
        page = guide_page(name)
        assert page.startswith("# ") and len(page.splitlines()) < (110 if name == "measuring" else 32), name
    for name in ("brief", "drive", "moves", "slack", "spindle"):
        assert re.search(r"[Pp]ower|licensed|[Gg]uard", guide_page(name)), name
    with pytest.raises(KeyError):
        guide_page("../style")


def test_the_keys_that_the_guide_names_do_something(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    known = {action.shortcut().toString() for action in window.findChildren(QAction) if not action.shortcut().isEmpty()}
    known |= {"Ctrl+Z", "Ctrl+Shift+Z", "F9"}  # undo and redo as the desktop has them; the press of a machine on a wire
    for name in PAGES:
        for key in re.findall(r"\b(Ctrl\+(?:Shift\+)?\w+|F\d)\b", guide_page(name)):
            assert QKeySequence(key).toString() in known, (name, key)
    window.close()


def test_the_published_pages_have_their_pictures() -> None:
    for name in PAGES:
        published = (ROOT / "docs" / "stages" / f"{name}.md").read_text(encoding="utf-8")
        assert published.startswith(guide_page(name))
        for picture in re.findall(r"\]\((\.\./[^)]+)\)", published):
            assert (ROOT / "docs" / "stages" / picture).resolve().exists(), picture
    pictured = [name for name in PAGES if "![" in (ROOT / "docs" / "stages" / f"{name}.md").read_text(encoding="utf-8")]
    assert {stage.lower() for stage in STAGES} <= set(pictured), "each stage has a page with a picture"
