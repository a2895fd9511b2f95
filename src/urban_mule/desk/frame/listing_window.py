"""A controller's listing of its settings, read back: pasted or dropped, taught by pointing, compared with what was computed."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QTextCharFormat, QTextCursor
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QTextEdit,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.units import number_text, show
from urban_mule.core.sheet.wording import counted
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.kit.table import Table
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.session import Session
from urban_mule.store.listing import (
    LONGEST_LISTING,
    Compared,
    Listed,
    Pattern,
    compared,
    keep_pattern,
    lines_of,
    listing_file,
    numbers_in,
    own_patterns,
    read_listing,
    taught_and_read,
    units_for,
)
from urban_mule.store.settings import GAINS, Settable, SettingRow, follower_settings, gain_unit, settings_of
from urban_mule.store.text_files import BadFile, write_whole

PAUSE = 300  # ms after the last key until it is read anew
HOW = ("Paste what the controller lists of its settings, or drop the file here. Put the cursor on a number, say what it is, and"
       " teach it: the same line of every other axis is then read too, and the pattern is remembered.")
NEW = "a new pattern"
LISTS = {"both": "stored, and running now", "stored": "stored", "running": "running now, perhaps not stored"}


class ListingWindow(Dialog):
    """The listing on the left; on the right what was read, what differs first."""

    def __init__(self, session: Session, text: str = "", name: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.source = session, name
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAcceptDrops(True)
        self.setWindowTitle("What a controller lists")
        self.resize(1120, 700)
        self.patterns = own_patterns()
        self.pattern = Pattern(NEW)
        self.found: list[Listed] = []
        self.motors: dict[tuple[str, bool], tuple[Settable, list[SettingRow]]] = {}
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 16)
        box.addLayout(self._pattern_row())
        box.addWidget(Label(HOW, objectName="label", wordWrap=True))
        both = QHBoxLayout()
        self.text = QPlainTextEdit(accessibleName="The listing", tabChangesFocus=True)
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.text.textChanged.connect(self._restart)
        self.text.cursorPositionChanged.connect(self._point)
        self.read = Table("What was read", ("what", "listed", "recorded as set", "computed", "line"), 0, (1, 2, 3, 4))
        both.addWidget(self.text, 4)
        both.addWidget(self.read, 5)
        box.addLayout(both, 1)
        box.addLayout(self._teach_row())
        self.said = Label(wordWrap=True, objectName="heading")
        box.addWidget(self.said)
        box.addLayout(self._end_row())
        self._later = QTimer(self, singleShot=True, interval=PAUSE)
        self._later.timeout.connect(self.look)
        session.book_changed.connect(self._restart)
        self._rows_now()
        self._axis_chosen()
        self.text.setPlainText(text)
        self._point()

    def _pattern_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.which = QComboBox(accessibleName="Pattern")
        self.which.addItems([NEW, *self.patterns])
        self.which.textActivated.connect(self._choose)
        self.name = QLineEdit(placeholderText="name of this pattern", accessibleName="Name of the pattern")
        self.decimal = QComboBox(accessibleName="Decimal sign of the listing")
        self.decimal.addItem("12.5", "point")
        self.decimal.addItem("12,5", "comma")
        self.decimal.activated.connect(lambda _index: self._restart())
        self.forget = QPushButton("Forget the last rule", autoDefault=False)
        self.forget.clicked.connect(self._forget)
        for widget, share in ((self.which, 0), (self.name, 1), (self.decimal, 0), (self.forget, 0)):
            row.addWidget(widget, share)
        return row

    def _teach_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.pointed = Label()
        self.axis, self.setting, self.unit = (QComboBox(accessibleName=name) for name in ("Axis", "Setting", "Unit in the listing"))
        self.axis.activated.connect(lambda _index: self._axis_chosen())
        self.setting.activated.connect(lambda _index: self._setting_chosen())
        self.alone = QCheckBox("this line only")
        tip(self.alone, "The line does not name the axis, nor does a line above it: it is read for this axis alone")
        self.teach = QPushButton("Teach it", autoDefault=False)
        self.teach.clicked.connect(self.learn)
        row.addWidget(self.pointed, 1)
        for widget in (self.axis, self.setting, self.unit, self.alone, self.teach):
            row.addWidget(widget)
        return row

    def _end_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.lists = QComboBox(accessibleName="What the listing shows")
        for key, words in LISTS.items():
            self.lists.addItem(words, key)
        self.put = QPushButton("Put it down as on the machine", objectName="strong", autoDefault=False)
        self.put.clicked.connect(self.put_down)
        self.back = QPushButton("Write what to type back…", autoDefault=False)
        tip(self.back, "Every difference as a line: what the listing has, and what it should have")
        self.back.clicked.connect(self.write_back)
        row.addWidget(Label("It lists what is", objectName="label"))
        row.addWidget(self.lists)
        row.addStretch(1)
        row.addWidget(self.back)
        row.addWidget(self.put)
        return row

    def _rows_now(self) -> None:
        """The tags of all motors as they are now."""
        session, self.motors = self.session, {}
        for axis in session.project.axes:
            follower, state = session.follower_of(axis), session.state_of(axis)
            self.motors[axis.name, False] = (state, _numbers(settings_of(state)))
            if follower is not None:
                self.motors[axis.name, True] = (follower, _numbers(follower_settings(follower)))
        names = [f"{axis} follower" if follows else axis for axis, follows in self.motors]
        if [self.axis.itemText(n) for n in range(self.axis.count())] != names:
            self.axis.clear()
            for name, key in zip(names, self.motors, strict=True):
                self.axis.addItem(name, key)

    def _axis_chosen(self) -> None:
        kept = self.setting.currentData()
        self.setting.clear()
        for row in self.motors[self.axis.currentData()][1]:
            self.setting.addItem(row.title, row.name)
        self.setting.setCurrentIndex(max(0, self.setting.findData(kept)))
        self._setting_chosen()

    def _setting_chosen(self) -> None:
        self.unit.clear()
        motor, name = self.motors[self.axis.currentData()][0], self.setting.currentData()
        for unit in units_for(name, _held(motor, name)) if name else ():
            self.unit.addItem(unit or (f"per {motor.axis.unit}" if name == "steps_per_unit" else "as it stands"), unit)
        self.unit.setVisible(self.unit.count() > 1)

    def _choose(self, name: str) -> None:
        self.pattern = self.patterns.get(name, Pattern(NEW))
        self.name.setText("" if name == NEW else name)
        self.decimal.setCurrentIndex(self.decimal.findData(self.pattern.decimal))
        self._restart()

    def _restart(self) -> None:
        self._later.start()

    def _point(self) -> None:
        """Say which number the cursor is on."""
        cursor = self.text.textCursor()
        line, at = cursor.block().text(), cursor.positionInBlock()
        span = next((span for span in numbers_in(line, self.decimal.currentData()) if span[0] <= at <= span[1]), None)
        number = "" if span is None else line[span[0]:span[1]]
        self.pointed.setText(f"{number} in line {cursor.blockNumber() + 1} is" if number else "The cursor is on no number.")
        self.teach.setEnabled(bool(number) and self.setting.count() > 0)

    def learn(self) -> None:
        """Keep what the example teaches, and read the listing with it."""
        cursor, (axis, follower) = self.text.textCursor(), self.axis.currentData()
        try:
            rule = taught_and_read(lines_of(self.text.toPlainText()), cursor.blockNumber(), cursor.positionInBlock(),
                                   self.setting.currentData(), axis, self.unit.currentData() or "", follower=follower,
                                   decimal=self.decimal.currentData(), alone=self.alone.isChecked(),
                                   axes=[name for name, follows in self.motors if not follows])
        except (BadValue, BadFile) as why:
            self.said.setText(f"{str(why)[:1].upper()}{str(why)[1:].rstrip('.')}.")
            return
        rules = (*(one for one in self.pattern.rules if one != rule), rule)
        self._keep(Pattern(self.name.text().strip() or "my controller", rules, self.decimal.currentData()))

    def _forget(self) -> None:
        if self.pattern.rules:
            self._keep(Pattern(self.pattern.name, self.pattern.rules[:-1], self.pattern.decimal))

    def _keep(self, pattern: Pattern) -> None:
        """Remember a pattern, and read with it."""
        try:
            name = keep_pattern(pattern)
        except BadFile as why:
            self.session.told.emit(str(why))
            name = pattern.name
        self.pattern = self.patterns[name] = Pattern(name, pattern.rules, pattern.decimal)
        if self.which.findText(name) < 0:
            self.which.addItem(name)
        self.which.setCurrentText(name)
        self.name.setText(name)
        self.look()

    def look(self) -> None:
        """Read the listing, by the chosen pattern, or by the one that reads most of it while none is chosen."""
        self._later.stop()
        self._rows_now()
        tried = [self.pattern] if self.pattern.rules or self.which.currentText() != NEW else [*self.patterns.values()]
        text, leaders = self.text.toPlainText(), {axis: rows for (axis, follows), (_, rows) in self.motors.items() if not follows}
        held = {axis: {row.name: _held(motor, row.name) for row in rows} for (axis, follows), (motor, rows) in self.motors.items()
                if not follows}

        def work(_progress: Any) -> tuple[Pattern, list[Listed]]:
            listing = lines_of(text)
            read = [(one, read_listing(one, listing, leaders, held)) for one in tried]
            return max(read, key=lambda one: len(one[1]), default=(Pattern(NEW), []))

        self.session.works.run(("a listing", id(self)), self, work, self._looked, self._wrong)

    def _wrong(self, why: str) -> None:
        self.said.setText(f"{why[:1].upper()}{why[1:]}")

    def _looked(self, read: tuple[Pattern, list[Listed]]) -> None:
        pattern, self.found = read
        if pattern.name != self.pattern.name and self.found:
            self.pattern = pattern
            self.which.setCurrentText(pattern.name)
            self.name.setText(pattern.name)
        shown = sorted(compared(self.found, self.motors), key=lambda one: (not one.differs, not one.other))
        self.read.source.show_rows([self._row(one) for one in shown])
        self.read.order.sort(-1)
        self.forget.setEnabled(bool(self.pattern.rules))
        self.put.setEnabled(bool(shown))
        self.said.setText(_summary(shown, bool(self.text.toPlainText().strip())))
        self._mark(shown)

    def _row(self, one: Compared) -> tuple[Any, ...]:
        motor, _ = self.motors[one.found.axis, one.found.follower]
        recorded = motor.applied.get(one.found.setting)
        whose = f"{one.found.axis} follower" if one.found.follower else one.found.axis
        sign = "≠ " if one.differs else ""
        return (f"{sign}{whose}: {one.row.title.lower()}", _shown(motor, one.row, one.found.value),
                "not set yet" if recorded is None else _shown(motor, one.row, recorded.value),
                _shown(motor, one.row, one.row.value), (str(one.found.line), one.found.line))

    def _mark(self, shown: list[Compared]) -> None:
        """Mark the lines that were read in the listing; what differs in another colour, and by underlining."""
        document, marks = self.text.document(), []
        assert document is not None
        for one in shown[:1000]:
            mark, look = QTextEdit.ExtraSelection(), QTextCharFormat()
            look.setBackground(theme.color("terrain"))
            if one.differs:
                look.setForeground(theme.color("short"))
                look.setFontUnderline(True)
            mark.cursor, mark.format = QTextCursor(document.findBlockByNumber(one.found.line - 1)), look
            mark.cursor.select(QTextCursor.SelectionType.LineUnderCursor)
            marks.append(mark)
        self.text.setExtraSelections(marks)

    def put_down(self) -> None:
        """Record what was read as what is on the machine, on all axes."""
        lists = self.lists.currentData()
        name = self.source or self.name.text().strip() or "a listing"
        count = self.session.hardware.read(self.found, name, lists != "running", lists != "stored")
        if count:
            self.session.axis_changed.emit()
            self.said.setText(f"{counted(count, 'value')} noted as on the machine, and in the log. What differs is on each tag.")

    def lines_back(self) -> list[str]:
        """What has to be typed at the controller so that it is again as computed, a line each."""
        found = []
        for one in compared(self.found, self.motors):
            if one.differs:
                what, listed, _, wanted, (line, _) = self._row(one)
                found.append(f"line {line}: {what.removeprefix('≠ ')} {wanted} (listed: {listed})")
        return found

    def write_back(self) -> None:
        """Write these lines where the user says."""
        lines = self.lines_back()
        if not lines:
            self.said.setText("Nothing differs from what is computed: there is nothing to type back.")
            return
        name, _ = QFileDialog.getSaveFileName(self, "Write what to type back", "to-type-back.txt", "Text (*.txt)")
        if name:
            try:
                write_whole(Path(name), "\n".join(lines) + "\n")
            except BadFile as why:
                self.said.setText(str(why))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        if event is not None and data is not None and (data.hasUrls() or data.hasText()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        if data is None:
            return
        if not data.hasUrls():
            self.text.setPlainText(data.text()[:LONGEST_LISTING])
            return
        path = Path(data.urls()[0].toLocalFile())
        try:
            text = listing_file(path)
        except BadFile as why:
            self.said.setText(str(why))
            return
        self.source = path.name
        self.text.setPlainText(text)


def _numbers(rows: list[SettingRow]) -> list[SettingRow]:
    return [row for row in rows if isinstance(row.value, (int, float))]


def _held(motor: Settable, name: str) -> str:
    """The unit in which the tag holds a value."""
    typed = name == "steps_per_unit" or name in GAINS
    return "" if typed or not motor.solution.sheet.has(name) else motor.solution.sheet.unit(name)


def _shown(motor: Settable, row: SettingRow, value: Any) -> str:
    if not isinstance(value, (int, float)):
        return str(value)
    if row.name in GAINS:
        return f"{number_text(value, 3)} {gain_unit(motor, row.name)}"
    if row.name == "steps_per_unit":
        return number_text(value, 6)
    sheet = motor.solution.sheet
    return str(show(value, sheet.unit(row.name), motor.system, 4, own=sheet.shown(row.name)))


def _summary(shown: list[Compared], there: bool) -> str:
    """What a reading came to, in a sentence or two."""
    if not shown:
        return "Nothing of it is read yet: put the cursor on a number and teach what it is." if there else ""
    differing, other = sum(one.differs for one in shown), sum(one.other for one in shown)
    said = (f"{counted(len(shown), 'value')} read; {differing or 'none'} {'differs' if differing == 1 else 'differ'} from what is"
            " computed")
    return f"{said}, {other or 'none'} from what is recorded as set."
