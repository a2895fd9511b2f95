"""What was checked on a stage: one row a verdict, its room as a bar, its sentence and what to do."""

from __future__ import annotations

from typing import ClassVar

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from urban_mule.core.sheet.stages import StageName
from urban_mule.core.sheet.verdict import LEVELS, Verdict
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import draw_mark, font, theme

ROW = 37.0
NAME, BAR = 168.0, 84.0


class VerdictsPicture(Painted):
    """The verdicts of one stage, the tightest first; the bar is the room that is left, empty at the limit."""

    stage: ClassVar[StageName]

    def rows(self) -> list[Verdict]:
        """The verdicts of the stage in the order in which they need attention."""
        return sorted(self.state.verdicts(self.stage), key=lambda v: (-LEVELS.index(v.level), v.headroom or 0.0))

    def paint(self, painter: QPainter, area: QRectF) -> None:
        rows = self.rows()
        self.setAccessibleName(f"{self.stage}, checked: " + " ".join(f"{v.check} {v.level}." for v in rows))
        fit = max(1, int(area.height() // ROW))
        columns = 1 if len(rows) <= fit else 2
        each = -(-len(rows) // columns)
        width = area.width() / columns
        for number, verdict in enumerate(rows[:columns * fit]):
            column, row = divmod(number, max(each, 1))
            self._row(painter, verdict, QRectF(area.left() + width * column, area.top() + ROW * row, width - 16, ROW), columns > 1)
        if not rows:
            painter.setFont(font(15))
            painter.setPen(theme.color("muted"))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "Nothing to check yet.")

    def _row(self, painter: QPainter, verdict: Verdict, box: QRectF, narrow: bool) -> None:
        draw_mark(painter, verdict.level, QPointF(box.left() + 8, box.top() + 12), 5.5)
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(box.left() + 22, box.top(), NAME - 24, 20), Qt.AlignmentFlag.AlignVCenter, verdict.check)
        painter.setFont(font(12))
        painter.setPen(theme.color(verdict.level))
        painter.drawText(QRectF(box.left() + 22, box.top() + 17, 60, 16), Qt.AlignmentFlag.AlignVCenter, verdict.level)
        left = box.left() + NAME
        if not narrow:
            room = QRectF(left, box.top() + 7, BAR, 8)
            painter.fillRect(room, theme.color("terrain"))
            if verdict.headroom is not None:
                painter.fillRect(QRectF(room.left(), room.top(), BAR * verdict.headroom, 8), theme.color(verdict.level))
            left += BAR + 14
        wide = box.right() - left
        painter.setPen(theme.color("ink"))
        metrics = painter.fontMetrics()
        painter.drawText(QRectF(left, box.top(), wide, 20), Qt.AlignmentFlag.AlignVCenter,
                         metrics.elidedText(verdict.sentence, Qt.TextElideMode.ElideRight, int(wide)))
        painter.setPen(theme.color("muted"))
        after = verdict.school if verdict.next.startswith("Nothing") and verdict.school else verdict.next
        painter.drawText(QRectF(left, box.top() + 17, wide, 16), Qt.AlignmentFlag.AlignVCenter,
                         metrics.elidedText(after, Qt.TextElideMode.ElideRight, int(wide)))
        painter.setPen(theme.pen("line"))
        painter.drawLine(QPointF(box.left(), box.bottom() - 1), QPointF(box.right(), box.bottom() - 1))


class LoadVerdicts(VerdictsPicture):
    stage: ClassVar[StageName] = "Load"


class MotorVerdicts(VerdictsPicture):
    stage: ClassVar[StageName] = "Motor"
