"""The stages in working order: the ten names that rooms, checks, specs and keys share."""

from __future__ import annotations

from typing import Literal, get_args

StageName = Literal["Brief", "Load", "Motor", "Drive", "Scale", "Moves", "Slack", "Ring", "Proof", "Log"]
STAGES: tuple[StageName, ...] = get_args(StageName)
