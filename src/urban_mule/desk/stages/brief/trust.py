"""Trust: every prediction of the axis, its measured fellow, whether they agree; what contradicts may be adopted."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.ring.train_hump import OTHER_CURRENT, OTHER_LOAD
from urban_mule.core.sheet.given import in_a_sentence
from urban_mule.core.sheet.shown import in_unit, value_text
from urban_mule.core.sheet.units import number_text, with_doubt
from urban_mule.core.studies.trust import NEXT_RUN, NOT_ON_RECORD, UNASSIGNED, Prediction, predictions
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.booked import book, one_step
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.words import label
from urban_mule.store.document.commissioning import Adopted
from urban_mule.store.doubts import paths_of
from urban_mule.store.file.project_file import now
from urban_mule.store.solve import axis_tolerances

HOW = ("Each prediction beside what was measured, both with their ± (k = 2); they agree where they are no farther apart than"
       " both together allow. What is used as measured shows where it is from, and undo gives the former value back.")
CORRECTIONS = {"steps_per_unit": "scale", "backlash": "backlash", "correction_table": "table"}  # by the name on the hardware
NOTHING = "Nothing of this axis is predicted and measured both yet."
NEARLY = 1e-3  # share within which a scale is told by how far off it is


class TrustPicture(Picture):
    """Rows of predictions; a key adopts the measured value."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 4)
        self._words = NOTHING
        self.how = Label(HOW, objectName="label", wordWrap=True)
        self.how.setContentsMargins(12, 0, 12, 0)
        self.listed = Ranked(("prediction", "computed", "measured", "and so"), (3, 2, 2, 4))
        self.listed.pressed.connect(lambda name, _words: self.adopt(name))
        for widget, share in ((self.listed, 1), (self.how, 0)):
            box.addWidget(widget, share)
        self.found: dict[str, Prediction] = {}

    def redraw(self) -> None:
        solution, tolerances = self.state.solution.own(), axis_tolerances(self.state.axis)
        corrected, said = self._corrected_between(), frozenset(paths_of(self.session.project, self.state.axis))
        self.session.works.run(("what is to be trusted", id(self)), self,
                               lambda _progress: predictions(solution, tolerances, said, corrected), self._show)

    def says(self) -> tuple[str, str] | None:
        """How many predictions agree."""
        return self._words, ""

    def _runs(self) -> list[str]:
        """When the last two positioning runs were taken; empty texts where they do not say."""
        return [reading.taken for reading in self.state.axis.readings if reading.kind == "positioning" and not reading.aside][-2:]

    def _corrected_between(self) -> frozenset[str] | None:
        """Which corrections were set on the machine between the last two runs, by the record of the hardware."""
        runs = self._runs()
        if len(runs) < 2 or not all(runs):
            return None
        names = self.session.saving.file.set_between(self.state.id, *runs)
        return frozenset(correction for name, correction in CORRECTIONS.items() if name in names)

    def _show(self, found: tuple[Prediction, ...]) -> None:
        self.found = {one.words: one for one in found}
        both = [one for one in found if one.agrees is not None and not self._mended_between(one)]
        good = sum(bool(one.agrees) for one in both)
        self._words = f"{good} of {len(both)} predictions agree with what was measured." if both else NOTHING
        self.said_anew.emit()
        self.listed.show_rows([self._row(one) for one in found])

    def _row(self, one: Prediction) -> RankedRow:
        keys = ("Use",) if one.adopt is not None and one.agrees is False and not self._is_adopted(one) else ()
        return RankedRow(one.words, (self._text(one, one.computed, one.computed_uncertainty),
                                     self._text(one, one.measured, one.measured_uncertainty), self._verdict(one)), keys)

    def _text(self, one: Prediction, value: float | None, uncertainty: float) -> str:
        sheet, system = self.state.sheet, self.state.system
        if value is None:
            return "not known"
        if one.quantity == "scale_ratio" and abs(value - 1) < NEARLY:
            return f"{with_doubt(1e6 * (value - 1), 1e6 * uncertainty)} ppm off"
        if one.quantity in ("torque_factor", "scale_ratio"):
            return f"{with_doubt(100 * value, 100 * uncertainty)} %"
        unit = value_text(sheet, one.quantity, value, system).unit
        return f"{with_doubt(*(in_unit(number, sheet, one.quantity, unit) for number in (value, uncertainty)))} {unit}"

    def _is_adopted(self, one: Prediction) -> bool:
        """Whether what is reckoned with is already what was measured."""
        if one.adopt is None:
            return False
        axis = self.state.axis
        of = axis if one.adopt.part == "axis" else getattr(axis, one.adopt.part)
        held = getattr(of, one.adopt.given, None)
        return held is not None and abs(held / one.adopt.value - 1) < 2e-3

    def _verdict(self, one: Prediction) -> str:
        origin = self._origin(one)
        if self._mended_between(one):
            return "something was repaired between the two runs: nothing to compare"
        if UNASSIGNED in one.words:
            return OTHER_LOAD if self.state.axis.motor_kind == "servo" else OTHER_CURRENT
        if one.agrees is None:
            if one.words.startswith(NEXT_RUN):
                return "nothing was promised of that together" if NOT_ON_RECORD not in one.words else (
                    "Set it on the tag, or write the table, between two dated runs: then they can be compared")
            return "measure it" if one.measured is None else "nothing to compare with: give the train its stiffness"
        if one.agrees:
            return f"they agree{origin}"
        wrong = " or ".join(name if " " in name else in_a_sentence(self.state.solution.label(name)) for name in one.likeliest)
        return f"they contradict each other{f'; likeliest wrong is {wrong}' if wrong else ''}{origin}"

    def _mended_between(self, one: Prediction) -> bool:
        """Whether the log says of a repair between the two runs that are compared."""
        runs = self._runs()
        if not one.words.startswith(NEXT_RUN) or len(runs) < 2 or not all(runs):
            return False
        return any(entry.subject == self.state.id and entry.kind == "repaired" and runs[0] <= entry.time.isoformat() <= runs[1]
                   for entry in self.session.entries())

    def _origin(self, one: Prediction) -> str:
        if one.adopt is None or not self._is_adopted(one):
            return ""
        given = one.adopt.given
        kept: Any = next((held for held in reversed(self.state.axis.adopted or ()) if held.given == given), None)
        return "" if kept is None else f". Calculated with as measured: {number_text(kept.value, 4)}, {kept.source}"

    def adopt(self, words: str) -> None:
        """Reckon with what was measured; one step to undo."""
        one = self.found[words]
        if one.adopt is None:
            return
        axis, path = self.state.axis, self.session.axis_path
        where = path(one.adopt.given) if one.adopt.part == "axis" else path(one.adopt.part, one.adopt.given)
        today = now()
        made = Adopted.model_validate({"part": one.adopt.part, "given": one.adopt.given, "value": one.adopt.value,
                                       "source": f"{words}, measured by {today.day} {today:%B %Y}", "taken": today.isoformat()})
        others = tuple(kept for kept in axis.adopted or () if kept.given != one.adopt.given)
        step = f"{axis.name}: {words} used as measured"
        with one_step(self.session, step):
            self.session.edit_all([(where, one.adopt.value), (path("adopted"), (*others, made))], step)
            book(self.session, f"Used as measured: {words}, {label(one.adopt.given)} {number_text(one.adopt.value, 4)}.", "set")
