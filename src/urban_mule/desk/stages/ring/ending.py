"""End of a move: where it is commanded and where the load swings, with the shaper that is set and without, the settling marked."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urban_mule.core.readings.shapers import KINDS, NONE
from urban_mule.core.ring.end_of_move import EndOfMove
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.chart import DASH, Chart
from urban_mule.desk.kit.painting import tip
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import small

WITHOUT, WITH = "muted", "accent"
AIR, LEAST_SEEN = 1.9, 3.0  # times the greatest swing, and what counts as settled, that the picture reaches
WITHIN_ONE = 0.01  # of what counts as settled: a swing below it is no number


class EndPicture(Picture):
    """The end of the fastest move of the cycle, as the tag has it."""

    needs = frozenset({"move_ends", "really_left", "settled_within"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("", "", "The end of the fastest move in time")
        self.mark = QPushButton("The last record is the end of this move", objectName="plain")
        tip(self.mark, "It was made with this shaper, and begins when the command ends: it tells what is really left, and no modes")
        self.mark.clicked.connect(self.mark_last)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.chart, 1)
        box.addWidget(self.mark, 0, Qt.AlignmentFlag.AlignLeft)

    def mark_last(self) -> None:
        """Mark the last record as that of a shaped move, undone in one step."""
        axis, one = self.session.axis, self.state.solution.get("settings_as_set")
        last = axis.last_reading("acceleration")
        if last is None or one is None or not self.session.may_write():
            return
        place = max(n for n, reading in enumerate(axis.readings) if reading is last)
        fastest = max(axis.cycle or (), key=lambda move: (move.acceleration, abs(move.distance)))
        said = {"shaped": one["shaper"], "shaped_frequency": one["frequency"], "move_distance": abs(float(fastest.distance)),
                "move_speed": float(fastest.speed),
                "move_acceleration": min(float(fastest.acceleration), float(self.state.solution["acceleration_to_set"]))}
        model = type(last)
        marked = model.model_validate({**{name: getattr(last, name) for name in model.model_fields}, **said})
        self.session.edit_all([(self.session.axis_path("readings", place), marked)],
                              f"{axis.name}: the last record is the end of a move with {one['shaper']}")

    def says(self) -> tuple[str, str] | None:
        """How long it settles without the shaper and with it, and on what the shaper's numbers rest."""
        get = self.state.solution.get
        ends = get("move_ends")
        if ends is None:
            return f"No end of a move yet: {self.state.reason_unknown('move_ends')}.", ""
        bare, shaped = ends
        called = self._called()
        if called == NONE:
            return f"Without a shaper the fastest move stands still {_settles(bare)}.", self._rests()
        if _settles(bare) == _settles(shaped):
            return f"The fastest move stands still {_settles(bare)}, with {called} and without.", self._rests()
        return f"With {called} the fastest move stands still {_settles(shaped)}; without, {_settles(bare)}.", self._rests()

    def _called(self) -> str:
        one = self.state.solution["settings_as_set"]
        return f"{one['shaper']} at {one['frequency']:.1f} Hz" if one["shaper"] in KINDS else str(one["shaper"])

    def _swing(self, one: EndOfMove) -> str:
        scale, unit = small(self.state)
        least = WITHIN_ONE * float(self.state.solution["settled_within"])
        return f"up to {number_text(one.swing * scale, 3)} {unit}" if one.swing >= least else (
            f"below {number_text(least * scale, 2)} {unit}")

    def _rests(self) -> str:
        """What is measured of it."""
        solution = self.state.solution
        really, measured = solution.get("really_left"), bool(solution.get("modes"))
        scale, unit = small(self.state)
        if really is not None:
            found, promised = (number_text(one * scale, 3) for one in (really.found, really.promised))
            return (f"By the record of a move with {really.shaper}: {found} {unit} were left, {promised} promised of what is"
                    " linear.")
        if measured:
            return "Of what is linear: friction and detent leave a floor beneath it. A record of a shaped move tells how much."
        return "The mode is computed: no record was taken. And of what is linear."

    def redraw(self) -> None:
        chart, ends = self.chart, self.state.solution.get("move_ends")
        self.mark.setVisible(ends is not None and self.of is None and self.session.axis.last_reading("acceleration") is not None)
        self.said_anew.emit()
        scale, unit = small(self.state)
        chart.name_axes("time from the end of the command without shaper, ms", f"short of the target, {unit}", scale)
        if ends is None:
            chart.empty(f"No end of a move yet: {self.state.reason_unknown('move_ends')}.")
            return
        chart.restart()
        tolerance = float(self.state.solution["settled_within"])
        bare, shaped = ends
        reach = max(AIR * max(bare.swing, shaped.swing), LEAST_SEEN * tolerance)
        time = 1000 * bare.time
        chart.frame((float(time[0]), float(time[-1])), (-reach, reach))
        chart.band(time[[0, -1]], [-tolerance] * 2, [tolerance] * 2, "good", 40)
        chart.text(float(time[-1]), tolerance, f"settled: ± {number_text(tolerance * scale, 3)} {unit} ", "good", (1, 1), 12)
        same, rightmost = self._called() == NONE, 1000 * max(one.ends + one.settles for one in ends)
        for one, color, words in ((bare, WITHOUT, "without shaper"), (shaped, WITH, f"with {self._called()}")):
            if same and one is shaped:
                continue
            chart.line(time, one.command, color, 1.2, DASH)
            chart.line(time, one.load, color, 2.4)
            stands = 1000 * (one.ends + one.settles)
            chart.line([1000 * one.ends] * 2, [-reach, reach], color, 1.0, DASH)
            chart.line([stands] * 2, [-reach, reach], color, 1.8)
            said = f" {words}: {number_text(stands, 3)} ms, {self._swing(one)}"
            chart.text(max(stands, rightmost), (-0.6 if one is bare else -0.85) * reach, said, color, (0, 0.5), 13, True)


def _settles(one: EndOfMove) -> str:
    """When a move stands still."""
    return f"{number_text(1000 * one.settles, 3)} ms after its command ends" if one.settles else "when its command ends"
