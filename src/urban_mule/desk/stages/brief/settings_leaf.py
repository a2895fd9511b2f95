"""Settings that belong together: as set, the best, the quiet ones, and the plane on which they lie; one press takes a set."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.brief.settings_room import BREAKS
from urban_mule.core.readings.shapers import NONE, TWO_MODES
from urban_mule.core.sheet.given import in_a_sentence
from urban_mule.core.sheet.shown import value_text
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import SMALLEST, Label, tip
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.later import Later
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in, small
from urban_mule.desk.stages.brief.settings_plane import EDGES, SettingsPlane
from urban_mule.store.set_together import Together, changes_of, set_at, set_together, shaper_set

ROWS = ("speed", "acceleration", "shaper", "cycle until it stands still", "settles in", "swing left", "torque margin",
        "what limits it")
HERE = "here"
COLUMNS = ("as set", "best", "quiet", HERE)
HOW = "Drag the ring over the plane, or press the arrow keys: the column at the right follows, with the shaper of the best set."
LINEAR = "The swing left is of what is linear: friction and detent leave a floor beneath it. A record of a shaped move tells it."
NOTHING_LEFT = 0.01  # of what counts as settled: a swing below it is no number
SEEKING = "Trying speeds, accelerations and shapers…"
LIMITED = {**EDGES, "cycle": "the cycle asks no more", "swing": "more would swing longer", "": ""}


class SettingsPicture(Picture):
    """The plane at the left, at the right the sets in columns, with a key beneath each that takes it. measure_wanted(kind): a round
    is to be begun, on its stage.
    """

    measure_wanted = pyqtSignal(str)

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.together: Together | None = None
        self.plane = SettingsPlane(session)
        # else what is beside it squeezes it away in a small window
        self.plane.setMinimumSize(*(round(SMALLEST * one) for one in self.plane.natural))
        self.plane.point_moved.connect(self._point)
        self.later: Later[Together] = Later(session.works, "settings", set_together, self)
        self.later.found.connect(lambda _before, _now: self._anew())
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        row.addWidget(self.plane, 11)
        beside = QWidget()
        column = QVBoxLayout(beside)
        column.setContentsMargins(4, 6, 4, 4)
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(5)
        self.cells = {(name, what): Label(wordWrap=what == ROWS[-1]) for name in COLUMNS for what in ROWS}
        self.take: dict[str, QPushButton] = {}
        for place, name in enumerate(COLUMNS):
            grid.addWidget(Label(name, objectName="heading"), 0, place + 1)
            for line, what in enumerate(ROWS):
                grid.addWidget(self.cells[name, what], line + 1, place + 1)
            if name != COLUMNS[0]:
                key = self.take[name] = QPushButton("Take it")
                key.setAccessibleName(f"Take the set: {name}")
                key.clicked.connect(lambda _on, name=name: self.take_set(name))
                grid.addWidget(key, len(ROWS) + 1, place + 1)
        for line, what in enumerate(ROWS):
            grid.addWidget(Label(what, objectName="label", wordWrap=True), line + 1, 0)
        column.addLayout(grid)
        self.said = Label(objectName="label", wordWrap=True)
        column.addWidget(self.said)
        self.record = QPushButton("Record how a move ends…", objectName="plain")
        tip(self.record, "The vibration at the end of the fastest move with the shaper as set: what is left counts from then on")
        self.record.clicked.connect(lambda: self.measure_wanted.emit("acceleration"))
        column.addWidget(self.record, 0, Qt.AlignmentFlag.AlignLeft)
        column.addStretch(1)
        row.addWidget(beside, 12)
        self.here: dict[str, Any] | None = None

    def redraw(self) -> None:
        state = self.state
        self.together = self.later.of(state.axis, state.solution)
        if self.together is None:
            self.later.follow(self.session.project, state.axis, state.solution)
        sets = {} if self.together is None else self.together.sets
        self.plane.show_sets(self.together, shaper_set(state.solution, sets["best"]) if sets else None)
        self.here = None
        for name in COLUMNS:
            self._column(name, sets.get(name))
        self.said.setText("\n\n".join((*self._goals(), *((self._really(), HOW) if sets else ()))))
        self.record.setVisible(bool(sets))
        self.said_anew.emit()

    def _really(self) -> str:
        """On what the swing left rests."""
        really = self.state.solution.get("really_left")
        if really is None:
            return LINEAR
        scale, unit = small(self.state)
        found, promised = (number_text(one * scale, 3) for one in (really.found, really.promised))
        called = f"{really.shaper} at {really.frequency:.1f} Hz" if really.frequency else f"shaper {really.shaper}"
        floor = f" Friction and detent leave {number_text(really.floor * scale, 3)} {unit} whatever is set." if really.floor else ""
        return (f"By a record of a move with {called}: {found} {unit} swing when it ends, {promised} {unit} of what is linear."
                f"{floor} That counts now.")

    def _goals(self) -> list[str]:
        """What would meet each goal that is missed."""
        found = []
        for goal, change in () if self.together is None else self.together.met_by:
            if change is None:
                found.append(f"The {goal} wanted is missed; no change of path tolerance, current, voltage or ratio alone meets it.")
                continue
            place, _, field = change.label.rpartition(".")
            sheet, system, unit = self.state.sheet, self.state.system, self.state.axis.unit
            words = "ratio" if place else in_a_sentence(sheet.label(field))
            was, becomes = ((f"{value:.3g}" if place else value_text(sheet, field, value, system, 3, unit))
                            for value in (change.before, change.after))
            found.append(f"The {goal} wanted is missed. The least change that meets it and spoils nothing else: {words} from {was}"
                         f" to {becomes}.")
        return found

    def says(self) -> tuple[str, str] | None:
        """What the best set would save, and what the present one breaks."""
        if self.together is None:
            return SEEKING, ""
        if not self.together.sets:
            return f"No set can be sought yet: {self.together.reason}.", ""
        present, best = self.together.sets["as set"], self.together.sets["best"]
        saved = present["settled_cycle_time"] - best["settled_cycle_time"]
        times = f"{number_text(best['settled_cycle_time'], 3)} s in place of {number_text(present['settled_cycle_time'], 3)} s"
        if present["breaks"]:
            why = " and ".join(BREAKS[name] for name in present["breaks"])
            return f"The settings break a limit: {why}.", f"The best set that keeps all limits takes {times} a cycle."
        if saved > 0.005 * present["settled_cycle_time"]:
            limited = LIMITED[best["limit"]]
            return f"Other settings are quicker: {times} a cycle until it stands still.", f"What limits them: {limited}."
        return "The settings keep all limits, and none are quicker.", ""

    def _point(self) -> None:
        """The ring moved: its numbers follow."""
        point, sets = self.plane.point, {} if self.together is None else self.together.sets
        self.here = set_at(self.state.solution, sets["best"], *point) if point is not None and sets else None
        self._column(HERE, self.here)

    def _column(self, name: str, one: dict[str, Any] | None) -> None:
        said = ("",) * len(ROWS) if one is None else self._told(one)
        for what, text in zip(ROWS, said, strict=True):
            self.cells[name, what].setText(text)
        self.cells[name, ROWS[-1]].setObjectName("wrong" if one is not None and one.get("breaks") else "label")
        self.cells[name, ROWS[-1]].style().polish(self.cells[name, ROWS[-1]])  # type: ignore[union-attr]
        if name in self.take:
            self.take[name].setEnabled(one is not None and bool(self._changes(one)))

    def _told(self, one: dict[str, Any]) -> tuple[str, ...]:
        def value(number: float, si: str) -> str:
            scale, unit = drawn_in(self.state, si)
            return f"{number_text(number * scale, 3)} {unit}"

        scale, unit = small(self.state)
        least = NOTHING_LEFT * float(self.state.solution["settled_within"])
        swing = number_text(one["residual_swing"] * scale, 3) if one["residual_swing"] >= least else (
            f"below {number_text(least * scale, 2)}")
        shaper = one["shaper"] if one["shaper"] in (NONE, TWO_MODES) else f"{one['shaper']} {one['frequency']:.1f} Hz"
        limit = f"breaks: {', '.join(EDGES[name] for name in one['breaks'])}" if one.get("breaks") else LIMITED[one["limit"]]
        return (value(one["speed"], "[travel]/s"), value(one["acceleration"], "[travel]/s²"), shaper,
                f"{number_text(one['settled_cycle_time'], 4)} s", f"{number_text(1000 * one['settle_time'], 3)} ms",
                f"{swing} {unit}", f"{number_text(one['working_margin'], 3)} ×", limit)

    def _changes(self, one: dict[str, Any]) -> list[tuple[tuple[str | int, ...], Any]]:
        path = self.session.axis_path
        every = ((path(*steps), value) for steps, value in changes_of(self.state.axis, one))
        return [(where, value) for where, value in every if self.session.value(where) != value]

    def take_set(self, name: str) -> None:
        """Take a set over, undone in one step."""
        one = self.here if name == HERE else None if self.together is None else self.together.sets.get(name)
        if one is not None and self.session.may_write():
            self.session.edit_all(self._changes(one), f"{self.state.axis.name}: settings that belong together, {name}")
