"""What stands beneath the picture of a stage: fields in a grid, further verdicts a line each; which given stands where."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRect, QSize, Qt
from PyQt6.QtGui import QPainter, QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QLabel, QSizePolicy, QWidget

from urban_mule.core.parts.figures import MotorLeads
from urban_mule.core.sheet.given import Given, givens
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.subjects import KINDS
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.painting import painted, tip
from urban_mule.desk.kit.text_field import TextField
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.edit import Path

KEYS = {name: key for kind in KINDS.values() for (_, key), name in kind.called.items()}  # what a given is called in the document
COLUMNS, LEAST_COLUMN = 4, 112
OUTSIDE_THE_SHEET = {one.name: one for one in givens(MotorLeads)}


def given_of(session: Scope, name: str, part: str = "") -> Given | None:
    """What the core says of a given, on the sheet of the shown axis or of the project."""
    if name == "leads" and session.axis.motor_kind == "servo":
        return None
    of_project = session.together.sheet.inputs.get(name)
    of_axis = session.sheet.inputs.get(name)
    return (of_project or of_axis if part == "project" else of_axis or of_project) or OUTSIDE_THE_SHEET.get(name)


def path_of(session: Scope, part: str, name: str) -> Path:
    """Where a given stands in the document."""
    key = KEYS.get(name, name)
    if part == "project":
        return (key,)
    return session.axis_path(key) if part == "axis" else session.axis_path(part, key)


class VerdictLine(QWidget):
    """One more verdict of the stage: its mark and its sentence."""

    def __init__(self, verdict: Verdict, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.verdict = verdict
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(f"{verdict.level}: {verdict.sentence} {verdict.next}")
        tip(self, f"{verdict.next}\n{verdict.school}".strip())

    HEIGHT = 20

    def sizeHint(self) -> QSize:
        return QSize(200, self.HEIGHT)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        draw_mark(painter, self.verdict.level, QPointF(8, 10), 5)
        painter.setFont(font(12))
        painter.setPen(theme.color("ink"))
        said = self.verdict.sentence if self.verdict.next.startswith("Nothing") else f"{self.verdict.sentence} {self.verdict.next}"
        text = painter.fontMetrics().elidedText(said, Qt.TextElideMode.ElideRight, self.width() - 24)
        painter.drawText(QRect(20, 0, self.width() - 20, 20), Qt.AlignmentFlag.AlignVCenter, text)


class Heading(QLabel):
    """A heading that is shortened where it does not fit."""

    def minimumSizeHint(self) -> QSize:
        return QSize(60, super().minimumSizeHint().height())

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        text = painter.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter, text)


class Fields(QWidget):
    """Fields in a grid, in the order in which they are filled in."""

    def __init__(self, columns: int = COLUMNS, parent: QWidget | None = None) -> None:
        """columns: at most so many; fewer where they would be narrower than a name needs, unless there is one row each."""
        super().__init__(parent)
        self._most, self._columns, self._fixed = columns, columns, columns != COLUMNS
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(12)
        self.grid.setVerticalSpacing(6)
        self.fields: list[Field | TextField] = []

    def minimumSizeHint(self) -> QSize:
        return QSize(240, self.grid.minimumSize().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        columns = self._most if self._fixed else max(2, min(self._most, self.width() // LEAST_COLUMN))
        if columns != self._columns:
            self._columns = columns
            for place, field in enumerate(self.fields):
                self.grid.removeWidget(field)
                self._put(field, place)

    def _put(self, field: Field | TextField, place: int) -> None:
        self.grid.addWidget(field, place // self._columns, place % self._columns, Qt.AlignmentFlag.AlignTop)
        for column in range(self._most):
            self.grid.setColumnStretch(column, 1 if column < self._columns else 0)

    def add(self, field: Field | TextField) -> None:
        self._put(field, len(self.fields))
        self.fields.append(field)

    def empty(self) -> None:
        for field in self.fields:
            field.release()
            self.grid.removeWidget(field)
            field.hide()
            field.setParent(None)
            field.deleteLater()
        self.fields.clear()
