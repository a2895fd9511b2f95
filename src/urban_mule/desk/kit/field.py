"""Fields: what people type, bound to one place of the document. A field keeps no value of its own."""

from __future__ import annotations

import re
from itertools import zip_longest

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QPaintEvent, QShowEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QStyle,
    QStyleOptionComboBox,
    QStylePainter,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, Given
from urban_mule.desk.kit.asked import not_allowed
from urban_mule.desk.kit.number_line import NumberLine
from urban_mule.desk.kit.one_line import Title, write_narrower
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.kit.theme import polish_again
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.base import LARGEST_TOLERANCE
from urban_mule.store.document.edit import Path, open_path

DIGITS = 6
DOUBT = "±: how sure you said it is; in brackets: how sure such numbers usually are, 95 in 100. Type 5.6 ± 5 % to say it yourself."
SHARED = " shared"  # ends a hint that says what the project has for all axes


class Beside(Label):
    """What stands beside a field; a press on it is told."""

    pressed = pyqtSignal()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.pressed.emit()
        super().mousePressEvent(event)


class Choice(QComboBox):
    """A choice whose words are shortened with a mark where they do not fit; its list and its hint have them whole."""

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        option = QStyleOptionComboBox()
        self.initStyleOption(option)
        style = self.style()
        assert style is not None
        room = style.subControlRect(QStyle.ComplexControl.CC_ComboBox, option, QStyle.SubControl.SC_ComboBoxEditField, self)
        painter = QStylePainter(self)
        write_narrower(painter, option.currentText or "", room.width() - 2)
        option.currentText = painter.fontMetrics().elidedText(option.currentText, Qt.TextElideMode.ElideRight, room.width() - 2)
        painter.drawComplexControl(QStyle.ComplexControl.CC_ComboBox, option)
        painter.drawControl(QStyle.ControlElement.CE_ComboBoxLabel, option)
        painter.end()


