"""The campaign in short, seeded; `make campaign` is the long one."""

from __future__ import annotations

from pathlib import Path

from tests.campaign.hostile import hostile_projects, hostile_texts
from tests.campaign.kills import kills
from tests.campaign.user import random_user


def test_kills_lose_nothing(tmp_path: Path) -> None:
    assert "nothing lost" in kills(tmp_path, 8, 7)


def test_hostile_projects_are_opened_or_named_and_left_alone(tmp_path: Path) -> None:
    assert hostile_projects(tmp_path, 40, 7).startswith("40 files")


def test_hostile_texts_are_taken_or_named(tmp_path: Path) -> None:
    assert hostile_texts(tmp_path, 120, 7).startswith("120 texts")


def test_a_random_user_meets_no_fault(qapp: object, tmp_path: Path) -> None:
    assert "actions" in random_user(tmp_path, 4, 7, longest=30.0)
