"""Saying which hump of a spectrum is the train's, and what rings at the others."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QWidget

from urban_mule.core.ring.train_hump import NAMED_WITHIN
from urban_mule.desk.kit.flow import Flow
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.modes import RINGS, NamedMode

NOT_SAID, TRAIN = "not said", "the train"


class Naming(QWidget):
    """One row: a hump, and what rings there. What is said of frame, tool and table stays with the axis."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        row = Flow(self, 6)
        self.hump = QComboBox(accessibleName="Hump of the spectrum")
        self.rings = QComboBox(accessibleName="What rings there")
        self.rings.addItems([NOT_SAID, TRAIN, *(f"the {one}" for one in RINGS)])
        for widget in (Label("Hump at", objectName="label"), self.hump, Label("rings", objectName="label"), self.rings):
            row.addWidget(widget)
        self.hump.activated.connect(lambda _place: self._show_said())
        self.rings.activated.connect(lambda _place: self.say(self.rings.currentText()))

    def refresh(self) -> None:
        """The humps of the last record; hidden without one."""
        modes = self.session.solution.get("modes") or ()
        texts = [f"{mode.frequency:.1f} Hz" for mode in sorted(modes, key=lambda one: one.frequency)]
        if texts != [self.hump.itemText(n) for n in range(self.hump.count())]:
            self.frequencies = sorted(mode.frequency for mode in modes)
            self.hump.clear()
            self.hump.addItems(texts)
        self.setVisible(bool(texts))
        self._show_said()

    def _show_said(self) -> None:
        if self.hump.currentIndex() >= 0:
            self.rings.setCurrentText(self.said_of(self.frequencies[self.hump.currentIndex()]))

    def said_of(self, frequency: float) -> str:
        """What was said of a hump [Hz]."""
        reading = self.session.axis.last_reading("acceleration")
        train = None if reading is None else reading.train_mode
        if train is not None and abs(frequency / train - 1) <= NAMED_WITHIN:
            return TRAIN
        named = (one for one in self.session.axis.mode_names or () if abs(frequency / one.frequency - 1) <= NAMED_WITHIN)
        return next((f"the {one.rings}" for one in named), NOT_SAID)

    def say(self, what: str) -> None:
        """Say what rings at the hump that is chosen; one undo step."""
        axis, frequency = self.session.axis, self.frequencies[self.hump.currentIndex()]
        others = tuple(one for one in axis.mode_names or () if abs(frequency / one.frequency - 1) > NAMED_WITHIN)
        made = {} if what in (NOT_SAID, TRAIN) else {"rings": what.removeprefix("the "), "frequency": frequency}
        last = max(place for place, one in enumerate(axis.readings) if one.kind == "acceleration" and not one.aside
                   and not one.declared.is_apart(one))
        was = axis.readings[last].train_mode
        train = frequency if what == TRAIN else None if self.said_of(frequency) == TRAIN else was
        names = (*others, NamedMode.model_validate(made)) if made else others
        self.session.edit_all([(self.session.axis_path("mode_names"), names or None),
                               (self.session.axis_path("readings", last, "train_mode"), train)],
                              f"{axis.name}: at {frequency:.1f} Hz rings {what if what != NOT_SAID else 'what is not said'}")
