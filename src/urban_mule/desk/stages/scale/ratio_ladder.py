"""The ratios that wrong settings of this axis would make, as rungs of a ladder, with the measured one between them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from urban_mule.core.scale.detective import NEAR, Suspect
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.painting import RIGHT, say
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope

MOST_RUNGS, LEAST_HIGH = 9, 24.0  # px between rungs
RAIL, WIDE = 210.0, 150.0  # px from the left edge to the ladder, and how wide it is
AS_ENTERED = "all as entered"


@record(frozen=True)
class Rung:
    """A ratio, and in words what makes it, the likeliest first."""

    ratio: float
    words: tuple[str, ...]


def rungs_of(mistakes: Sequence[Suspect], near: float, most: int = MOST_RUNGS) -> tuple[Rung, ...]:
    """The ratios nearest to a measured one, the greatest first, with the one of an axis on which all is as entered.

    Ratios that no measurement of such an axis would tell apart share a rung.
    """
    found: list[tuple[float, list[Suspect]]] = [(1.0, [])]
    for one in sorted(mistakes, key=lambda one: -one.odds):
        if one.ratio <= 0:
            continue
        rung = next((held for ratio, held in found if abs(one.ratio / ratio - 1) <= NEAR), None)
        if rung is None:
            found.append((one.ratio, [one]))
        else:
            rung.append(one)
    kept = sorted(found, key=lambda one: (one[0] != 1.0, abs(math.log(one[0] / near))))[:most]
    return tuple(Rung(ratio, tuple(dict.fromkeys(f"{one.setting} {one.really}" for one in held)) or (AS_ENTERED,))
                 for ratio, held in sorted(kept, key=lambda one: -one[0]))


def height_of(ratio: float, rungs: Sequence[Rung]) -> float:
    """Where a ratio stands on the ladder, in rungs from the top: between two by its logarithm, half a rung beyond the ends."""
    if ratio >= rungs[0].ratio:
        return 0.0 if ratio <= rungs[0].ratio * (1 + NEAR) else -0.5
    for n, (upper, lower) in enumerate(pairwise(rungs)):
        if ratio >= lower.ratio:
            return n + math.log(upper.ratio / ratio) / math.log(upper.ratio / lower.ratio)
    last = len(rungs) - 1.0
    return last if ratio >= rungs[-1].ratio * (1 - NEAR) else last + 0.5


class RatioLadder(Painted):
    """Rungs of ratios; the measured one points between them, or at the one that it is."""

    needs = frozenset({"scale_mistakes", "scale_ratio", "scale_suspects"})

    def __init__(self, session: Scope) -> None:
        super().__init__(session)
        self.setMinimumHeight(120)

    def paint(self, painter: QPainter, area: QRectF) -> None:
        solution = self.state.solution
        measured = solution.get("scale_ratio")
        mistakes: tuple[Suspect, ...] = solution.get("scale_mistakes", ())
        there = measured if measured is not None and measured > 0 else 1.0
        rungs = rungs_of(mistakes, there, max(3, min(MOST_RUNGS, int((area.height() - 20) / LEAST_HIGH))))
        told = "; ".join(f"{size(one.ratio, 4)}: {' or '.join(one.words)}" for one in rungs)
        said = "nothing is measured yet" if measured is None else f"measured {size(measured, 5)}"
        self.setAccessibleName(f"Ratios that wrong settings would make, {said}. {told}")
        high = (area.height() - 24) / len(rungs)
        left, right = area.left() + RAIL, area.left() + RAIL + WIDE
        painter.setPen(theme.pen("muted", 2.4))
        for x in (left, right):
            painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))

        def y(place: float) -> float:
            return float(area.top() + 12 + high * (place + 0.5))

        for n, rung in enumerate(rungs):
            hit = measured is not None and abs(measured / rung.ratio - 1) <= NEAR
            color = "good" if rung.ratio == 1.0 else "accent" if hit else "muted"
            painter.setPen(theme.pen(color, 4.0 if hit or rung.ratio == 1.0 else 2.0))
            painter.drawLine(QPointF(left, y(n)), QPointF(right, y(n)))
            words = rung.words[0] + (f", or {rung.words[1]}" if len(rung.words) > 1 else "")
            more = f", or {len(rung.words) - 2} more" if len(rung.words) > 2 else ""
            say(painter, QRectF(right + 14, y(n) - 10, 70, 20), f"× {size(rung.ratio, 4)}", color if hit else "ink", 13, bold=True)
            say(painter, QRectF(right + 90, y(n) - 10, area.right() - right - 90, 20), words + more,
                color if hit else "ink" if rung.ratio == 1.0 else "muted", 14 if hit else 13, bold=hit)
        if measured is not None and measured > 0:
            self._pointer(painter, area, y(height_of(float(measured), rungs)), float(measured))

    @staticmethod
    def _pointer(painter: QPainter, area: QRectF, y: float, measured: float) -> None:
        """The measured ratio, pointing at its height from the left."""
        tip = area.left() + RAIL - 4
        painter.setPen(theme.pen("accent", 1.6))
        painter.setBrush(theme.color("accent"))
        painter.drawPolygon(QPolygonF([QPointF(tip, y), QPointF(tip - 14, y - 7), QPointF(tip - 14, y + 7)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(theme.pen("accent", 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(tip, y), QPointF(tip + WIDE + 8, y))
        text = f"{measured:.6f}" if abs(measured - 1) < 0.01 else size(measured, 5)
        say(painter, QRectF(area.left(), y - 22, RAIL - 24, 22), text, "accent", 19, bold=True, align=RIGHT)
        say(painter, QRectF(area.left(), y + 1, RAIL - 24, 16), "of what was commanded", "accent", align=RIGHT)
