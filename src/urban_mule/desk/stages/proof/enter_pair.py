"""Readings of two axes, typed as lines or pasted from a table: a circle, diagonals, a test piece."""

from __future__ import annotations

import math
import re
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.units import factor
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.faults import first_fault
from urban_mule.store.document.pairs import PAIR_MODELS
from urban_mule.store.file.project_file import now

HOW = {
    "circle": "One line a reading: the angle from plus of the first axis towards plus of the second, in degrees; the deviation"
              " of the radius clockwise; and counterclockwise, in {small}. A way that was not measured: a dash.",
    "diagonals": "The indicator or a long rule from corner to corner, in {length}: sides as commanded, then the diagonal from the"
                 " origin to the far corner, then the other one; the uncertainty of the gauge in {length}.",
    "square": "A square lies along the first axis, its blade along the second; the second axis moves. One line a reading: the place"
              " along the second axis in {length}, and how far the carriage is off towards plus of the first, in {small}.",
    "straightness": "A straight edge lies along the first axis, which moves. One line a reading: the place along it in {length},"
                    " and how far the carriage is off towards plus of the second, in {small}.",
    "piece": "One line a length: x or y, the nominal length and the measured one, in {length}.",
}
LIKE = {"circle": "0 3.5 4.1\n10 3.2"
                  " 4.4\n20 -1.0 -", "diagonals": "400\n300\n500.12\n499.98\n0.02", "square": "0 0\n100 3.5\n200 6",
        "straightness": "0 0\n100 2\n200 -1", "piece": "x 50 50.02\ny 50 49.99"}
FIRST = {"circle": "radius, {length}"}
IN = {"metric": {"length": "mm", "small": "µm"}, "inch": {"length": "in", "small": "mil"}}  # how lengths are typed here
MOST_LINES = 5000


