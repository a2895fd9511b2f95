"""Results: one row a quantity, each opens its working."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QShowEvent
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.shown import value_text
from urban_mule.desk.kit.painting import painted, tip
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.words import label

ROW_HEIGHT, NARROW = 29, 320
NAMED = 0.62  # of the width: what a name may take before why it is not known


class ResultRow(QWidget):
    """A quantity: its name, its number, its unit, and the state of the check that judges it."""

    opened = pyqtSignal(str)

    def __init__(self, session: Scope, name: str, check: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.name, self.check = session, name, check
        self.setObjectName(f"result {name}")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        session.changed.connect(self._changed)
        self._describe()

    def sizeHint(self) -> QSize:
        return QSize(360, ROW_HEIGHT)

    def minimumSizeHint(self) -> QSize:
        return QSize(190, ROW_HEIGHT)

    def _changed(self, _names: object) -> None:
        if self.isVisible() and self._describe():
            self.update()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._describe()

    def _describe(self) -> bool:
        """Say aloud what is shown; whether that is something new."""
        said = f"{label(self.name)}: {self.shown()} {self.level()}".strip()
        if said == self.accessibleName():
            return False
        self.setAccessibleName(said)
        value = self.session.solution_with(self.name).find(self.name)
        tip(self, value.reason if isinstance(value, Unknown) else "")
        return True

    def shown(self) -> str:
        """Number and unit as text, or why there is none."""
        solution = self.session.solution_with(self.name)
        value = solution.find(self.name)
        if isinstance(value, Unknown):
            return f"not known: {value.reason}"
        return str(value_text(solution.sheet, self.name, value, self.session.system, axis_unit=self.session.axis.unit))

    def level(self) -> str:
        found = [v for v in (*self.session.state.all_verdicts, *self.session.together_verdicts) if v.check == self.check]
        return found[0].level if found else ""

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        area = QRectF(self.rect())
        if self.hasFocus():
            painter.fillRect(area, theme.color("terrain"))
        painter.setPen(theme.pen("line"))
        painter.drawLine(QPointF(0, area.height() - 0.5), QPointF(area.width(), area.height() - 0.5))
        split = area.width() - (128 if area.width() > NARROW else 106)
        solution = self.session.solution_with(self.name)
        value = solution.find(self.name)
        if isinstance(value, Unknown):
            begins = max(split - 76, min(self._title_width() + 14, NAMED * area.width()))
            self._title(painter, begins - 8)
            painter.setPen(theme.color("muted"))
            painter.setFont(font(12, italic=True))
            room = QRectF(begins, 0, area.width() - begins - 4, area.height())
            reason = painter.fontMetrics().elidedText(value.reason, Qt.TextElideMode.ElideRight, int(room.width()))
            painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, reason)
            return
        shown = value_text(solution.sheet, self.name, value, self.session.system, axis_unit=self.session.axis.unit)
        painter.setFont(font(17 if area.width() > NARROW else 15, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(0, 0, split, area.height()),
                         Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, shown.number)
        self._title(painter, split - painter.fontMetrics().horizontalAdvance(shown.number) - 12)
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(split + 7, 1, area.width() - split, area.height()), Qt.AlignmentFlag.AlignVCenter, shown.unit)
        level = self.level()
        if level:
            left = area.width() - (57 if area.width() > NARROW else 44)
            draw_mark(painter, level, QPointF(left, area.center().y()), 5.5)
            painter.setPen(theme.color(level))
            if level != "unknown":  # its mark says so, and the headline what is missing
                painter.drawText(QRectF(left + 9, 0, 47, area.height()), Qt.AlignmentFlag.AlignVCenter, level)

    def _title_width(self) -> float:
        return QFontMetricsF(font(13 if self.width() > NARROW else 12)).horizontalAdvance(label(self.name))

    def _title(self, painter: QPainter, room: float) -> None:
        painter.setPen(theme.color("ink"))
        painter.setFont(font(13 if self.width() > NARROW else 12))
        title = painter.fontMetrics().elidedText(label(self.name), Qt.TextElideMode.ElideRight, int(room))
        painter.drawText(QRectF(4, 0, room, self.height()), Qt.AlignmentFlag.AlignVCenter, title)

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        self.setFocus()
        self.opened.emit(self.name)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.opened.emit(self.name)
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.update()


class ResultList(QWidget):
    """The results of a stage, one below the other."""

    opened = pyqtSignal(str)

    def __init__(self, session: Scope, results: tuple[tuple[str, str], ...], parent: QWidget | None = None) -> None:
        """results: (quantity, name of the check that judges it or nothing)."""
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        self.rows = []
        for name, check in results:
            if name in (*session.sheet.quantities, *session.sheet.inputs, *session.together.sheet.quantities):
                row = ResultRow(session, name, check)
                row.opened.connect(self.opened)
                self.rows.append(row)
                box.addWidget(row)
        box.addStretch(1)
        session.changed.connect(self._changed)
        self._sift()

    def _changed(self, _names: object) -> None:
        if self.isVisible():
            self._sift()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._sift()

    def _sift(self) -> None:
        """Leave out what does not apply to this axis as it is set up."""
        for row in self.rows:
            value = row.session.solution_with(row.name).find(row.name)
            row.setHidden(isinstance(value, Unknown) and not value.applies)
