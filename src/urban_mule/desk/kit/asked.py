"""A number that a dialog asks for: its name, a line to type into, and the unit in which a number without one is read."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, Given
from urban_mule.desk.kit.painting import Label, tip


def not_allowed(given: Given, why: BadValue, text: str, unit: str, si_unit: str) -> str:
    """What is wrong with what was typed, and what is allowed, in the unit in which it was asked for."""
    if why.beyond:
        return _outside(given, text, unit, si_unit)
    if "no magnitude" in why.fault:
        return f"{text} {unit} is far beyond what any machine has"
    return f"{text} is not allowed; allowed is {given.allowed()}" if why.fault.startswith("is ") else why.fault


def _outside(given: Given, text: str, unit: str, si_unit: str) -> str:
    """That what was typed is outside what is allowed of a given."""
    low = given.above if given.above is not None else given.least
    factor = units.factor(unit, si_unit) if unit else 1.0
    bounds = [f"{'above' if given.above is not None else 'at least'} {low / factor:.6g}"] if low is not None else []
    bounds += [f"at most {given.most / factor:.6g}"] if given.most is not None else []
    allowed = " and ".join(bounds) or ("not zero" if given.nonzero else "a number")
    return f"{text} is outside what is allowed: {allowed} {unit}".rstrip()


class Asked(QWidget):
    """A line with its name above and its unit beside; takes `200 mm/s` as well as a number in the unit that is shown.

    words: its name; doc: what it means, in its hint. Without a unit its line is a text.
    """

    def __init__(self, words: str, doc: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.words, self.si_unit, self.unit = words, "", ""
        self._given: Given | None = None
        self.title = Label(words, objectName="label")
        self.line = QLineEdit(placeholderText="?", accessibleName=words)
        self.unit_label = Label(objectName="unit")
        self.title.setBuddy(self.line)
        tip(self.line, doc)
        row = QHBoxLayout()
        row.setSpacing(4)
        row.addWidget(self.line, 1)
        row.addWidget(self.unit_label)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addWidget(self.title)
        box.addLayout(row)
        self.setFocusProxy(self.line)

    def ask(self, words: str, si_unit: str, system: str, given: Given | None = None) -> None:
        """Ask for this, read and shown as the fields of the project do; given: what it has to keep to."""
        self.words, self.si_unit, self._given = words, si_unit, given
        self.unit = units.unit_shown(si_unit, system, given.shown if given is not None else "") if si_unit else ""
        self.title.setText(words)
        self.unit_label.setText(self.unit)
        self.line.setAccessibleName(f"{words}, {self.unit}" if self.unit else words)

    def value(self) -> float | None:
        """What is typed, in SI; None where nothing is. Raises BadValue that names it."""
        text = self.line.text().strip()
        if not text:
            return None
        try:
            value = units.parse(text, self.si_unit, self.unit)[0]
            if self._given is not None:
                self._given.check(value)
        except BadValue as why:
            said = why.fault if self._given is None else not_allowed(self._given, why, text, self.unit, self.si_unit)
            raise BadValue(f"{self.words}: {said}") from None
        return int(value) if self._given is not None and self._given.whole else value

    def text_of(self, value: float) -> str:
        """A value in its unit."""
        return f"{units.number_text(value / units.factor(self.unit, self.si_unit), 4)} {self.unit}".strip()
