"""The row that makes a pair of two axes, and dissolves it: two motors that move both together."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.model.scope import Whole
from urban_mule.store.document.shared_motors import SharedMotors

NOBODY = "no other axis"
SHOWN = frozenset({"fellow", "pair_peak_torque", "pair_share"})


class TogetherRow(QWidget):
    """With which other axis this one shares its two motors; said: what came of it, for where there is room."""

    def __init__(self, session: Whole, parent: QWidget) -> None:
        super().__init__(parent)
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 0, 0, 0)
        row.addWidget(Label("Moved together with", objectName="label"))
        self.other = QComboBox(accessibleName="Moved together with")
        tip(self.other, "Two belts and two motors that share the work: plus and minus of both axes. A motor or driver chosen for"
            " one is set for both, and so is a link of the train")
        self.other.activated.connect(lambda _place: self.choose(self.other.currentText()))
        self.turned = QComboBox(accessibleName="Which motor turns by the sum of both axes")
        tip(self.turned, "The one that turns when both axes move to the same side. The other one stands still then")
        self.turned.activated.connect(self.turn)
        self.said = Label("", parent, objectName="label", wordWrap=True)
        row.addWidget(self.other)
        row.addWidget(self.turned)
        self.refresh()
        session.changed.connect(self._changed)

    def _changed(self, names: frozenset[str]) -> None:
        if self.isVisible() and not names.isdisjoint(SHOWN):
            self.refresh()

    def refresh(self) -> None:
        """Offer the linear axes; say what a pair asks of each motor."""
        project, axis = self.session.project, self.session.axis
        fellow = project.fellow_of(axis)
        others = [one.name for one in project.axes if one is not axis and one.motion == "linear"]
        self.setVisible(axis.motion == "linear" and bool(others))
        self.other.clear()
        self.other.addItems([NOBODY, *others])
        self.other.setCurrentText(NOBODY if fellow is None else fellow.name)
        pair = project.pair_of(axis)
        self.turned.setVisible(pair is not None)
        if pair is not None:
            one, other = pair.axes
            self.turned.clear()
            self.turned.addItems([f"motor {letter} turns by {one} plus {other}" for letter in "AB"])
            self.turned.setCurrentIndex(int(pair.turned))
        self._say("" if fellow is None else self._asked(fellow.name))

    def _say(self, text: str) -> None:
        self.said.setText(text)
        self.said.setVisible(bool(text))

    def _asked(self, fellow: str) -> str:
        get = self.session.solution.get
        torque, share = get("pair_peak_torque"), get("pair_share")
        if torque is None or share is None:
            return f"What {fellow} asks is not known yet: its load, its train and its cycle tell it."
        return (f"{number_text(float(torque), 3)} N·m of each motor when both are at their hardest, {100 * float(share):.0f} %"
                f" of it {fellow}'s.")

    def turn(self, place: int) -> None:
        """Say which motor turns by the sum: A (place 0) or B; one undo step."""
        session, pair = self.session, self.session.project.pair_of(self.session.axis)
        if pair is None or pair.turned == bool(place):
            return
        others = tuple(one for one in session.project.pairs or () if one is not pair)
        session.edit_all([(("pairs",), (*others, pair.model_copy(update={"turned": bool(place)})))],
                         f"motor {'AB'[place]} turns by {pair.axes[0]} plus {pair.axes[1]}")
        self.refresh()

    def choose(self, name: str) -> None:
        """Make a pair with another axis, or dissolve the one there is; one undo step. Why it cannot be is said."""
        session, axis = self.session, self.session.axis
        kept = tuple(one for one in session.project.pairs or () if axis.name not in one.axes)
        try:
            made = () if name == NOBODY else (SharedMotors.model_validate({"axes": (axis.name, name)}),)
            label = f"{axis.name} moves by itself" if name == NOBODY else f"{axis.name} and {name} are moved together"
            session.edit_all([(("pairs",), (*kept, *made) or None)], label)
        except BadValue as why:
            self.refresh()
            self._say(f"{str(why)[:1].upper()}{str(why)[1:]}.")
            return
        self.refresh()
