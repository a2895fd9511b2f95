"""What stands beneath the picture of a stage: fields in a grid, further verdicts a line each; which given stands where."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QGridLayout, QSizePolicy, QWidget

from urban_mule.core.parts.figures import MotorLeads
from urban_mule.core.sheet.given import Given, givens
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.subjects import KINDS, sheet_of
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.painting import painted, tip, to_a_pause
from urban_mule.desk.kit.results import BELOW, GAP, LEAST_TILE
from urban_mule.desk.kit.text_field import TextField
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.edit import Path

KEYS = {name: key for kind in KINDS.values() for (_, key), name in kind.called.items()}  # what a given is called in the document
COLUMNS, LEAST_COLUMN, MOST_ROWS, LEAST_HIGH = 4, 112, 3, 2
OUTSIDE_THE_SHEET = {one.name: one for one in givens(MotorLeads)}


def given_of(session: Scope, name: str, part: str = "") -> Given | None:
    """What the core says of a given, on the sheet of the shown axis or of the project."""
    if name == "leads" and session.axis.motor_kind == "servo":
        return None
    of_project = sheet_of("machine").inputs.get(name)
    of_axis = session.sheet.inputs.get(name)
    return (of_project or of_axis if part == "project" else of_axis or of_project) or OUTSIDE_THE_SHEET.get(name)


def path_of(session: Scope, part: str, name: str) -> Path:
    """Where a given stands in the document."""
    key = KEYS.get(name, name)
    if part == "project":
        return (key,)
    return session.axis_path(key) if part == "axis" else session.axis_path(part, key)


class VerdictLine(QWidget):
    """Another verdict of the stage in one line: its mark and its sentence. Pressed, it leads to the leaf that has it whole."""

    HEIGHT = 20
    pressed = pyqtSignal(str)

    def __init__(self, verdict: Verdict, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.show_verdict(verdict)

    def show_verdict(self, verdict: Verdict) -> None:
        """Say this one."""
        self.verdict = verdict
        self.setAccessibleName(f"{verdict.level}: {verdict.sentence} {verdict.next}")
        tip(self, " ".join(part for part in (verdict.sentence, verdict.next, verdict.school) if part))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(200, self.HEIGHT)

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        self.pressed.emit(self.verdict.check)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.pressed.emit(self.verdict.check)
        else:
            super().keyPressEvent(event)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        if self.hasFocus():
            painter.fillRect(self.rect(), theme.color("terrain"))
        draw_mark(painter, self.verdict.level, QPointF(8, 10), 5)
        painter.setFont(font(13))
        painter.setPen(theme.color("ink"))
        text = to_a_pause(painter.fontMetrics(), self.verdict.sentence, self.width() - 24)
        painter.drawText(QRect(20, 0, self.width() - 20, 20), Qt.AlignmentFlag.AlignVCenter, text)


def allot(width: int, fields: int, results: int, fit: int, at_least: int = 0) -> tuple[int, int, int]:
    """How many columns fields and results take of a width [px], and how many rows the results may be high.

    As few rows as all of them fit into, three at most where the fields leave room for results at all; results are two rows high
    before they fold, or as high as the fields beside them, and never higher than what is seen: so many rows `fit`.
    at_least: px that the side of the fields has in any case.
    """
    least, most = min(LEAST_HIGH, fit), min(MOST_ROWS, max(1, fit))
    field, tile = LEAST_COLUMN + GAP, LEAST_TILE + GAP
    if not fields or not results:
        wide = max(1, (width + GAP) // (field if fields else tile))
        return (wide, 0, 0) if fields else (0, wide, least)
    wide = -(-at_least // field)
    for rows in range(1, most + 1):
        columns = max(-(-fields // rows), wide)
        beside = (width - columns * field) // tile
        if beside > 0 and beside * min(max(rows, least), fit) >= results:
            return columns, beside, max(rows, least)
    columns = min(max(-(-fields // most), wide), max(1, (width - tile) // field))
    return columns, max(1, (width - columns * field) // tile), min(fit, max(-(-fields // columns), LEAST_HIGH))


class Fields(QWidget):
    """Fields in a grid, in the order in which they are filled in."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._columns, self._column = COLUMNS, 0  # px of a column, once it is laid out
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(GAP)
        self.grid.setVerticalSpacing(BELOW)
        self.fields: list[Field | TextField] = []

    def minimumSizeHint(self) -> QSize:
        return QSize(120, self.grid.minimumSize().height())

    def lay(self, columns: int, width: int) -> None:
        """Stand in so many columns of a width [px]: that which they will have, so that nothing moves twice on its way there."""
        self._column = (width + GAP) // columns - GAP
        if columns != self._columns:
            self._columns = columns
            for place, field in enumerate(self.fields):
                self.grid.removeWidget(field)
                self._put(field, place)
        self._name()

    def _name(self) -> None:
        """Two lines to the names of each row in which one needs them."""
        for first in range(0, len(self.fields) if self._column else 0, self._columns):
            titles = [field.title for field in self.fields[first:first + self._columns]]
            lines = max(title.lines_wanted(self._column) for title in titles)
            for title in titles:
                title.give_lines(lines)

    def _put(self, field: Field | TextField, place: int) -> None:
        self.grid.addWidget(field, place // self._columns, place % self._columns, Qt.AlignmentFlag.AlignTop)
        for column in range(max(self._columns, self.grid.columnCount())):
            self.grid.setColumnStretch(column, 1 if column < self._columns else 0)

    def add(self, field: Field | TextField) -> None:
        self._put(field, len(self.fields))
        field.show()  # now, where Qt would a little later: how high the fields are is asked before that
        self.fields.append(field)
        self._name()

    def empty(self) -> None:
        for field in self.fields:
            field.release()
            self.grid.removeWidget(field)
            field.hide()
            field.setParent(None)
            field.deleteLater()
        self.fields.clear()
