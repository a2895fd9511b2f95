"""Trust: what is computed beside what was measured, what contradicts and why, what the readings teach, what to measure next."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from urban_mule.bench.sessions.kinds import PLAN_KINDS, possible, words_of
from urban_mule.core.proof.next_run import promised_for
from urban_mule.core.studies.compared import Compared
from urban_mule.core.studies.doubts import interval
from urban_mule.core.studies.next_reading import WORTH
from urban_mule.desk.kit.intervals import TwoIntervals
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.booked import book, one_step
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.setup_view import parts_of
from urban_mule.desk.stages.brief import trust_words as words
from urban_mule.store.document.project import Axis
from urban_mule.store.experience import Experience, keep, learnt_here
from urban_mule.store.file.project_file import now
from urban_mule.store.learning import Teaching, learnt_changes, reading_of
from urban_mule.store.text_files import BadFile

CORRECTIONS = {"steps_per_unit": "scale", "backlash": "backlash", "correction_table": "table"}  # by the name on the hardware
LEVELS = {"agrees": "good", "strained": "tight", "contradicts": "short", "unassigned": "muted"}
ORDER = ("contradicts", "unassigned", "strained", "agrees")
NOTHING = "Nothing of this axis is both computed and measured yet."
LOOKING = "Comparing what is computed with what was measured…"
HARDLY = 0.02  # standard uncertainties by which an input moves, and share by which it gets surer, that are worth a row
BEST = 3  # readings that are offered


class TrustPicture(Picture):
    """At the left every pair as two intervals, contradictions first; at the right what is learnt, and what to measure next.

    measure_wanted(kind): a round is to be begun, on its stage.
    """

    measure_wanted = pyqtSignal(str)

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        self.columns = [QScrollArea(widgetResizable=True) for _ in range(2)]
        names = "Computed and measured", "What to measure, what is learnt"
        for area, share, name in zip(self.columns, (13, 10), names, strict=True):
            area.setAccessibleName(name)
            area.setFrameShape(QScrollArea.Shape.NoFrame)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            row.addWidget(area, share)
        self.teaching: Teaching | None = None
        self.buttons: dict[str, QPushButton] = {}
        self._words = LOOKING
        session.taught.connect(self._anew)
        session.book_changed.connect(self._anew)

    def redraw(self) -> None:
        self.teaching = self.session.teaching if self.of is None else None
        if self.teaching is None:
            self._words = LOOKING
            self.said_anew.emit()
            return
        self.buttons = {}
        teaching = self.teaching
        self._words = words.headline(teaching.learning.compared) or NOTHING
        self.columns[0].setWidget(self._pairs(teaching))
        self.columns[1].setWidget(self._right(teaching))
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """How many pairs agree, and what contradicts."""
        return self._words, words.how(self.teaching)

    def _button(self, text: str, told: str, pressed: Callable[..., object]) -> QPushButton:
        button = self.buttons[told] = QPushButton(text)
        button.setAccessibleName(told)
        button.clicked.connect(pressed)
        return button

    def _pairs(self, teaching: Teaching) -> QWidget:
        inner = QWidget()
        box = QVBoxLayout(inner)
        box.setContentsMargins(12, 6, 8, 8)
        box.setSpacing(6)
        ranked = sorted(teaching.learning.compared, key=lambda one: ORDER.index(one.judgement))
        for one in ranked:
            box.addLayout(self._pair(one))
            if one.judgement == "contradicts" and not one.teaches:
                box.addLayout(self._why(one, teaching))
        run = self._next_run()
        if run:
            box.addWidget(Label(run, objectName="label", wordWrap=True))
        box.addStretch(1)
        return inner

    def _pair(self, one: Compared) -> QGridLayout:
        """Name and judgement above, the two intervals on one line, and beneath them what they are."""
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 4)
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(1)
        name = Label(one.pair.words[:1].upper() + one.pair.words[1:], objectName="heading", wordWrap=True)
        told = words.told(one, self.state)
        judged = Label(words.judged(one, self.state), objectName="label", wordWrap=True)
        sides = (None if one.judgement == "unassigned" else _ends(one.computed, one.computed_uncertainty),
                 _ends(one.measured, one.uncertainty))
        drawn = TwoIntervals(*sides, LEVELS[one.judgement], told)
        grid.addWidget(name, 0, 0)
        grid.addWidget(drawn, 0, 1)
        grid.addWidget(Label(told, wordWrap=True), 1, 0, 1, 2)
        grid.addWidget(judged, 2, 0, 1, 2)
        grid.setColumnStretch(0, 2)
        grid.setColumnStretch(1, 3)
        return grid

    def _why(self, one: Compared, teaching: Teaching) -> QVBoxLayout:
        """What a contradiction may come from, and the reading that tells it; that it is so nevertheless."""
        box = QVBoxLayout()
        box.setContentsMargins(14, 0, 0, 6)
        box.setSpacing(3)
        box.addWidget(Label("What it may come from, likeliest first:", objectName="label"))
        for place, (suspect, kind) in enumerate(zip(teaching.suspects, teaching.told_by, strict=True), start=1):
            row = QHBoxLayout()
            row.addWidget(Label(f"{place}. {words.suspected(suspect, teaching.learning, self.state)}", wordWrap=True), 1)
            if self._can(kind):
                called = PLAN_KINDS[kind].called or kind
                row.addWidget(self._button(f"{called[:1].upper()}{called[1:]}…", f"{one.pair.name} {place}: {kind}",
                                           lambda _on, kind=kind: self.measure_wanted.emit(kind)), 0, Qt.AlignmentFlag.AlignTop)
            box.addLayout(row)
        reading = reading_of(self.state.axis, one.pair)
        if reading is not None and not reading.confirmed:
            row = QHBoxLayout()
            row.addWidget(Label(words.AGAIN, objectName="label", wordWrap=True), 1)
            row.addWidget(self._button("It is so", f"{one.pair.name} is so", lambda _on: self.confirm(one)))
            box.addLayout(row)
        return box

    def _can(self, kind: str) -> bool:
        return bool(kind) and bool(possible((kind,), parts_of(self.state.axis)))

    def _right(self, teaching: Teaching) -> QWidget:
        inner = QWidget()
        box = QVBoxLayout(inner)
        box.setContentsMargins(8, 6, 12, 8)
        box.setSpacing(5)
        learned = teaching.learning.learned
        box.addWidget(Label("What to measure next", objectName="heading"))
        self._next(teaching, box)
        box.addSpacing(8)
        head = QHBoxLayout()
        head.addWidget(Label(words.TEACH if learned else words.NOTHING_NEW, objectName="heading", wordWrap=True), 1)
        box.addLayout(head)
        if learned:
            head.addWidget(self._button(words.take_words(len(learned)), "learn", lambda _on: self.learn()))
            box.addLayout(self._learned(teaching))
        if self._experience():
            row = QHBoxLayout()
            row.addWidget(Label(words.KEEP, objectName="label", wordWrap=True), 1)
            row.addWidget(self._button("Keep for the next machine", "keep", lambda _on: self.keep()))
            box.addLayout(row)
        if teaching.left:
            box.addWidget(Label(words.left_words(teaching, self.state), objectName="label", wordWrap=True))
        box.addStretch(1)
        return inner

    def _learned(self, teaching: Teaching) -> QGridLayout:
        """Each input before and after, as a pair of intervals."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(3)
        ranked = words.by_weight(teaching.learning)
        shown = [one for one in ranked if words.weight(one) > HARDLY] or list(ranked[:1])
        for row, one in enumerate(shown):
            told = words.learnt(one, self.state)
            grid.addWidget(Label(self.state.solution.label(one.label), wordWrap=True), row, 0)
            grid.addWidget(TwoIntervals(_ends(one.value, one.uncertainty), _ends(one.learned_value, one.learned_uncertainty),
                                        "accent", told), row, 1)
            grid.addWidget(Label(told, objectName="label", wordWrap=True), row, 2)
        for column, share in enumerate((4, 3, 5)):
            grid.setColumnStretch(column, share)
        if len(shown) < len(ranked):
            rest = words.hardly(ranked[len(shown):], self.state)
            grid.addWidget(Label(rest, objectName="label", wordWrap=True), len(shown), 0, 1, 3)
        return grid

    def _next(self, teaching: Teaching, box: QVBoxLayout) -> None:
        offered = [one for one in teaching.next if self._can(one.reading) and one.share >= WORTH][:BEST]
        if teaching.goal is None:
            box.addWidget(Label("No goal is known that a reading could make surer: give a cycle, or the accuracy wanted.",
                                objectName="label", wordWrap=True))
        elif not offered:
            box.addWidget(Label(words.nothing_cheap(teaching, self.state), objectName="label", wordWrap=True))
        for one in offered:
            row = QHBoxLayout()
            row.addWidget(Label(words.worth(one, words_of(one.reading), teaching.goal or "", self.state), wordWrap=True), 1)
            row.addWidget(self._button("Begin…", f"next: {one.reading}",
                                       lambda _on, kind=one.reading: self.measure_wanted.emit(kind)), 0, Qt.AlignmentFlag.AlignTop)
            box.addLayout(row)

    def learn(self) -> None:
        """Take over what the readings teach; one step to undo."""
        session = self.session
        teaching = session.teaching
        if teaching is None or not teaching.learning.learned:
            return
        place = session.project.axes.index(session.axis)
        today = now()
        changes = learnt_changes(session.project, place, teaching.learning, f"{today.day} {today:%B %Y}")
        step = f"{session.axis.name}: learnt from its readings"
        with one_step(session, step):
            session.edit_all(changes, step)
            book(session, words.booked(teaching.learning, self.state), "set")

    def _experience(self) -> tuple[Experience, ...]:
        """What of the learnt may serve another machine."""
        today = now()
        if self.session.project.practice:
            return ()  # what a made-up machine taught is true of no other
        return learnt_here(self.session.project, self.state.axis, self.state.solution, f"{today.day} {today:%B %Y}")

    def keep(self) -> None:
        """Keep what was learnt of friction, stiffness and efficiency, to be offered as usual on the next machine."""
        found = self._experience()
        try:
            keep(found)
        except BadFile as why:
            self.session.told.emit(str(why))
            return
        self.session.told.emit(words.kept(len(found)))

    def confirm(self, one: Compared) -> None:
        """Somebody looked again, and the reading is so: it counts although it contradicts; one step to undo."""
        axis: Axis = self.session.axis
        reading = reading_of(axis, one.pair)
        if reading is not None:
            place = next(n for n, other in enumerate(axis.readings) if other is reading)
            self.session.edit(self.session.axis_path("readings", place, "confirmed"), True)

    def _next_run(self) -> str:
        """What the run before the last one promised of what was corrected, beside what the last one gave."""
        solution, axis = self.state.solution, self.state.axis
        before, measured = solution.get("promised_before"), solution.get("positioning_accuracy")
        if before is None or measured is None or self.state.id != self.session.axis.id:
            return ""
        runs = [one.taken for one in axis.readings if one.kind == "positioning" and not one.aside][-2:]
        if len(runs) < 2 or not all(runs):
            return words.run_not_on_record()
        if any(entry.subject == self.state.id and entry.kind == "repaired" and runs[0] <= entry.time.isoformat() <= runs[1]
               for entry in self.session.entries()):
            return words.run_mended()
        names = self.session.saving.file.set_between(self.state.id, *runs)
        corrected = frozenset(correction for name, correction in CORRECTIONS.items() if name in names)
        return words.run_told(*promised_for(before, corrected), float(measured),
                              float(solution.get("positioning_accuracy_uncertainty") or 0.0), self.state)


def _ends(value: float, standard: float) -> tuple[float, float, float]:
    low, high = interval(value, standard)
    return low, value, high
