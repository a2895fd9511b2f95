"""The luggage tag of the shown axis, hung on the right of the window."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QResizeEvent
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from urban_mule.desk.kit.draw_switches import bank_size, draw_bank
from urban_mule.desk.kit.painting import Label, painted, tip
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.promised import promised
from urban_mule.store.settings import BY_HAND, SettingRow, follower_settings
from urban_mule.store.subject_settings import rows_of

WIDTH, NARROW_WIDTH, NARROW_WINDOW, UNIT_ROOM = 244, 212, 1150, 48
BANK_HEIGHT = 54  # px of a row of switches with its numbers
LINE = 15  # px of a line of a note
ROOMY = 185  # px of a row that bear the large digits


class TagLine(QWidget):
    """One value of the tag. Enter or a click on it records that it is on the machine."""

    set_it = pyqtSignal(object)

    def __init__(self, row: SettingRow, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.row = row
        self.setObjectName(f"tag {row.name}")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if row.to_do else Qt.FocusPolicy.NoFocus)
        self._notes = [(text, color) for text, color in (
            (row.beneath, "muted"), (row.leader, "tight"), (row.measured, "muted"), (row.on_machine, "short"),
            (row.reason, "muted"), (row.at_reset, "tight")) if text]
        values = "; ".join([*(f"{number} {unit}".strip() for number, unit in row.lines),
                            *(f"{bank.name}: {bank.in_words}" for bank in row.banks)])
        self.setAccessibleName(". ".join([f"{row.title}: {values}", *(text for text, _ in self._notes)]))
        tip(self, row.reason)

    def _height(self) -> int:
        return self._below + 5 + sum(self._high(text) for text, _ in self._notes)

    @property
    def _apart(self) -> int:
        """How far below its title the first line stands: beside it where both fit, else beneath."""
        title = QFontMetrics(font(13)).horizontalAdvance(self.row.title)
        beside = max((QFontMetrics(font(17, bold=True)).horizontalAdvance(number) + (UNIT_ROOM if unit else 4)
                      for number, unit in self.row.lines[:1]), default=0)
        return 20 if title + beside + 6 > self._room else 0

    @property
    def _room(self) -> int:
        """Its width [px], before it is shown the usual one."""
        return self.width() if self.isVisible() else WIDTH - 48

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.updateGeometry()

    @property
    def _below(self) -> int:
        """Where the notes begin: below the lines, or the switches."""
        banks = sum(BANK_HEIGHT for _ in self.row.banks) - (2 if self.row.banks else 0)
        return 5 + self._apart + 22 * max(len(self.row.lines), 1) + banks

    def _banks(self, painter: QPainter) -> None:
        """The banks as small switches, as wide as fits."""
        top = 24.0
        for bank in self.row.banks:
            wide = min(13.0, (self.width() - 8) / bank_size(len(bank.positions), 1.0)[0])
            painter.setFont(font(12))
            painter.setPen(theme.color("muted"))
            draw_bank(painter, bank, QPointF(2, top), wide)
            across = bank_size(len(bank.positions), wide)[0] + 8
            room = self.width() - across
            if room > 40:
                painter.drawText(QRectF(across, top + 6, room, 16), Qt.AlignmentFlag.AlignVCenter,
                                 painter.fontMetrics().elidedText(bank.name, Qt.TextElideMode.ElideRight, int(room)))
            top += BANK_HEIGHT

    def _high(self, text: str) -> int:
        """How high a note is in the width that there is [px]."""
        metrics = QFontMetrics(font(12))
        room = QRect(0, 0, self._room - 4, 40 * LINE)
        return LINE * round(metrics.boundingRect(room, Qt.TextFlag.TextWordWrap, text).height() / metrics.lineSpacing())

    def sizeHint(self) -> QSize:
        return QSize(WIDTH - 36, self._height())

    def minimumSizeHint(self) -> QSize:
        return QSize(NARROW_WIDTH - 46, self._height())

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        width = float(self.width())
        if self.hasFocus():
            painter.fillRect(self.rect(), theme.color("terrain"))
        painter.setPen(theme.color("ink"))
        painter.setFont(font(13))
        painter.drawText(QRectF(2, 3, width - 4, 24), Qt.AlignmentFlag.AlignVCenter, self.row.title)
        for index, (number, unit) in enumerate(self.row.lines):
            top = 3.0 + self._apart + 22 * index
            room = float(UNIT_ROOM if unit else 4)
            painter.setFont(font(17 if width > ROOMY else 15, bold=True))
            painter.setPen(theme.color("accent" if self.row.differs else "ink"))
            painter.drawText(QRectF(0, top, width - room - 6, 24),
                             Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, number)
            painter.setFont(font(12))
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(width - room, top + 1, room, 24), Qt.AlignmentFlag.AlignVCenter, unit)
        self._banks(painter)
        top = float(self._below)
        painter.setFont(font(12))
        for text, color in self._notes:
            painter.setPen(theme.color(color))
            high = self._high(text)
            painter.drawText(QRectF(2, top, width - 4, high), Qt.TextFlag.TextWordWrap, text)
            top += high
        painter.setPen(theme.pen("line"))
        painter.drawLine(QPointF(0, self.height() - 1), QPointF(width, self.height() - 1))

    def mouseDoubleClickEvent(self, _event: QMouseEvent | None) -> None:
        if self.row.to_do:
            self.set_it.emit(self.row)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.set_it.emit(self.row)
        else:
            super().keyPressEvent(event)


class Leader(QWidget):
    """Whose tag is shown on an axis with two motors: the leader's or the follower's. turned: the other one."""

    turned = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(0)
        self._both = QButtonGroup(self)
        self.leader, self.follower = (QPushButton(word, objectName="leaf", checkable=True) for word in ("leader", "follower"))
        for button in (self.leader, self.follower):
            self._both.addButton(button)
            button.clicked.connect(self.turned)
            row.addWidget(button)
        row.addStretch(1)
        self.leader.setChecked(True)

    @property
    def following(self) -> bool:
        """Whether the follower's is shown."""
        return not self.isHidden() and self.follower.isChecked()

    def offer(self, has_follower: bool, differs: bool) -> None:
        """Show the choice where there is one; differs: something on the follower asks for a look."""
        self.setVisible(has_follower)
        if not has_follower:
            self.leader.setChecked(True)
        self.follower.setText("follower, differs" if differs else "follower")


