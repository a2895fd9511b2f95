"""What was checked on a stage: a row a verdict, all of them, its room as a bar, its sentence whole and what to do."""

from __future__ import annotations

from collections import Counter
from typing import ClassVar

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QResizeEvent
from PyQt6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from urban_mule.core.sheet.stages import StageName
from urban_mule.core.sheet.verdict import LEVELS, Verdict
from urban_mule.core.sheet.wording import counted
from urban_mule.desk.kit.painting import painted
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Scope

NAME, BAR, GAP, NARROW = 222.0, 110.0, 14.0, 620.0  # px; below NARROW the bar is left out
INSET = 12  # px to either edge, and before the sentence
WRAPPED = int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop)
TALLEST = 4000  # px that a text may be high
SPARE = 44.0  # px that a row may be higher than it needs
SAID, THEN = 13, 12  # px of the sentence, and of what to do


class CheckRows(QWidget):
    """The rows, as high as they need to be: with what is told of good ones too where that fits, else with their sentence alone."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.verdicts: tuple[Verdict, ...] = ()
        self.full = True

    def show_verdicts(self, verdicts: tuple[Verdict, ...], room: float) -> None:
        """Show these; room: px that are there without scrolling."""
        self.verdicts = verdicts
        self.full = True
        self.full = self._height() <= room
        self.setMinimumHeight(int(self._height()))
        self.update()

    def _text_width(self) -> float:
        return self.width() - NAME - 3 * INSET - (BAR + GAP if self.width() >= NARROW else 0.0)

    def _after(self, verdict: Verdict) -> str:
        """What stands beneath the sentence."""
        nothing = verdict.next.startswith("Nothing")
        if verdict.level == "good" and not self.full:
            return ""
        return " ".join(part for part in ("" if nothing else verdict.next, verdict.school) if part)

    def _heights(self, verdict: Verdict) -> tuple[float, float]:
        """Of the sentence and of what stands beneath it [px]."""
        wide, after = self._text_width(), self._after(verdict)
        room = QRectF(0, 0, max(wide, 60.0), TALLEST)
        said = QFontMetricsF(font(SAID)).boundingRect(room, WRAPPED, verdict.sentence).height()
        return said, QFontMetricsF(font(THEN)).boundingRect(room, WRAPPED, after).height() if after else 0.0

    def _row(self, verdict: Verdict) -> float:
        return max(sum(self._heights(verdict)), 17.0) + 10

    def _height(self) -> float:
        return sum(self._row(one) for one in self.verdicts) + 14

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        spare = max(0.0, self.height() - self._height()) / max(len(self.verdicts), 1)
        y = 8.0
        for verdict in self.verdicts:
            high = self._row(verdict) + min(spare, SPARE)
            self._paint_row(painter, verdict, QRectF(INSET, y, self.width() - 2 * INSET, high))
            y += high
        if not self.verdicts:
            painter.setFont(font(15))
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, "Nothing to check yet.")

    def _paint_row(self, painter: QPainter, verdict: Verdict, box: QRectF) -> None:
        draw_mark(painter, verdict.level, QPointF(box.left() + 8, box.top() + 9), 5.5)
        painter.setFont(font(SAID, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(box.left() + 22, box.top(), NAME - 72, 18), Qt.AlignmentFlag.AlignVCenter, verdict.check)
        painter.setFont(font(THEN))
        painter.setPen(theme.color(verdict.level))
        painter.drawText(QRectF(box.left() + NAME - 52, box.top(), 50, 18),
                         Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, verdict.level)
        left = box.left() + NAME
        if self.width() >= NARROW:
            room = QRectF(left + GAP - 6, box.top() + 5, BAR, 8)
            painter.fillRect(room, theme.color("terrain"))
            if verdict.headroom is not None:
                painter.fillRect(QRectF(room.left(), room.top(), BAR * verdict.headroom, 8), theme.color(verdict.level))
            left += BAR + GAP
        said, after = self._heights(verdict)
        wide = self._text_width()
        painter.setFont(font(SAID))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(left + INSET, box.top(), wide, said + 2), WRAPPED, verdict.sentence)
        if after:
            painter.setFont(font(THEN))
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(left + INSET, box.top() + said, wide, after + 2), WRAPPED, self._after(verdict))
        painter.setPen(theme.pen("line"))
        painter.drawLine(QPointF(box.left(), box.bottom() - 5), QPointF(box.right(), box.bottom() - 5))


class VerdictsPicture(Picture):
    """The verdicts of one stage, or of all, the tightest first; the bar is the room that is left, empty at the limit."""

    stage: ClassVar[StageName | None] = None

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        self.listed = CheckRows()
        self.area = QScrollArea(widgetResizable=True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.area.setWidget(self.listed)
        box.addWidget(self.area)

    def rows(self) -> list[Verdict]:
        """The verdicts of the stage in the order in which they need attention."""
        return sorted(self.state.verdicts(self.stage), key=lambda v: (-LEVELS.index(v.level), v.headroom or 0.0))

    def says(self) -> tuple[str, str] | None:
        """How many checks there are at each level, and which the tightest is."""
        rows = self.rows()
        levels = Counter(one.level for one in rows)
        told = ", ".join(f"{levels[level]} {level}" for level in reversed(LEVELS) if levels[level])
        if not rows:
            return "Nothing to check yet.", ""
        return f"{counted(len(rows), 'check')}: {told}.", "The tightest first; the bar is the room that is left."

    def redraw(self) -> None:
        rows = tuple(self.rows())
        self.setAccessibleName(f"{self.stage or 'All'}, checked: " + " ".join(f"{v.check} {v.level}." for v in rows))
        self.area.setAccessibleName(f"{self.stage or 'All'}, every check")
        self.area.setAccessibleDescription("\n".join(written_out(one) for one in rows))
        self.listed.show_verdicts(rows, self.area.height())
        self.said_anew.emit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.listed.show_verdicts(self.listed.verdicts, self.height())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        self.area.keyPressEvent(event)


def written_out(verdict: Verdict) -> str:
    """All that a verdict says."""
    return " ".join(part for part in (f"{verdict.check[:1].upper()}{verdict.check[1:]}: {verdict.sentence}", verdict.next,
                                      verdict.school) if part)


class LoadVerdicts(VerdictsPicture):
    stage: ClassVar[StageName] = "Load"


class MotorVerdicts(VerdictsPicture):
    stage: ClassVar[StageName] = "Motor"


class DriveVerdicts(VerdictsPicture):
    stage: ClassVar[StageName] = "Drive"

    def rows(self) -> list[Verdict]:
        """The verdicts on the axis and those on all axes together, in the order in which they need attention."""
        together = () if self.of is not None else tuple(v for v in self.session.together_verdicts if v.stage == self.stage)
        return sorted((*self.state.own_verdicts(self.stage), *together), key=lambda v: (-LEVELS.index(v.level), v.headroom or 0.0))
