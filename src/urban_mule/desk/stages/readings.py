"""What a stage does to take readings: the bar that begins a round, the round in place of picture and fields, how it is done."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtBoundSignal, pyqtSignal
from PyQt6.QtWidgets import QApplication, QVBoxLayout, QWidget

from urban_mule.bench.sessions.rounds import Round
from urban_mule.desk.kit.leaves import Leaves
from urban_mule.desk.kit.links import Links
from urban_mule.desk.kit.lower import Lower
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.results import ResultList
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.stages.beside import VerdictLine
from urban_mule.desk.stages.spec import StageSpec

if TYPE_CHECKING:
    from urban_mule.desk.shared.round_view import RoundView
    from urban_mule.desk.shared.setup_view import SetupView
    from urban_mule.desk.stages.measure import MeasureBar


class TakesReadings(QWidget):
    """A stage as far as it measures. readings_taken(kind): readings came in. plan_to_print(plan): the plan of a round, on paper;
    plan_to_program(plan): its moves, for a controller.

    list_wanted: all readings of the axis are to be looked at. import_wanted(kind): files with readings are to be taken in.
    """

    readings_taken = pyqtSignal(str)
    plan_to_print = pyqtSignal(object)
    plan_to_program = pyqtSignal(object)
    list_wanted = pyqtSignal()
    import_wanted = pyqtSignal(str)

    wanted: pyqtBoundSignal
    session: Scope
    spec: StageSpec
    box: QVBoxLayout
    leaves: Leaves
    know: QVBoxLayout
    below: Lower
    lines: list[VerdictLine]
    follows: QWidget
    results: ResultList
    missing: Links
    subline: Label
    measure: MeasureBar | None
    round: RoundView | None
    setup: SetupView | None

    def _say(self) -> object:
        """Say headline and the line beneath it."""
        raise NotImplementedError

    def refresh(self, names: object = None) -> None:
        """Take over what has changed."""
        raise NotImplementedError

    def take_readings(self) -> None:
        """Put the bar in, where readings of some kind are taken here."""
        if not self.spec.readings:
            return
        from urban_mule.desk.stages.measure import MeasureBar  # the bench is needed only where something is measured

        self.measure = MeasureBar(self.session, self.spec.readings)
        self.measure.round_wanted.connect(self.open_round)
        self.measure.list_wanted.connect(self.list_wanted)
        self.measure.import_wanted.connect(self.import_wanted)
        self.box.addWidget(self.measure)
        self._offer_measuring()
        self.leaves.turned.connect(lambda _word: self._offer_measuring())

    def _offer_measuring(self) -> None:
        """Readings are offered beside the leaves at which they are taken."""
        if self.measure is not None and self.spec.measured_at:
            self.measure.setVisible(self.leaves.word in self.spec.measured_at and self.round is None)

    def _teach(self) -> None:
        """Where nothing is measured yet, show how it is done in place of an empty picture."""
        if not self.spec.readings or self.round is not None or self.measure is None:
            return
        empty = self.leaves.word not in self.spec.standing and not any(
            one.kind in self.spec.readings and not one.aside for one in self.session.axis.readings)
        if empty and self.setup is None:
            from urban_mule.desk.shared.setup_view import SetupView

            self.setup = SetupView(self.session, self.spec.readings)
            self.box.insertWidget(self.box.indexOf(self.leaves), self.setup, 1)
        if self.setup is not None:
            self.setup.setVisible(empty)
            self.leaves.setVisible(not empty)

    def open_round(self, kind: str, under_way: object = None) -> None:
        """Plan a round of a kind, or go on with one, in place of picture and fields."""
        from urban_mule.desk.shared.round_view import RoundView  # the plans are needed only where something is measured

        self.close_round()
        self.round = RoundView(self.session, kind, under_way if isinstance(under_way, Round) else None)
        self.round.done.connect(self._round_done)
        self.round.left.connect(self.close_round)
        self.round.to_print.connect(self.plan_to_print)
        self.round.plan.to_program.connect(self.plan_to_program)
        self.round.wanted.connect(self._leave_for)
        for widget in self._beside_a_round():
            widget.hide()
        self.box.insertWidget(self.box.indexOf(self.leaves), self.round, 1)
        self.round.show()
        self._say()
        self.round.take_focus()

    def _beside_a_round(self) -> list[QWidget]:
        """What makes room for a round."""
        return [widget for widget in (self.leaves, self.leaves.words, self.below, self.measure, self.missing, self.subline,
                                      self.setup, *self.lines) if widget is not None]

    def close_round(self) -> None:
        """Back to picture and fields; what was taken is kept."""
        if self.round is None:
            return
        gone, self.round = self.round, None
        held, kind = QApplication.focusWidget(), gone.kind
        had_focus = held is None or held is gone or gone.isAncestorOf(held)
        gone.hide()
        self.box.removeWidget(gone)
        gone.deleteLater()
        for widget in self._beside_a_round():
            widget.show()
        if self.measure is not None:
            self.measure.refresh()
        self._offer_measuring()
        self.refresh()
        if had_focus and self.measure is not None and kind in self.measure.rounds and self.isVisible():
            self.measure.rounds[kind].setFocus()

    def _leave_for(self, given: str) -> None:
        """Leave the plan for a field that it lacks."""
        self.close_round()
        self.wanted.emit(given)

    def _round_done(self, kind: str) -> None:
        self.close_round()
        self.readings_taken.emit(kind)
