"""Advice, tried before it is given: each way is applied on paper, and what does not help or spoils something else is not said."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import TYPE_CHECKING

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.verdict import Check, Verdict, Way

if TYPE_CHECKING:
    from urban_mule.core.sheet.solution import Solution

WORSE: dict[str, int] = {"good": 0, "unknown": 1, "tight": 2, "short": 3}
NOTICED = 1e-6  # relative: a number that moves by less has not moved


def advised(solution: Solution, verdict: Verdict) -> Verdict:
    """A verdict with those of its ways that hold as its next step, the others left out."""
    if not verdict.ways:
        return verdict
    groups = [way if isinstance(way, tuple) else (way,) for way in verdict.ways]
    first = [next((way.words for way in group if holds(solution, verdict, way)), "") for group in groups]
    held = [words for words in first if words]
    said = f"{', or '.join(held)}." if held else verdict.otherwise
    return replace(verdict, next=" ".join(part for part in (f"{said[:1].upper()}{said[1:]}", verdict.next) if part), ways=())


def holds(solution: Solution, verdict: Verdict, way: Way) -> bool:
    """Whether a way, done, lifts the number that it is for, and no other verdict becomes short or, being tight, gets less room."""
    try:
        after = solution.changed(**way.changes)
    except BadValue:
        return False
    stale = solution.differing(after)
    with after.quiet(), solution.quiet():
        rules = {rule.name: rule for rule in solution.sheet.checks}
        own = rules.pop(verdict.check).judge(after)
        if own is None or (own.level == "unknown" and own.measure is None) or not (
                own.level == "good" if way.cures else lifts(verdict, own)):
            return False
        return not spoils_any(rules.values(), solution, after, stale)


def lifts(before: Verdict, after: Verdict) -> bool:
    """Whether what a verdict is about has become better."""
    if after.level != before.level:
        return WORSE[after.level] < WORSE[before.level]
    return _gain(before, after) > 0


def spoils_any(rules: Iterable[Check], before: Solution, after: Solution, stale: frozenset[str]) -> bool:
    """Whether a change spoils what one of these rules says. stale: names whose value may have changed."""
    asking = ((rule, now) for rule in rules if rule.may_change(stale)
              and (now := rule.judge(after)) is not None and now.level in ("tight", "short"))
    return any(_spoils(rule.judge(before), now) for rule, now in asking)


def _spoils(before: Verdict | None, after: Verdict) -> bool:
    """Whether a change makes a verdict short, or takes room from one that has little. after: one that asks for something."""
    if before is None or before.level in ("good", "unknown"):
        return after.level == "short"
    return WORSE[after.level] > WORSE[before.level] or _gain(before, after) < 0


def _gain(before: Verdict, after: Verdict) -> int:
    """1 where the number of a verdict has become better, -1 where worse, 0 where it is the same."""
    one, other = ((before.measure, after.measure) if before.measure is not None and after.measure is not None else
                  (before.headroom or 0.0, after.headroom or 0.0))
    if abs(other - one) <= NOTICED * max(abs(one), abs(other)):
        return 0
    return 1 if other > one else -1
