"""Due: what is looked after on all axes, what is overdue first, booked done from here."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.booked import book
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.model.upkeep import Standing, UpkeepTasks, due_words, lanes_of, today
from urban_mule.desk.shared.procedure import Procedure
from urban_mule.desk.shared.year import Year

HEADS = ("on which axis, what", "every", "done last", "due")
NOTHING = "Nothing is looked after yet: take tasks on at Slack, upkeep, on the axis that they belong to."


class DuePicture(Picture):
    """A row for each task of every axis. Tasks stand on no sheet: every edit counts."""

    session: Whole

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.upkeep = UpkeepTasks(session)
        self.found: dict[str, Standing] = {}
        self._sought = ""
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 8, 12, 8)
        self.drawn = Year(session)
        self.listed = Ranked(HEADS, (4, 2, 2, 4))
        self.listed.pressed.connect(self._done)
        box.addWidget(self.drawn, 3)
        box.addWidget(self.listed, 2)
        session.book_changed.connect(self._anew)

    def redraw(self) -> None:
        self.found = {f"{one.axis}: {one.task}": one for one in self.upkeep.of_all()}
        self.listed.show_rows([RankedRow(name, (one.every, one.done, one.due), ("Done", "Steps…"))
                               for name, one in self.found.items() if self._sought in f"{name} {one.due}".lower()])
        self.listed.setVisible(bool(self.found))
        self.drawn.show_lanes(lanes_of(self.found.values(), True), today())
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """How much is due."""
        first = next(iter(self.found.values()), None)
        nxt = "" if first is None else f"First {first.axis}, {first.task}: {first.due}."
        return due_words(tuple(self.found.values()), NOTHING), nxt

    def look_for(self, text: str) -> None:
        """Show only the tasks that hold these words."""
        self._sought = text.lower()
        self.redraw()

    def _done(self, name: str, words: str) -> None:
        one = self.found[name]
        axis = self.session.axis_of(one.whose)
        if words == "Steps…" and axis is not None:
            Procedure(self.session, axis, one.id, self).show()
            return
        book(self.session, one.task, "maintained", one.whose, task=one.id)
