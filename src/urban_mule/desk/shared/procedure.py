"""The procedure of a task of upkeep: what it is called, how often, its steps and photographs; kept, and booked done from here."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.booked import book
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.model.upkeep import rhythm, rhythm_typed
from urban_mule.desk.shared.photograph import Photograph
from urban_mule.store.document.project import Axis, UpkeepModel

CAUTION = "Power off before a hand goes in; what falls or rises without power is blocked first."


class Procedure(Dialog):
    """One task of an axis, by its id. Enter keeps it, Esc leaves it as it was; what was booked of it follows it to another name."""

    def __init__(self, session: Whole, axis: Axis, task: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.session, self._whose, self._task = session, axis.id, task
        it = self._it
        self.setWindowTitle(f"{axis.name}: {it.task}")
        self.resize(620, 460)
        box, grid = QVBoxLayout(self), QGridLayout()
        box.setContentsMargins(20, 16, 20, 16)
        self.name = QLineEdit(it.task, accessibleName="What is looked after")
        self.every = QLineEdit(rhythm_typed(it, axis.motion == "linear"), accessibleName="How often")
        self.steps = QPlainTextEdit("\n".join(it.steps or ()), tabChangesFocus=True)
        self.steps.setAccessibleName("Steps, one a line")
        self.steps.setPlaceholderText("one step a line: power off, cover off, wipe, two strokes of grease …")
        for row, (words, widget) in enumerate((("what", self.name), ("every", self.every), ("steps", self.steps))):
            grid.addWidget(Label(words, objectName="label"), row, 0, Qt.AlignmentFlag.AlignTop)
            grid.addWidget(widget, row, 1)
        box.addLayout(grid, 1)
        self.pictures = QHBoxLayout()
        self.pictures.addStretch(1)
        box.addLayout(self.pictures)
        self._names: list[str] = []
        for name in (*(it.photographs or ()), ""):
            self._add_picture(name)
        self.said = Label(CAUTION, objectName="caution", wordWrap=True)
        box.addWidget(self.said)
        keys = QHBoxLayout()
        keep, done, leave = QPushButton("Keep it", objectName="strong"), QPushButton("Done today", autoDefault=False), QPushButton(
            "Close", autoDefault=False)
        keep.setDefault(True)
        keep.clicked.connect(self.keep)
        done.clicked.connect(self.done_today)
        leave.clicked.connect(self.reject)
        keys.addStretch(1)
        for button in (done, leave, keep):
            keys.addWidget(button)
        box.addLayout(keys)
        self.name.setFocus()

    @property
    def _axis(self) -> Axis:
        """The axis as it is now. Raises BadValue when it is gone."""
        axis = self.session.axis_of(self._whose)
        if axis is None:
            raise BadValue("the axis is gone; undo brings it back")
        return axis

    @property
    def _it(self) -> Any:
        """The task as it is now. Raises BadValue when it is gone."""
        found = next((one for one in self._axis.maintenance or () if one.id == self._task), None)
        if found is None:
            raise BadValue("the task is not on the list any more; undo brings it back")
        return found

    def _add_picture(self, name: str) -> None:
        shown = Photograph(self.session, self._it.task)
        if name:
            self._names.append(name)
            shown.show_photograph(name)
        shown.taken.connect(lambda taken, before=name: self._pictured(taken, before))
        self.pictures.insertWidget(self.pictures.count() - 1, shown)

    def _pictured(self, taken: str, before: str) -> None:
        """A photograph came in: in the place of the one that was there, else with a free place after it."""
        if before in self._names:
            self._names[self._names.index(before)] = taken
        else:
            self._names.append(taken)
            self._add_picture("")

    def keep(self) -> bool:
        """Keep what is typed; whether it could be."""
        try:
            axis, it, name = self._axis, self._it, self.name.text().strip()
            tasks = tuple(axis.maintenance or ())
            if any(one.task == name and one is not it for one in tasks):
                raise BadValue(f"“{name}” is on the list already")
            steps = tuple(line.strip() for line in self.steps.toPlainText().splitlines() if line.strip())
            linear = axis.motion == "linear"
            often = {} if self.every.text() == rhythm_typed(it, linear) else {
                "every_days": None, "every_distance": None, **rhythm(self.every.text(), linear)}
            made = UpkeepModel.model_validate({
                **dict(it), **often, "task": name, "steps": steps or None, "photographs": tuple(self._names) or None}).be(it.id)
        except (BadValue, ValueError) as why:
            said = str(why).splitlines()[0]
            self.said.setText(f"{said[:1].upper()}{said[1:]}.")
            return False
        place = self.session.project.axes.index(axis)
        self.session.edit(("axes", place, "maintenance"), tuple(made if one is it else one for one in tasks), f"upkeep: {name}")
        self.accept()
        return True

    def done_today(self) -> None:
        """Keep it, and book it done."""
        if self.keep():
            book(self.session, self._it.task, "maintained", self._whose, task=self._task)
