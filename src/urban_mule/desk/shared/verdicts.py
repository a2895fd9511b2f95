"""What was checked on a stage: one row a verdict, its room as a bar, its sentence and what to do."""

from __future__ import annotations

from typing import ClassVar

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from urban_mule.core.sheet.stages import StageName
from urban_mule.core.sheet.verdict import LEVELS, Verdict
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Scope

ROW = 37.0
NAME, BAR = 168.0, 84.0


class VerdictsPicture(Painted):
    """The verdicts of one stage, the tightest first; the bar is the room that is left, empty at the limit."""

    stage: ClassVar[StageName]

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.chosen: str | None = None
        self._boxes: list[tuple[QRectF, Verdict]] = []
        self.setAccessibleName(f"{self.stage}, checked")

    def choose(self, check: str | None) -> None:
        """Write all of a check out beneath the others, or none."""
        self.chosen = check
        said = next((v for v in self.rows() if v.check == check), None)
        self.setAccessibleDescription("" if said is None else written_out(said))
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        hit = [v.check for box, v in self._boxes if event is not None and box.contains(event.position())]
        if hit:
            self.choose(None if hit[0] == self.chosen else hit[0])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key())) if event is not None else None
        names = [verdict.check for verdict in self.rows()]
        if step is not None and names:
            self.choose(names[(names.index(self.chosen) + step) % len(names)] if self.chosen in names else names[0])
        else:
            super().keyPressEvent(event)

    def rows(self) -> list[Verdict]:
        """The verdicts of the stage in the order in which they need attention."""
        return sorted(self.state.verdicts(self.stage), key=lambda v: (-LEVELS.index(v.level), v.headroom or 0.0))

    def paint(self, painter: QPainter, area: QRectF) -> None:
        rows = self.rows()
        self._boxes = []
        chosen = next((v for v in rows if v.check == self.chosen), None)
        if chosen is not None:
            area = self._write_out(painter, chosen, area)
        elif rows:
            painter.setFont(font(12))
            painter.setPen(theme.color("muted"))
            painter.drawText(area, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignRight, "press a check to read all of it")
        self.setAccessibleName(f"{self.stage}, checked: " + " ".join(f"{v.check} {v.level}." for v in rows))
        fit = max(1, int(area.height() // ROW))
        columns = 1 if len(rows) <= fit else 2
        each = -(-len(rows) // columns)
        width = area.width() / columns
        for number, verdict in enumerate(rows[:columns * fit]):
            column, row = divmod(number, max(each, 1))
            box = QRectF(area.left() + width * column, area.top() + ROW * row, width - 16, ROW)
            self._boxes.append((box, verdict))
            self._row(painter, verdict, box, columns > 1)
        if not rows:
            painter.setFont(font(15))
            painter.setPen(theme.color("muted"))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "Nothing to check yet.")

    def _write_out(self, painter: QPainter, verdict: Verdict, area: QRectF) -> QRectF:
        """All of a verdict at the foot of the area; what is left of it."""
        painter.setFont(font(13))
        flags = int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop)
        need = painter.boundingRect(QRectF(area.left() + 10, 0, area.width() - 20, 400), flags, written_out(verdict)).height() + 12
        foot = QRectF(area.left(), area.bottom() - need, area.width(), need)
        painter.fillRect(foot, theme.color("terrain"))
        painter.setPen(theme.color("ink"))
        painter.drawText(foot.adjusted(10, 6, -10, -6), flags, written_out(verdict))
        return area.adjusted(0, 0, 0, -need - 6)

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
