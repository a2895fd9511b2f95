"""Coils: what the ohmmeter shows between the leads of the motor, and which leads belong together."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.moves.coils import Coil, Coils, coils_of, crossed, typed_plug, typed_resistances
from urban_mule.core.moves.loops import HARD, SEPARATOR, loops_stand, typed_loops
from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.stages.moves.windings import Windings

CAUTION = ("Power off, the driver's charge gone, the motor unplugged from it: a motor turned by hand makes a voltage, and a driver"
           " that is still joined can be destroyed by it.")
HOW = "One line for each pair: two leads as you call them, and the ohms, or open. Any order; open ones may be left out."
LOOPED, PHASES = 4, 2  # coils of a motor with eight leads; phases of a stepper
PAUSE = 400  # ms after the last key until what is typed is looked at and kept


class CoilsPicture(Picture):
    """Lines on the left; on the right the windings with their leads, and what to join. What is wrong is the headline."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
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
        self._words = ""
        self.drawn = Windings()
        self.join = Label(wordWrap=True)
        right.addWidget(self.drawn, 1)
        right.addWidget(self.join)
        self.plug = QLineEdit(placeholderText="as plugged: red blue, white green", accessibleName="Leads on phase A, on phase B")
        self.plug.editingFinished.connect(self._plugged)
        self.plug_said = Label(wordWrap=True)
        right.addWidget(self.plug)
        right.addWidget(self.plug_said)
        keys = QHBoxLayout()
        self.keys = {name: QPushButton(f"{number}  {name[:1].upper()}{name[1:]}", autoDefault=False)
                     for number, name in enumerate((*HARD, "one back"), start=1)}
        for name, button in self.keys.items():
            button.clicked.connect(lambda _on, name=name: self.turned(name))
            keys.addWidget(button)
        right.addLayout(keys)
        self._asked: tuple[Coil, Coil] | None = None
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
                self._tell(f"{why}.")
                return
        self._say()

    def says(self) -> tuple[str, str] | None:
        """What the resistances say."""
        return self._words, ""

    def _tell(self, words: str) -> None:
        self._words = words
        self.said_anew.emit()

    def _write_down(self, key: str, text: str, label: str) -> None:
        try:
            self.session.edit(self.session.axis_path(key), text, f"{self.state.axis.name}: {label}")
        except BadValue as why:
            self.session.told.emit(f"{why}.")

    def _plugged(self) -> None:
        if self.plug.text().strip() != self.state.axis.coil_plug:
            self._write_down("coil_plug", self.plug.text().strip(), "leads as plugged")
            self._say()

    def turned(self, name: str) -> None:
        """How hard the shaft turned with the two coils that were asked about, or the last answer back."""
        lines = self.state.axis.coil_loops.splitlines()
        if name == "one back":
            lines = lines[:-1]
        elif self._asked is not None:
            said = SEPARATOR.join(" ".join(one.ends) for one in self._asked)
            lines = [line for line in lines if not line.startswith(f"{said}: ")] + [f"{said}: {name}"]
        self._write_down("coil_loops", "\n".join(lines), "coils in one loop")
        self._say()

    def redraw(self) -> None:
        if not self.plug.hasFocus():
            self.plug.setText(self.state.axis.coil_plug)
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
        self.plug_said.setText("")
        self._asked = None
        for widget in (self.plug, *self.keys.values()):
            widget.hide()
        try:
            readings = typed_resistances(axis.coil_resistances)
            if not readings:
                self.drawn.show_coils((), (), leads)
                self._tell(f"A motor of {leads} leads. Which of them belong to one coil, the ohmmeter tells.")
                return
            found = coils_of(readings, leads, self.state.solution.get("phase_resistance"))
        except BadValue as why:
            self._tell(f"{str(why)[:1].upper()}{str(why)[1:]}.")
            return
        joined = {lead for one in found.coils for lead in (*one.ends, one.tap)}
        self.drawn.show_coils(found.coils, tuple(sorted({name for pair in readings for name in pair} - joined)), leads)
        self._show(found)

    def _show(self, found: Coils) -> None:
        self._tell(" ".join(found.faults) if found.faults else f"{len(found.coils)} sound coils.")
        if found.faults:
            return
        if len(found.coils) == LOOPED:
            self._show_loops(found)
        else:
            self.join.setText(_in_lines(found.wirings, self._wiring()))
        self._show_plug(found)

    def _show_loops(self, found: Coils) -> None:
        """Four coils: led by one test after the other to which belong to one phase."""
        axis = self.state.axis
        try:
            stand = loops_stand(found.coils, typed_loops(axis.coil_loops, found.coils))
        except BadValue as why:
            self.join.setText(f"{why}.")
            return
        self._asked = stand.next
        for name, button in self.keys.items():
            button.setVisible(stand.next is not None if name in HARD else bool(axis.coil_loops))
        self.join.setText("\n".join(filter(None, (stand.sentence, _in_lines(stand.wirings, self._wiring())))))

    def _wiring(self) -> str:
        return str(getattr(self.state.axis.motor, "wiring", None) or "")

    def _show_plug(self, found: Coils) -> None:
        """Whether the plug joins what belongs together; of eight leads the joints stand in between."""
        if len(found.coils) == LOOPED:
            return
        self.plug.show()
        try:
            plug = typed_plug(self.state.axis.coil_plug)
            wrong = crossed(found.coils, plug)
        except BadValue as why:
            wrong = f"{str(why)[:1].upper()}{str(why)[1:]}."
            plug = ()
        self.plug_said.setText(wrong or ("Plugged right: each phase of the driver has one coil." if len(plug) == PHASES else
                                         "Type the leads on phase A, a comma, and those on phase B: a crossed pair is named."))


def _in_lines(wirings: Mapping[str, str], chosen: str) -> str:
    """What to join for each wiring, the chosen one first."""
    order = sorted(wirings, key=lambda name: name != chosen)
    return "\n".join(f"{name[:1].upper()}{name[1:]}{', as chosen' if name == chosen else ''}: {wirings[name]}." for name in order)
