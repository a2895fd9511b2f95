"""Upkeep: what is looked after on this axis, by date or by distance run, when it was done last and when it is due."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.booked import book
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.model.upkeep import UpkeepTasks, due_words, lanes_of, rhythm, today
from urban_mule.desk.shared.procedure import Procedure
from urban_mule.desk.shared.year import Year
from urban_mule.store.document.project import UpkeepModel

HEADS = ("what is looked after", "every", "done last", "due")
NOTHING = "Nothing is looked after on this axis yet."
HOW = "Grease, belt tension, preload, bolts: type a task and how often, such as 90 d or 40 km."


class UpkeepPicture(Picture):
    """A row for each task, with the keys that book it done or take it off the list. Tasks stand on no sheet: every edit counts."""

    session: Whole

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.upkeep = UpkeepTasks(session)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 8, 12, 8)
        self.said = Label(objectName="wrong", wordWrap=True)
        self.listed = Ranked(HEADS, (4, 3, 3, 4))
        self.listed.pressed.connect(self._pressed)
        row = QHBoxLayout()
        self.task = QLineEdit(accessibleName="Task of maintenance", placeholderText="grease the screw")
        self.every = QLineEdit(accessibleName="How often", placeholderText="90 d or 40 km")
        self.add = QPushButton("Look after it", autoDefault=False)
        for line in (self.task, self.every):
            line.returnPressed.connect(self.take_on)
        self.add.clicked.connect(self.take_on)
        row.addWidget(self.task, 3)
        row.addWidget(self.every, 2)
        row.addWidget(self.add)
        self.drawn = Year(session)
        box.addWidget(self.drawn, 3)
        box.addWidget(self.listed, 2)
        box.addWidget(self.said)
        box.addLayout(row)
        session.book_changed.connect(self._anew)

    @property
    def tasks(self) -> tuple[Any, ...]:
        """The tasks of the axis."""
        return tuple(self.state.axis.maintenance or ())

    def redraw(self) -> None:
        found = self.upkeep.of_axis(self.state.axis)
        self.listed.show_rows([RankedRow(one.task, (one.every, one.done, one.due), ("Done", "Steps…", "Drop it")) for one in found])
        self.listed.setVisible(bool(found))
        self.drawn.show_lanes(lanes_of(found, False), today())
        self.said.setText("")
        self.said.hide()
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """How much of this axis is due."""
        found = self.upkeep.of_axis(self.state.axis)
        return due_words(found, NOTHING), "" if found else HOW

    def take_on(self) -> None:
        """Put the task that is typed on the list."""
        task, every = self.task.text().strip(), self.every.text().strip()
        try:
            if not task or any(one.task == task for one in self.tasks):
                raise BadValue(f"“{task}” is on the list already" if task else "the task has no name")
            made = UpkeepModel.model_validate({"task": task, **rhythm(every, self.state.axis.motion == "linear")})
        except (BadValue, ValueError) as why:
            said = str(why).splitlines()[0]
            self.said.setText(f"{said[:1].upper()}{said[1:]}.")
            self.said.show()
            return
        self.session.edit(self.session.axis_path("maintenance"), (*self.tasks, made), f"look after: {task}")
        self.task.clear()
        self.every.clear()

    def _pressed(self, task: str, words: str) -> None:
        who = next((one.id for one in self.tasks if one.task == task), "")
        if words == "Done":
            book(self.session, task, "maintained", self.state.id, task=who)
        elif words == "Steps…":
            Procedure(self.session, self.state.axis, who, self).show()
        else:
            left = tuple(one for one in self.tasks if one.task != task)
            self.session.edit(self.session.axis_path("maintenance"), left or None, f"no more looked after: {task}")