class Field(QWidget):
    """A number with a unit, or a choice, at a path of the document.

    Wrong text stays in the field, what is wrong stands beneath it, and the last good value goes on being used. Empty
    means not known. Up and Down nudge the digit at the cursor. `5.6 ± 0.3` or `5.6 ± 5 %` gives the value a tolerance.
    bare: without its name and usual unit, for a table whose head says them. hint: what stands in it while it is empty.
    """

    wrong_changed = pyqtSignal(bool)

    def __init__(self, session: Scope, path: Path, given: Given, parent: QWidget | None = None, name: str = "",
                 bare: bool = False, hint: str = "?") -> None:
        super().__init__(parent)
        self.session, self.path, self.given = session, path, given
        self.name = given.name
        self.setObjectName(f"field {name or given.name}")
        self._unit: str | None = None
        self._doubted, self._pressed = "", False  # the text that was asked about, since it is far off; whether Enter keeps it
        self._echo = False
        self._bare, self._hint = bare, hint
        title = self.title = Title(name or given.label, objectName="label")
        title.tell(given.doc)
        self.unit_label = Beside(objectName="unit")
        self.unit_label.pressed.connect(self._say_how_sure)
        tip(self.unit_label, DOUBT)
        self.unit_label.setMinimumWidth(0 if bare else 34)
        self.wrong = Label(objectName="wrong", wordWrap=True)
        self.wrong.hide()
        self.editor: QLineEdit | QComboBox = self._choices() if given.choices else self._line()
        self.editor.setAccessibleName(f"{given.label}: {given.doc}")
        title.setBuddy(self.editor)
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        row.addWidget(self.editor, 1)
        if not given.choices:
            row.addWidget(self.unit_label)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addWidget(title)
        title.setVisible(not bare)
        box.addLayout(row)
        box.addWidget(self.wrong)
        self.setFocusProxy(self.editor)
        session.changed.connect(self._changed)
        self.refresh()

    def _line(self) -> QLineEdit:
        line = NumberLine()
        line.setPlaceholderText(self._hint.removesuffix(SHARED))
        line.returnPressed.connect(self._press)
        line.editingFinished.connect(self.commit)
        line.textEdited.connect(lambda _text: self._judge(""))
        line.installEventFilter(self)
        return line

    def _say_how_sure(self) -> None:
        """How sure the number is stands in the field, to be typed over."""
        found = re.search(r"±([\d.]+) %", self.unit_label.text())
        if found is None or not isinstance(self.editor, QLineEdit) or not self.editor.text() or self.editor.isModified():
            return
        before = f"{self.editor.text()} ± "
        self.editor.setText(f"{before}{found[1]} %")
        self.editor.setModified(True)
        self.editor.setFocus()
        self.editor.setSelection(len(before), len(found[1]))

    def _press(self) -> None:
        self._pressed = True

    def _choices(self) -> QComboBox:
        box = Choice()
        box.setMinimumWidth(44)
        box.currentTextChanged.connect(lambda text: tip(box, text))
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.addItem(self._hint, None)
        for choice, stands_for in zip_longest(self.given.choices, self.given.written_out):
            said = choice if isinstance(choice, str) else "yes" if choice else "no"
            box.addItem(f"{said}: {stands_for}" if stands_for else said, choice)
        box.activated.connect(lambda _index: self._take(box.currentData()))
        return box

    @property
    def si_unit(self) -> str:
        unit = self.given.unit
        for placeholder, real in self.session.sheet.units.items():
            unit = unit.replace(placeholder, real)
        return unit

    @property
    def unit(self) -> str:
        """The unit in which the field shows and takes plain numbers."""
        return self._unit or units.unit_shown(self.si_unit, self.session.system, self.given.shown)

    def _changed(self, _names: object) -> None:
        if self.isVisible():
            self._follow()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._follow()

    def _follow(self) -> None:
        """Show what the document holds, unless somebody is typing here or has still to mend what is wrong."""
        if not (isinstance(self.editor, QLineEdit) and (self.editor.isModified() or not self.wrong.isHidden())):
            self.refresh()

    def release(self) -> None:
        """Listen no more: the field is about to go, and its path may soon mean something else."""
        self.session.changed.disconnect(self._changed)
        if isinstance(self.editor, QLineEdit):
            self.editor.setModified(False)

    def refresh(self) -> None:
        """Show what the document holds."""
        value = self.session.value(self.path)
        self._judge("")
        self._echo = True
        if isinstance(self.editor, QComboBox):
            self.editor.setCurrentIndex(max(0, self.editor.findData(value)))
        else:
            assumed = value is None and self.given.assumed and self._hint == "?"
            shown = self.given.default if value is None and self._hint == "?" and not assumed else value
            unit, share = "" if self._bare and self._unit is None else self.unit, self.tolerance
            usual = self.path[-1] in (self.session.value((*self.path[:-1], "usual")) or ())
            beneath = "" if share is None else f"±{units.number_text(100 * share, 2)} %"
            learnt = self._learnt(value)
            if bool(self.unit_label.property("learnt")) != bool(learnt):
                self.unit_label.setProperty("learnt", bool(learnt))
                polish_again(self.unit_label)
            beneath = "assumed" if assumed else learnt or ("usual" if usual else beneath or self._usually(shown))
            if value is None and self._hint.endswith(SHARED):
                beneath = SHARED.strip()
            self.unit_label.setText(f"{unit}\n{beneath}".strip())
            if assumed:
                self.editor.setPlaceholderText(units.number_text(self.given.default / self._factor(), DIGITS))
            text = "" if shown is None else units.number_text(shown / self._factor(), DIGITS)
            if self.editor.text() != text:
                self.editor.setText(text)
                if not self.editor.hasFocus():
                    self.editor.setCursorPosition(0)  # so that of one that is too long even narrower the beginning is seen
            self.editor.setModified(False)
        self._echo = False

    def _usually(self, value: float | None) -> str:
        """What the number is good for, where nobody has said: twice what is usual of such numbers, as a share of it."""
        standard = None if value is None or self.given.doubt is None or self.path[0] != "axes" else self.given.doubt.standard(value)
        if not standard or not value:
            return ""
        return f"(±{units.number_text(100 * units.COVERAGE * standard / abs(value), 2)} %)"

    def _learnt(self, value: float | None) -> str:
        """How sure the number is where it was learnt from readings; from which, and what it was before, stands in the hint."""
        belief = getattr(self.session.axis, "belief", None)
        path = open_path(self.path)
        row = None if belief is None or value is None else belief.row_of(path, value)
        if row is not None and value:
            sure, before, source = row
            factor = self._factor()
            known = units.with_doubt(value / factor, sure / factor)
            was = units.number_text(before / factor, 3)
            self.title.tell(f"{self.given.doc}. Learnt from {source}: {was} → {known} {self.unit}")
            return f"±{units.number_text(100 * units.COVERAGE * sure / abs(value), 2)} %"
        self.title.tell(self.given.doc)
        return ""

    @property
    def tolerance(self) -> float | None:
        """Half width of the value as a share of it, where the document says one."""
        shares = self.session.value((*self.path[:-1], "tolerances")) if self.path[0] == "axes" else None
        found: float | None = (shares or {}).get(self.path[-1])
        return found

    def _factor(self) -> float:
        return units.factor(self.unit, self.si_unit)

    def commit(self) -> None:
        """Take what stands in the field into the document, or say what is wrong."""
        if self._echo or not isinstance(self.editor, QLineEdit) or not self.editor.isModified():
            return
        text, _, half_width = self.editor.text().strip().replace("+-", "±").replace("+/-", "±").partition("±")
        if not text:
            self._take(None)
            return
        try:
            value, unit = units.parse(text, self.si_unit, self.unit)
            share = self._share(half_width, value, unit) if half_width else None
        except BadValue as why:
            self._judge(str(why))
            return
        if units.far_off(value, self.si_unit) and not (self._doubted == text and self._pressed):
            self._doubted, self._pressed = text, False
            said = text if unit in text else f"{text} {unit}"
            self._judge(f"{said} is far beyond what such machines have; Enter once more keeps it")
            return
        usual = units.unit_shown(self.si_unit, self.session.system, self.given.shown)
        former, self._unit = self._unit, None if unit == usual else unit
        if not self._take(value, share):
            self._unit = former

    def _share(self, half_width: str, value: float, unit: str) -> float:
        """A typed half width, `0.3`, `0.3 kg` or `5 %`, as a share of the value. Raises BadValue."""
        if self.path[0] != "axes" or self.given.whole:
            raise BadValue("this value takes no tolerance")
        if value == 0:
            raise BadValue("a tolerance of nothing says nothing; type a value that is not zero")
        percent = half_width.strip().endswith("%") and self.unit != "%"
        share = units.parse(half_width, "", "%")[0] if percent else units.parse(half_width, self.si_unit, unit)[0] / value
        if not 0 <= abs(share) <= LARGEST_TOLERANCE:
            raise BadValue(f"±{100 * abs(share):.3g} % is too wide; at most ±{100 * LARGEST_TOLERANCE:.3g} % are taken")
        return abs(share)

    def _take(self, value: object, share: float | None = None) -> bool:
        changes: list[tuple[Path, object]] = [(self.path, value)]
        if share is not None:
            parent = self.path[:-1]
            shares = dict(self.session.value((*parent, "tolerances")) or {})
            shares.pop(self.path[-1], None)
            changes.append(((*parent, "tolerances"), {**shares, **({self.path[-1]: share} if share else {})} or None))
        try:
            self.session.edit_all(changes)
        except BadValue as why:
            self._judge(self._own_words(why))
            return False
        self.refresh()
        return True

    def _own_words(self, why: BadValue) -> str:
        """The core's sentence in the unit of this field."""
        if not isinstance(self.editor, QLineEdit):
            return why.fault
        return not_allowed(self.given, why, self.editor.text().strip(), self.unit, self.si_unit)

    def _judge(self, why: str) -> None:
        was = not self.wrong.isHidden()
        self.wrong.setText(why)
        self.wrong.setVisible(bool(why))
        if bool(why) != was:
            self.editor.setProperty("wrong", "true" if why else "false")
            polish_again(self.editor)
            self.wrong_changed.emit(bool(why))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and self._undoes_the_project(event):
            event.ignore()
            return True
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and isinstance(self.editor, QLineEdit):
            if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
                self.nudge(1 if event.key() == Qt.Key.Key_Up else -1)
                return True
            if event.key() == Qt.Key.Key_Escape and self.editor.isModified():
                self.editor.setModified(False)
                self.refresh()
                return True
        return super().eventFilter(watched, event)

    def _undoes_the_project(self, event: QKeyEvent) -> bool:
        """Undo and redo belong to the project unless a text is half typed; a line would keep them to itself."""
        keys = (QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo)
        return isinstance(self.editor, QLineEdit) and not self.editor.isModified() and any(event.matches(k) for k in keys)

    def nudge(self, direction: int) -> None:
        """Count the digit at the cursor up or down by one and take the value."""
        assert isinstance(self.editor, QLineEdit)
        text, cursor = self.editor.text(), self.editor.cursorPosition()
        found = re.match(r"\s*[+\-−]?[\d.,]+", text)
        if found is None or not any(sign.isdigit() for sign in found[0]):
            return
        digits = found[0].replace(",", ".").replace("−", "-")
        if digits.count(".") > 1:
            return  # a list, or thousands: no number that can be counted up
        point = digits.find(".") if "." in digits else len(digits)
        place = max(0, min(cursor, len(digits)) - 1)
        power = point - 1 - place if place < point else point - place
        decimals = max(len(digits) - point - 1 if "." in digits else 0, -power, 0)
        value = float(digits) + direction * 10.0**power
        self.editor.setText(f"{value:.{decimals}f}{text[found.end():]}")
        self.editor.setModified(True)
        behind = len(text) - cursor
        self.commit()
        self.editor.setCursorPosition(max(0, len(self.editor.text()) - behind))
