"""Coils: what the ohmmeter shows between the leads of the motor, and which leads belong together."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QPlainTextEdit, QVBoxLayout, QWidget

from urban_mule.core.moves.coils import Coils, coils_of, typed_resistances
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.session import Session

CAUTION = ("Power off, the driver's charge gone, the motor unplugged from it: a motor turned by hand makes a voltage, and a driver"
           " that is still joined can be destroyed by it.")
HOW = "One line for each pair: two leads as you call them, and the ohms, or open. Any order; open ones may be left out."
PAUSE = 400  # ms after the last key until what is typed is looked at and kept


class CoilsPicture(Picture):
    """Lines on the left; on the right the coils, what to join, and what is wrong."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 8, 12, 8)
        row.setSpacing(18)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addWidget(Label(HOW, objectName="label", wordWrap=True))
        self.editor = QPlainTextEdit(placeholderText="red blue 1.6\ngreen black 1.6\nred green open")
        self.editor.setAccessibleName("Resistances between leads")
        self.editor.setTabChangesFocus(True)
        self.editor.textChanged.connect(self._typed)
        left.addWidget(self.editor, 1)
        left.addWidget(Label(CAUTION, objectName="caution", wordWrap=True))
        self.said = Label(objectName="heading", wordWrap=True)
        self.listed = Ranked(("coil", "from end to end", "tap"), (3, 2, 2))
        self.join = Label(wordWrap=True)
        right.addWidget(self.said)
        right.addWidget(self.listed, 1)
        right.addWidget(self.join)
        row.addLayout(left, 2)
        row.addLayout(right, 3)
        self._later = QTimer(self, singleShot=True, interval=PAUSE)
        self._later.timeout.connect(self.keep)

    def _typed(self) -> None:
        self._later.start()

    def keep(self) -> None:
        """Keep what is typed, and say what it means."""
        self._later.stop()
        text = self.editor.toPlainText().strip()
        if text != self.state.axis.coil_resistances:
            try:
                self.session.edit(self.session.axis_path("coil_resistances"), text, f"{self.state.axis.name}: coils measured")
            except BadValue as why:
                self.said.setText(f"{why}.")
                return
        self._say()

    def redraw(self) -> None:
        text = self.state.axis.coil_resistances
        if self.editor.toPlainText().strip() != text and not self._later.isActive():
            self.editor.blockSignals(True)
            self.editor.setPlainText(text)
            self.editor.blockSignals(False)
        self._say()

    def _say(self) -> None:
        axis = self.state.axis
        leads = int(getattr(axis.motor, "leads", None) or 4)
        self.join.setText("")
        try:
            readings = typed_resistances(axis.coil_resistances)
            if not readings:
                self.said.setText(f"A motor of {leads} leads. Which of them belong to one coil, the ohmmeter tells.")
                self.listed.show_rows([])
                return
            found = coils_of(readings, leads, self.state.solution.get("phase_resistance"))
        except BadValue as why:
            self.said.setText(f"{str(why)[:1].upper()}{str(why)[1:]}.")
            self.listed.show_rows([])
            return
        self._show(found)

    def _show(self, found: Coils) -> None:
        self.listed.show_rows([RankedRow(" – ".join(one.ends), (f"{number_text(one.resistance, 3)} Ω", one.tap or "none"))
                               for one in found.coils])
        self.said.setText(" ".join(found.faults) if found.faults else f"{len(found.coils)} sound coils.")
        self.join.setText("\n".join(f"{name[:1].upper()}{name[1:]}: {words}." for name, words in found.wirings.items()))
