"""Results: a tile a quantity with its number and how sure it is; each opens its working; what finds no room folds into "more"."""

from __future__ import annotations

from itertools import count

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QShowEvent
from PyQt6.QtWidgets import QGridLayout, QPushButton, QSizePolicy, QWidget

from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.shown import lacks_reading, solved_text
from urban_mule.core.sheet.units import Shown
from urban_mule.core.subjects import sheet_of
from urban_mule.desk.kit.one_line import write_narrower
from urban_mule.desk.kit.painting import fitted, painted, tip
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.words import label

TILE_HEIGHT, LEAST_TILE, GAP, BELOW = 51, 114, 12, 3
SIZES = (17, 16, 15, 14, 13, 12)  # px of a number: the first in which it fits
FOR_EVER = 1000  # rows
POINTED = 4000  # ms that a number is marked which has just become known
WIDE_AT, SLACK = 12, 5  # px of the smallest number, from which on it rather takes two columns; px that a tile is mostly wider
MARK, UNIT = 15.0, 4.0  # px from a number to its unit, and that a mark takes


class ResultRow(QWidget):
    """A quantity: its name, and beneath it its number, its unit, and the state of the check that judges it."""

    opened = pyqtSignal(str)

    def __init__(self, session: Scope, name: str, check: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.name, self.check = session, name, check
        self._told: tuple[object, Unknown | Shown, str, int] | None = None  # of which solution, what it says, how wide that is
        self.setObjectName(f"result {name}")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._pointing = QTimer(self, singleShot=True, interval=POINTED)
        self._pointing.timeout.connect(self.update)
        session.changed.connect(self._changed)
        session.sure_changed.connect(self._changed)
        self._describe()

    @property
    def is_pointed_at(self) -> bool:
        """Whether the eye is being led here."""
        return self._pointing.isActive()

    def point(self) -> None:
        """Lead the eye here for a moment."""
        self._pointing.start()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(LEAST_TILE, TILE_HEIGHT)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

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
        tip(self, said)
        return True

    def columns(self) -> int:
        """How many columns it takes so that number, unit and word stand in it."""
        return self._says()[3]

    def _says(self) -> tuple[object, Unknown | Shown, str, int]:
        """What it shows; looked up once for a solution, in the units of the project."""
        solution = self.session.solution_with(self.name)
        sure = self.session.sure
        of = (solution, self.session.state, self.session.together_verdicts, self.session.system, sure)
        if self._told is None or self._told[0] != of:
            value = solution.find(self.name)
            if isinstance(value, Unknown):
                self._told = of, value, "", 1
            else:
                doubt = None if sure is None else sure.standard(self.name, value)
                shown = solved_text(solution, self.name, self.session.system, self.session.axis.unit, doubt)
                level, small = self._level(), QFontMetricsF(font(12))
                wide = self._wide(shown.number, WIDE_AT) + small.horizontalAdvance(shown.unit) + UNIT
                word = 0.0 if "±" in shown.number else small.horizontalAdvance(level) + UNIT  # the mark alone says it, too
                wide += MARK + word if level else 0.0
                self._told = of, shown, level, 1 if wide <= LEAST_TILE + SLACK else 2
        return self._told

    def shown(self) -> str:
        """Number, how sure it is, and unit as text, or why there is none."""
        value = self._says()[1]
        return f"not known: {value.reason}" if isinstance(value, Unknown) else str(value)

    def level(self) -> str:
        """The level of the check that judges it, or nothing."""
        return self._says()[2] or self._level()

    def _level(self) -> str:
        return next((v.level for v in (*self.session.state.all_verdicts, *self.session.together_verdicts) if v.check == self.check),
                    "") if self.check else ""

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        area = QRectF(self.rect())
        if self.hasFocus() or self.is_pointed_at:
            painter.fillRect(area, theme.color("terrain"))
        if self.is_pointed_at:
            painter.fillRect(QRectF(0, area.height() - 3, area.width(), 3), theme.color("accent"))
        painter.setPen(theme.pen("line"))
        painter.drawLine(QPointF(0, area.height() - 0.5), QPointF(area.width(), area.height() - 0.5))
        value, line = self._says()[1], QRectF(2, 29, area.width() - 2, 21)
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        metrics, name = painter.fontMetrics(), label(self.name)
        short = metrics.horizontalAdvance(name) <= area.width() - 4
        if isinstance(value, Unknown) and short:  # the reason has the line that the name leaves free
            line = QRectF(2, 15, area.width() - 2, 35)
            painter.drawText(QRectF(2, 0, area.width() - 2, 16), 0, name)
        else:
            write_narrower(painter, name, int(area.width()) - 4, 2)
            painter.drawText(QRectF(2, -3, area.width() - 2, 33), Qt.AlignmentFlag.AlignBottom,
                             fitted(painter.fontMetrics(), name, area.width() - 4, 34))
        if isinstance(value, Unknown):
            painter.setFont(font(12, italic=True))
            painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, fitted(
                painter.fontMetrics(), value.reason, line.width(), line.height()))
        else:
            self._number(painter, line, value)

    def _number(self, painter: QPainter, line: QRectF, shown: Shown) -> None:
        """Number, unit, mark and word, in the largest size in which all of them fit; else without the word."""
        level = self.level()
        small = QFontMetricsF(font(12))
        unit = small.horizontalAdvance(shown.unit) + (UNIT if shown.unit else 0.0)
        mark = MARK if level else 0.0
        word = small.horizontalAdvance(level) + UNIT if level and level != "unknown" else 0.0
        if self._wide(shown.number, SIZES[-1]) + unit + mark > line.width():  # in so little room its working says how sure it is
            shown = Shown(shown.number.partition(" ± ")[0], shown.unit)
        size = next((one for one in SIZES if self._wide(shown.number, one) + unit + mark + word <= line.width()), 0)
        if not size:
            word, size = 0.0, next((one for one in SIZES if self._wide(shown.number, one) + unit + mark <= line.width()), SIZES[-1])
        painter.setFont(font(size, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, shown.number)
        at = line.left() + self._wide(shown.number, size) + UNIT
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(at, line.top() + 1, unit + 2, line.height()), Qt.AlignmentFlag.AlignVCenter, shown.unit)
        if level:
            at = line.left() + self._wide(shown.number, size) + unit + MARK / 2 + 1
            draw_mark(painter, level, QPointF(at, line.center().y() + 1), 5)
            painter.setPen(theme.color(level))
            if word:
                painter.drawText(QRectF(at + 9, line.top() + 1, word + 2, line.height()), Qt.AlignmentFlag.AlignVCenter, level)

    @staticmethod
    def _wide(number: str, size: int) -> float:
        return QFontMetricsF(font(size, bold=True)).horizontalAdvance(number)

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
    """The results beside a leaf as tiles. sifted: other ones apply now, or more of them are to be seen."""

    opened = pyqtSignal(str)
    sifted = pyqtSignal()

    def __init__(self, session: Scope, results: tuple[tuple[str, str], ...], parent: QWidget | None = None) -> None:
        """results: (quantity, name of the check that judges it or nothing)."""
        super().__init__(parent)
        self.grid = QGridLayout(self)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(GAP)
        self.grid.setVerticalSpacing(BELOW)
        self.rows = []
        self.unfolded = False
        self.laid: tuple[int, int, tuple[tuple[str, int], ...], bool] | None = None
        for name, check in results:
            if session.sheet.knows(name) or name in sheet_of("machine").quantities:
                row = ResultRow(session, name, check, self)
                row.opened.connect(self.opened)
                row.hide()
                self.rows.append(row)
        self.more = QPushButton("", self, objectName="plain")
        self.more.clicked.connect(self._turn)
        self.more.hide()
        session.changed.connect(self._changed)
        session.sure_changed.connect(self._changed)

    def _changed(self, _names: object) -> None:
        if self.isVisible() and self.laid is not None and tuple(
                (row.name, row.columns()) for row in self.applying()) != self.laid[2]:
            self.sifted.emit()

    def applying(self) -> list[ResultRow]:
        """The rows that mean something for this axis as it is set up, and do not merely wait for a reading."""
        return [row for row in self.rows if not self._is_left_out(row)]

    @staticmethod
    def _is_left_out(row: ResultRow) -> bool:
        solution = row.session.solution_with(row.name)
        if not solution.sheet.has(row.name):
            return True  # of another kind of axis, while the stage becomes one of it
        value = solution.find(row.name)
        return isinstance(value, Unknown) and (not value.applies or lacks_reading(solution, value))

    def _turn(self) -> None:
        self.unfolded = not self.unfolded
        self.sifted.emit()

    def unfold(self, name: str) -> None:
        """Bring a row into sight that is folded away."""
        if not self.unfolded and any(row.name == name and row.isHidden() for row in self.applying()):
            self._turn()

    def point_at(self, check: str) -> ResultRow | None:
        """Bring the number that a check judges into sight, and mark it for a moment; None where it is not here."""
        row = next((row for row in self.applying() if row.check == check), None)
        if row is not None:
            self.unfold(row.name)
            row.point()
        return row

    @staticmethod
    def _places(rows: list[ResultRow], spans: dict[ResultRow, int], columns: int, high: int, more: bool = False
                ) -> list[tuple[int, int]]:
        """Row and column of as many of these as find room; more: with one place left over, wherever it is."""
        found, line, column, free = [], 0, 0, columns * high - more
        for row in rows:
            if column + spans[row] > columns:
                line, column = line + 1, 0
            if line >= high or spans[row] > free:
                break
            found.append((line, column))
            column, free = column + spans[row], free - spans[row]
        return found

    def columns(self) -> int:
        """How many columns all of them would take in one row."""
        return sum(row.columns() for row in self.applying())

    def lay(self, columns: int, high: int) -> None:
        """Lay the rows out in so many columns, at most so many rows high unless somebody asked for more."""
        shown = self.applying()
        laid = (columns, high, tuple((row.name, row.columns()) for row in shown), self.unfolded)
        if laid == self.laid:
            return
        self.laid = laid
        spans = {row: min(columns, row.columns()) for row in shown}
        folds = len(self._places(shown, spans, columns, high)) < len(shown)
        kept = shown if self.unfolded or not folds else shown[:len(self._places(shown, spans, columns, high, True))]
        for row in self.rows:
            self.grid.removeWidget(row)
            row.setVisible(row in kept)
        self.grid.removeWidget(self.more)
        taken = set[tuple[int, int]]()
        for row, (line, column) in zip(kept, self._places(kept, spans, columns, FOR_EVER), strict=True):
            self.grid.addWidget(row, line, column, 1, spans[row])
            taken |= {(line, column + n) for n in range(spans[row])}
        more = f"{len(shown) - len(kept)} {'more' if kept else 'result' if len(shown) == 1 else 'results'}…"
        self.more.setText("fewer" if self.unfolded else more)
        self.more.setVisible(folds)
        if folds:
            first = max((line for line, _ in taken), default=0) if self.unfolded else 0
            free = next(at for at in (divmod(place, columns) for place in count(first * columns)) if at not in taken)
            self.grid.addWidget(self.more, *free, Qt.AlignmentFlag.AlignBottom)
        for column in range(max(columns, self.grid.columnCount())):
            self.grid.setColumnStretch(column, 1 if column < columns else 0)
        self.updateGeometry()
