"""The working slip: slides out under a result; formula, inputs, source, and what moves the number most."""

from __future__ import annotations

from PyQt6.QtCore import QEasingCurve, QPropertyAnimation, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from urban_mule.core.sheet.quantity import NotKnown, Unknown
from urban_mule.core.sheet.shown import doubted_text, uncertainty_of, value_text
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.working import Working, working_row
from urban_mule.core.sheet.working import value_text as plain_text
from urban_mule.desk.kit.painting import Label, painted
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.words import label

OF_PROJECT = "project."  # begins the name of a field that belongs to all axes, where one is asked for
MOST_BARS = 5
SLIDE_TIME = 140  # ms
NAMES = 190.0  # px of the names before the bars


class Share(QPushButton):
    """An input that makes a part of a number's doubt: its name, its part of the variance as a bar; it leads to its field."""

    def __init__(self, name: str, share: float, parent: QWidget | None = None) -> None:
        super().__init__(parent, objectName="plain", autoDefault=False)
        self.name, self.share = name, share
        self.setAccessibleName(f"{name} makes {100 * share:.0f} % of the doubt; go to its field")
        self.setFixedHeight(20)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setFont(font(12))
        if self.hasFocus() or self.underMouse():
            painter.fillRect(self.rect(), theme.color("terrain"))
        painter.setPen(theme.color("accent"))
        painter.drawText(QRectF(0, 0, NAMES - 8, 20), Qt.AlignmentFlag.AlignVCenter,
                         painter.fontMetrics().elidedText(self.name, Qt.TextElideMode.ElideRight, int(NAMES - 8)))
        long = (self.width() - NAMES - 60) * self.share
        painter.fillRect(QRectF(NAMES, 5, long, 10), theme.color("violet"))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(NAMES + long + 6, 0, 60, 20), Qt.AlignmentFlag.AlignVCenter, f"{100 * self.share:.0f} %")