class EnterPair(Dialog):
    """Two axes, lines, and one sentence where something cannot be taken; what is typed stays."""

    def __init__(self, session: Scope, kind: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.kind = session, kind
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(f"Enter {kind}")
        self.resize(560, 520)
        box, row = QVBoxLayout(self), QHBoxLayout()
        box.setContentsMargins(20, 16, 20, 16)
        said = IN[session.system]
        box.addWidget(Label(HOW[kind].format(**said), wordWrap=True))
        names = [axis.name for axis in session.project.axes if axis.motion == "linear"]
        self.axes = [QComboBox(accessibleName=f"{which} axis") for which in ("First", "Second")]
        for place, one in enumerate(self.axes):
            one.addItems(names)
            one.setCurrentIndex(min(place, len(names) - 1))
            row.addWidget(one)
        first = FIRST.get(kind, "").format(**said)
        self.first = QLineEdit(placeholderText=first, accessibleName=first or "not needed")
        self.first.setVisible(kind in FIRST)
        self.note = QLineEdit(placeholderText="note", accessibleName="Note")
        row.addWidget(self.first)
        row.addWidget(self.note, 1)
        box.addLayout(row)
        self.lines = QPlainTextEdit(placeholderText=LIKE[kind])
        self.lines.setAccessibleName(f"Readings of the {kind}, a line each")
        self.lines.setTabChangesFocus(True)
        box.addWidget(self.lines, 1)
        self.said = Label(objectName="caution", wordWrap=True)
        self.said.hide()
        box.addWidget(self.said)
        keys = QHBoxLayout()
        keys.addStretch(1)
        take = QPushButton("Take them", objectName="strong")
        take.clicked.connect(self.take)
        keys.addWidget(take)
        box.addLayout(keys)

    def take(self) -> None:
        """Put the readings into the project, undoable; else say what is wrong and where."""
        try:
            made = PAIR_MODELS[self.kind].model_validate({
                "kind": self.kind, "axes": tuple(one.currentText() for one in self.axes), "note": self.note.text().strip(),
                "taken": now().isoformat(), "source": "typed",
                **TYPED[self.kind](self.lines.toPlainText(), self.first.text(), self.session.system)})
            self.session.edit(("readings",), (*(self.session.project.readings or ()), made), f"{self.kind} readings of two axes")
        except (BadValue, ValueError) as why:
            text = first_fault(why)
            self.said.setText(f"{text[:1].upper()}{text[1:]}.")
            self.said.show()
            return
        self.session.write(f"{self.kind.capitalize()} of {' and '.join(made.axes)} taken.", "measured",
                           self.session.project.axis(made.axes[0]).id)
        self.close()


def _rows(text: str) -> list[tuple[int, list[str]]]:
    """Words of each line that is not empty, with its number. Raises BadValue."""
    found = [(number, re.split(r"[;\s]+", line.strip())) for number, line in enumerate(text.splitlines(), start=1) if line.strip()]
    if len(found) > MOST_LINES:
        raise BadValue(f"there are {len(found)} lines; at most {MOST_LINES} are taken")
    if not found:
        raise BadValue("no reading is typed yet")
    return found


def _number(word: str, where: str) -> float:
    try:
        value = float(word.replace(",", ".").replace("−", "-"))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise BadValue(f"{where}: “{word[:30]}” is no number")
    return value


def _length(word: str, where: str, system: str, what: str = "length") -> float:
    """A length as it is typed here [m]."""
    return _number(word, where) * factor(IN[system][what], "m")


def typed_circle(text: str, radius: str, system: str = "metric") -> dict[str, Any]:
    """A circle from lines of an angle [°] and one or two deviations, and its radius, as they are typed. Raises BadValue."""
    ways: dict[str, tuple[list[float], list[float]]] = {"clockwise": ([], []), "counterclockwise": ([], [])}
    for number, words in _rows(text):
        where = f"line {number}"
        if not 2 <= len(words) <= 3:
            raise BadValue(f"{where}: an angle and one or two deviations are needed, here are {len(words)} words")
        angle = _number(words[0], where) * factor("°", "rad")
        for (angles, deviations), word in zip(ways.values(), words[1:], strict=False):
            if word not in ("-", "–", ""):
                angles.append(angle)
                deviations.append(_length(word, where, system, "small"))
    return {"radius": _length(radius, "radius", system) if radius.strip() else None,
            **{name: {"angle": angles, "deviation": deviations} for name, (angles, deviations) in ways.items() if angles}}


def typed_diagonals(text: str, _first: str, system: str = "metric") -> dict[str, Any]:
    """Sides, diagonals and perhaps the gauge's uncertainty as they are typed, a line each. Raises BadValue."""
    rows = [(number, _length(words[0], f"line {number}", system)) for number, words in _rows(text)]
    if not 4 <= len(rows) <= 5:
        raise BadValue(f"four lengths are needed, and perhaps the gauge's uncertainty; here are {len(rows)} lines")
    names = ("side_x", "side_y", "diagonal_plus", "diagonal_minus", "gauge_uncertainty")
    return dict(zip(names, (value for _, value in rows), strict=False))


def typed_piece(text: str, _first: str, system: str = "metric") -> dict[str, Any]:
    """Lengths of a piece along x and y as they are typed. Raises BadValue."""
    found: dict[str, dict[str, list[float]]] = {"x": {"nominal": [], "measured": []}, "y": {"nominal": [], "measured": []}}
    for number, words in _rows(text):
        where = f"line {number}"
        if len(words) != 3 or words[0].lower() not in found:
            raise BadValue(f"{where}: x or y, a nominal and a measured length are needed")
        way = found[words[0].lower()]
        way["nominal"].append(_length(words[1], where, system))
        way["measured"].append(_length(words[2], where, system))
    return found


def typed_along(text: str, _first: str, system: str = "metric") -> dict[str, Any]:
    """Places and deviations as they are typed, a line each. Raises BadValue."""
    places, deviations = [], []
    for number, words in _rows(text):
        where = f"line {number}"
        if len(words) != 2:
            raise BadValue(f"{where}: a place and a deviation are needed")
        places.append(_length(words[0], where, system))
        deviations.append(_length(words[1], where, system, "small"))
    return {"places": places, "deviation": deviations}


TYPED = {
    "square": typed_along, "straightness": typed_along, "circle": typed_circle, "diagonals": typed_diagonals, "piece": typed_piece}