class Survives(QWidget):
    """Asks, before something is recorded as set, whether it survives a reset. answered(True, False, or None: not set after all)."""

    answered = pyqtSignal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addWidget(Label("Does it survive a reset?", objectName="heading", wordWrap=True))
        row = QHBoxLayout()
        self.stored, self.running = QPushButton("Stored", objectName="strong"), QPushButton("Running only")
        tip(self.stored, "It is written to what the controller or driver keeps: a reset or a power cut leaves it")
        tip(self.running, "It holds until the next reset or power cut; the tag says so until it is stored")
        for button, answer in ((self.stored, True), (self.running, False)):
            button.clicked.connect(lambda _on, answer=answer: self.answered.emit(answer))
            row.addWidget(button)
        box.addLayout(row)
        self.hide()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.answered.emit(None)
        else:
            super().keyPressEvent(event)


class Tag(QWidget):
    """The whole tag with its string, its rows and its buttons."""

    print_it = pyqtSignal()

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFixedWidth(WIDTH)
        self.setAccessibleName("Tag: what to set on the machine")
        box = QVBoxLayout(self)
        box.setContentsMargins(18, 44, 14, 12)
        box.setSpacing(0)
        head = QHBoxLayout()
        self.letter = Label(objectName="letter")
        self.letter.setFont(font(32, bold=True))
        head.addWidget(self.letter)
        head.addSpacing(10)
        self.title = Label(objectName="label")
        head.addWidget(self.title, 1)
        box.addLayout(head)
        self.motors = Leader()
        self.motors.turned.connect(self.refresh)
        box.addWidget(self.motors)
        self._rows = QWidget()
        self._rows_box = QVBoxLayout(self._rows)
        self._rows_box.setContentsMargins(0, 0, 4, 0)
        self._rows_box.setSpacing(0)
        scroll = QScrollArea(widgetResizable=True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._rows)
        box.addWidget(scroll, 1)
        self.holds = Label(objectName="label", wordWrap=True)
        box.addSpacing(4)
        box.addWidget(self.holds)
        self.count = Label(objectName="label", wordWrap=True)
        self.set_all = QPushButton("Set it", objectName="strong")
        tip(self.set_all, "Record that all these values are on the hardware now")
        self.survives = Survives()
        self.survives.answered.connect(self._answered)
        self._asked: list[SettingRow] = []
        self.set_all.clicked.connect(self._set_all)
        self.printing = QPushButton("Print the tags", objectName="plain")
        self.printing.clicked.connect(self.print_it)
        box.addSpacing(8)
        box.addWidget(self.set_all)
        box.addWidget(self.survives)
        box.addSpacing(4)
        box.addWidget(self.count)
        box.addWidget(self.printing, alignment=Qt.AlignmentFlag.AlignLeft)
        self.rows: list[SettingRow] = []
        self.lines: list[TagLine] = []
        session.changed.connect(self.refresh)
        session.sure_changed.connect(self.refresh)
        session.axis_changed.connect(self.refresh)
        session.book_changed.connect(self.refresh)
        self.refresh()

    def fit(self, window_width: int) -> None:
        """Leave more to the stage in a small window."""
        self.setFixedWidth(WIDTH if window_width >= NARROW_WINDOW else NARROW_WIDTH)

    def show_of(self, session: Scope) -> None:
        """Be the tag of the shown axis, or of another subject."""
        self.session = session
        self.refresh()

    def refresh(self, _names: object = None) -> None:
        """Read the rows again; widgets are made anew only where a row changed."""
        follower = self.session.follower_of(self.session.axis)
        of_follower = [] if follower is None else follower_settings(follower)
        self.motors.offer(follower is not None, any(row.differs or row.leader for row in of_follower))
        rows = of_follower if self.motors.following else rows_of(self.session.key, self.session.state)
        self.letter.setText(getattr(self.session.axis, "letter", self.session.axis.name))
        project = self.session.project
        motor = project.motor_of(self.session.axis)
        self.title.setText("practice: to set on\na made-up machine" if project.practice else f"to set on\nmotor {motor}" if motor
                           else "to set on the\nmachine")
        self.holds.setText("\n".join(f"{name} {value}" for name, value in self._held()))
        self.holds.setVisible(bool(self.holds.text()) and not self.motors.following)
        if rows == self.rows and self.lines:
            return
        self.rows = rows
        self._answered(None)
        while self._rows_box.count():
            item = self._rows_box.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.lines = [TagLine(row) for row in rows]
        for line in self.lines:
            line.set_it.connect(lambda row: self._set([row]))
            self._rows_box.addWidget(line)
        if not rows:
            self._rows_box.addWidget(Label("Nothing to set yet: give it a motor and what drives it.",
                                            objectName="label", wordWrap=True))
        self._rows_box.addStretch(1)
        differing, lost = sum(row.differs for row in rows), sum(bool(row.at_reset) for row in rows)
        self.set_all.setEnabled(differing > 0 or lost > 0)
        there = "All of this is on the machine" if rows else ""
        said = f"{differing} of {len(rows)} differ from the machine" if differing else there
        self.count.setText(said + (f"; {lost} not after a reset" if lost else ""))

    def _held(self) -> list[tuple[str, str]]:
        """What the axis holds, with how sure that is."""
        if self.session.key != "axes":
            return []
        sure, solution = self.session.sure, self.session.solution
        return promised(self.session.state, lambda name: None if sure is None else sure.standard(name, solution.get(name)))

    def _set_all(self) -> None:
        self._set([row for row in self.rows if row.to_do])

    def _set(self, rows: list[SettingRow]) -> None:
        """Ask whether they survive a reset, where a hand on the driver is not what sets them."""
        self._asked = rows
        if all(row.name in BY_HAND for row in rows):
            self._answered(True)
            return
        self.set_all.hide()
        self.survives.show()
        self.survives.stored.setFocus()

    def _answered(self, survives: bool | None) -> None:
        """Record them; what rests on practice readings is said to do so in the log and to whoever sets it."""
        rows, self._asked = self._asked, []
        self.survives.hide()
        self.set_all.show()
        if survives is None or not rows:
            return
        practice = [row.title for row in rows if row.practice]
        said = f"{' and '.join(practice)} rest on practice readings, which say nothing of a machine." if practice else ""
        self.session.hardware.put({row.name: row.value for row in rows}, self.motors.following, survives, also=[said] * bool(said))
        if said:
            self.session.told.emit(said)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        left, right, top, bottom, cut = 6.0, self.width() - 4.0, 14.0, self.height() - 4.0, 26.0
        outline = QPainterPath(QPointF(left + cut, top))
        for point in ((right - cut, top), (right, top + cut), (right, bottom), (left, bottom), (left, top + cut)):
            outline.lineTo(QPointF(*point))
        outline.closeSubpath()
        painter.fillPath(outline, theme.color("panel"))
        painter.setPen(theme.pen("muted", 1.2))
        painter.drawPath(outline)
        hole = QPointF(self.width() / 2, top + 18)
        painter.setBrush(theme.color("paper"))
        painter.drawEllipse(hole, 8, 8)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(theme.pen("accent", 2))
        string = QPainterPath(hole + QPointF(0, -2))
        string.cubicTo(hole + QPointF(10, -34), hole + QPointF(50, -30), QPointF(self.width() + 10.0, 2))
        painter.drawPath(string)