class Bars(QWidget):
    """What moves a number most: one bar a given, in per cent of change for one per cent."""

    def __init__(self, moves: tuple[tuple[str, float], ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.moves = moves[:MOST_BARS]
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("What moves it most: " + ", ".join(f"{n} {m:+.2g} % per %" for n, m in self.moves))

    def sizeHint(self) -> QSize:
        return QSize(200, 18 * len(self.moves))

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setFont(font(12))
        left, largest = NAMES, max((abs(m) for _, m in self.moves), default=0.0) or 1.0
        room = self.width() - left - 60
        for row, (name, move) in enumerate(self.moves):
            y = row * 18.0
            painter.setPen(theme.color("ink"))
            painter.drawText(QRectF(0, y, left - 8, 18), Qt.AlignmentFlag.AlignVCenter,
                             painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, int(left - 8)))
            long = room * abs(move) / largest
            painter.fillRect(QRectF(left, y + 4, long, 10), theme.color("blue" if move > 0 else "violet"))
            painter.drawText(QRectF(left + long + 6, y, 60, 18), Qt.AlignmentFlag.AlignVCenter, f"{move:+.2f}")


def meaning(doc: str) -> str:
    """What a docstring says to a user: its first line, without what it says to a caller."""
    return doc.split("\n")[0].split(" Raises ")[0].split("; ")[0].rstrip(".") + "."


class Slip(QFrame):
    """The working of one quantity over the stage it belongs to. Esc closes it; each input opens in turn."""

    jump = pyqtSignal(str)

    def __init__(self, session: Scope, parent: QWidget) -> None:
        super().__init__(parent, objectName="slip")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Working")
        self.session = session
        self.path: list[str] = []
        self._anchor = QRect()
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(16, 10, 16, 12)
        self._box.setSpacing(4)
        self._inner: QWidget | None = None
        self.hide()
        session.sure_changed.connect(self._changed)
        session.changed.connect(self._changed)  # a method: it lets go when the slip is deleted

    def _changed(self, _names: object) -> None:
        if self.isVisible():
            self._fill()

    def open(self, name: str, anchor: QRect) -> None:
        """Slide out under `anchor` (in the parent's coordinates) with the working of a quantity."""
        self.path, self._anchor = [name], anchor
        self._fill(slide=True)

    @property
    def solution(self) -> Solution:
        """The solution on which the number whose working is open stands."""
        return self.session.solution_with(self.path[0])

    def deeper(self, name: str) -> None:
        """Open the working of an input."""
        self.path.append(name)
        self._fill()

    def back(self) -> None:
        if len(self.path) > 1:
            self.path.pop()
            self._fill()
        else:
            self.close_slip()

    def close_slip(self) -> None:
        self.hide()
        self.path.clear()

    def _fill(self, slide: bool = False) -> None:
        name = self.path[-1]
        if name not in (*self.solution.sheet.quantities, *self.solution.sheet.inputs):
            self.close_slip()
            return
        if self._inner is not None:
            self._box.removeWidget(self._inner)
            self._inner.deleteLater()
        self._inner = self._content(working_row(self.solution, name))
        self._box.addWidget(self._inner)
        self._inner.setVisible(True)  # in a slip that is open it would be measured as if it were not there
        self._place(slide)
        self.show()
        self.raise_()

    def _content(self, row: Working) -> QWidget:
        inner = QWidget()
        box = QVBoxLayout(inner)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(3)
        box.addLayout(self._head(row))
        box.addWidget(Label(meaning(row.doc), objectName="label", wordWrap=True))
        if row.formula:
            formula = Label(f"{row.symbol}  =  {row.formula}", wordWrap=True)
            formula.setFont(font(15))
            box.addWidget(formula)
        for parameter in row.parameters:
            box.addWidget(self._input(parameter))
        doubt = self.solution.get(uncertainty_of(row.name)) if uncertainty_of(row.name) in self.solution.sheet.quantities else None
        if doubt:
            box.addWidget(self._input(uncertainty_of(row.name), "± is twice "))
        else:
            self._by_inputs(row, box)
        moves = self._moves(row)
        if moves:
            box.addSpacing(4)
            box.addWidget(Label("Moved most by, % for 1 %", objectName="label"))
            box.addWidget(Bars(tuple((self.solution.label(name), move) for name, move in moves)))
        box.addWidget(Label(f"Source: {row.source}", objectName="label", wordWrap=True))
        return inner

    def _by_inputs(self, row: Working, box: QVBoxLayout) -> None:
        """How sure the number is by its inputs, and which of them make its doubt; each leads to its field."""
        sure, solution = self.session.sure, self.solution
        standard = None if sure is None or solution is not sure.solution else sure.standard(row.name, row.value)
        if sure is None or standard is None:
            return
        said = doubted_text(solution.sheet, row.name, row.value, standard, self.session.system, self.session.axis.unit)
        box.addSpacing(4)
        box.addWidget(Label(f"{said} holds 95 of 100 such builds. What makes the doubt:", objectName="label", wordWrap=True))
        for name, share in sure.doubts.named(row.name):
            button = Share(solution.label(name), share)
            button.clicked.connect(lambda _on, name=name: self.jump.emit(name))
            box.addWidget(button)

    def _head(self, row: Working) -> QHBoxLayout:
        head = QHBoxLayout()
        trail = " → ".join(label(name) for name in self.path[-3:])
        head.addWidget(Label(trail, objectName="heading"), 1)
        for text, action in (("Back", self.back), ("Close", self.close_slip)):
            if text == "Close" or len(self.path) > 1:
                button = QPushButton(text, objectName="plain")
                button.clicked.connect(action)
                head.addWidget(button)
        if not row.formula and row.name in self.solution.sheet.inputs:
            to = QPushButton("Go to the field", objectName="plain")
            of = OF_PROJECT if self.solution is self.session.together else ""
            to.clicked.connect(lambda: self.jump.emit(of + row.name))
            head.insertWidget(1, to)
        return head

    def _input(self, name: str, before: str = "") -> QPushButton:
        row = working_row(self.solution, name)
        value = row.value
        if isinstance(value, (int, float)) and not isinstance(value, bool):
            text = str(value_text(self.solution.sheet, name, value, self.session.system, 4, self.session.axis.unit))
        else:
            text = f"not known: {value.reason}" if isinstance(value, Unknown) else plain_text(row)
        symbol = f"{row.symbol}   " if row.symbol else ""
        button = QPushButton(f"{before}{symbol}{label(name)}{f' = {text}' if text else ''}", objectName="plain")
        button.setAccessibleName(f"{label(name)} {text}")
        button.clicked.connect(lambda: self.deeper(name))
        return button

    def _moves(self, row: Working) -> tuple[tuple[str, float], ...]:
        if isinstance(row.value, (int, float)) and row.formula:
            try:
                return self.solution.sensitivity(row.name)
            except NotKnown:
                return ()
        return ()

    def _place(self, slide: bool) -> None:
        """Under the anchor where there is room, else above it, always inside the stage."""
        parent = self.parentWidget()
        assert parent is not None
        width = max(self._anchor.width(), 460)
        self.setFixedWidth(width)
        for child in self.findChildren(QWidget):
            child.ensurePolished()  # words have the size that they will be shown in before they are measured
        self._box.invalidate()
        height = max(self._box.totalHeightForWidth(width), self.sizeHint().height())
        left = min(self._anchor.left(), parent.width() - width - 8)
        top = self._anchor.bottom() + 1
        if top + height > parent.height() - 4:
            top = max(4, min(self._anchor.top(), parent.height() - 4) - height)
        end = QRect(max(4, left), top, width, min(height, parent.height() - 8))
        if slide and QApplication.platformName() != "offscreen":
            run = QPropertyAnimation(self, b"geometry", self)
            run.setDuration(SLIDE_TIME)
            run.setEasingCurve(QEasingCurve.Type.OutCubic)
            run.setStartValue(QRect(end.left(), end.top(), end.width(), 8))
            run.setEndValue(end)
            run.start(QPropertyAnimation.DeletionPolicy.DeleteWhenStopped)
        else:
            self.setGeometry(end)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_Backspace):
            self.back()
        else:
            super().keyPressEvent(event)
