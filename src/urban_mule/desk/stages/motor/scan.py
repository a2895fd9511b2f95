"""A photograph or scan of a printed curve: two marks on each of its axes, then points along the curve; by mouse or by keys."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QKeyEvent, QMouseEvent, QPainter, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QWidget

from urban_mule.core.motor.scan import Place
from urban_mule.desk.kit.dropped import dropped_file, may_drop
from urban_mule.desk.kit.painting import painted, say_lines
from urban_mule.desk.kit.theme import theme

LENS, CLOSER = 132.0, 3.0  # px of the piece that is shown closer, and how many times
ARROWS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
FAR = 10.0  # steps of an arrow with Shift
NONE_YET = "Drop a photograph or a scan of the curve here, or press to choose one. Or type the points beside."


class ScanView(QWidget):
    """The picture as large as it fits. clicked(x, y): a place in its pixels; asked: one is to be chosen; dropped(path)."""

    clicked = pyqtSignal(float, float)
    asked = pyqtSignal()
    dropped = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.picture = QPixmap()
        self.marks: Sequence[tuple[Place, str]] = ()
        self.points: Sequence[Place] = ()
        self._at = QPointF(0, 0)
        self._small = QPixmap()
        self.setMinimumSize(QSize(420, 320))
        self.setMouseTracking(True)
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Picture of the curve; arrows move the cross, Enter sets a point")
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_picture(self, data: bytes | None) -> bool:
        """Show a picture, or none; whether there is one."""
        self.picture = QPixmap()
        if data is not None:
            self.picture.loadFromData(data)
        self._small = QPixmap()
        self._at = QPointF(self.picture.width() / 2, self.picture.height() / 2)
        self.setCursor(Qt.CursorShape.PointingHandCursor if self.picture.isNull() else Qt.CursorShape.CrossCursor)
        self.update()
        return not self.picture.isNull()

    def show_marks(self, marks: Sequence[tuple[Place, str]], points: Sequence[Place]) -> None:
        """Draw these marks with their words, and these points of the curve [pixels of the picture]."""
        self.marks, self.points = marks, points
        self.update()

    @property
    def _scale(self) -> float:
        return min(self.width() / max(self.picture.width(), 1), self.height() / max(self.picture.height(), 1))

    def place_of(self, x: float, y: float) -> QPointF:
        """Where a place of the picture stands on the widget."""
        return QPointF(x, y) * self._scale + self._origin

    @property
    def _origin(self) -> QPointF:
        return QPointF(self.width() - self.picture.width() * self._scale, self.height() - self.picture.height() * self._scale) / 2

    def _picked(self) -> None:
        if self.picture.isNull():
            self.asked.emit()
        else:
            self.clicked.emit(self._at.x(), self._at.y())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._follow(event.position())
            self._picked()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._follow(event.position())

    def _follow(self, position: QPointF) -> None:
        if not self.picture.isNull():
            self._move_to((position - self._origin) / self._scale)

    def _move_to(self, at: QPointF) -> None:
        self._at = QPointF(min(max(at.x(), 0.0), self.picture.width()), min(max(at.y(), 0.0), self.picture.height()))
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = ARROWS.get(Qt.Key(event.key()))
        if step is not None and not self.picture.isNull():
            far = FAR if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            self._move_to(self._at + QPointF(*step) * far)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._picked()
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        may_drop(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        name = dropped_file(event)
        if name:
            self.dropped.emit(name)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._small = QPixmap()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), theme.color("panel"))
        painter.setPen(theme.pen("accent" if self.hasFocus() else "line", 1.6 if self.hasFocus() else 1.0))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        if self.picture.isNull():
            say_lines(painter, QRectF(self.rect()).adjusted(60, 0.4 * self.height(), -60, -40), NONE_YET, "muted", 14)
            return
        if self._small.isNull():
            self._small = self.picture.scaled(self.size(), Qt.AspectRatioMode.KeepAspectRatio,
                                              Qt.TransformationMode.SmoothTransformation)
        painter.drawPixmap(self._origin, self._small)
        for place, word in self.marks:
            self._cross(painter, self.place_of(*place), "violet", 9)
            painter.drawText(self.place_of(*place) + QPointF(8, -6), word)
        painter.setBrush(theme.color("accent"))
        painter.setPen(Qt.PenStyle.NoPen)
        for place in self.points:
            painter.drawEllipse(self.place_of(*place), 3.5, 3.5)
        self._cross(painter, self.place_of(self._at.x(), self._at.y()), "accent", 14)
        self._closer(painter)

    @staticmethod
    def _cross(painter: QPainter, at: QPointF, color: str, arm: float) -> None:
        painter.setPen(theme.pen(color, 1.4))
        painter.drawLine(at - QPointF(arm, 0), at + QPointF(arm, 0))
        painter.drawLine(at - QPointF(0, arm), at + QPointF(0, arm))

    def _closer(self, painter: QPainter) -> None:
        """What lies under the cross, larger, in the corner that is farthest from it."""
        at = self.place_of(self._at.x(), self._at.y())
        left = 8.0 if at.x() > self.width() / 2 else self.width() - LENS - 8
        top = 8.0 if at.y() > self.height() / 2 else self.height() - LENS - 8
        area, side = QRectF(left, top, LENS, LENS), LENS / (CLOSER * self._scale)
        painter.fillRect(area, theme.color("paper"))
        painter.save()
        painter.setClipRect(area)
        painter.drawPixmap(area, self.picture, QRectF(self._at.x() - side / 2, self._at.y() - side / 2, side, side))
        self._cross(painter, area.center(), "accent", LENS)
        painter.restore()
        painter.setPen(theme.pen("line", 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(area)
