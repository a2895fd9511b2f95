"""Stall: the search for the threshold of a homing without a switch, led trial by trial, with its room both ways."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.moves.stall import ANSWERS, HELD, StallStand, StallTrial, stall_stand
from urban_mule.core.sheet.given import BadValue, in_a_sentence
from urban_mule.desk.kit.painting import Label, painted, paper, say
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.commissioning import StallTrialBody

CAUTION = ("The axis runs onto its hard end: slowly, low current, a hand on the stop, nothing in between. When it grinds, stop it"
           " and answer crashed; power off before a hand goes in. A switch kept beside it is an approach of its own.")
NOT_BY_STALL = ("This axis does not home by the stall, so it needs no threshold. To let it, choose so under ends, and give the"
                " range of thresholds that the driver's sheet says.")
COLORS = {"crashed": "short", "early": "tight", "good": "good"}
WORD = 60.0  # px that an answer takes
KEYS = {"crashed": "1  Crashed", "good": "2  Good", "early": "3  Stopped early", "one back": "Back one", "begin anew": "Begin anew"}


class StallPicture(Picture):
    """The range as a line with every trial on it, what to try next, and a key for each answer."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 8, 12, 8)
        self._words = ""
        self.line = TrialLine()
        self.caution = Label(CAUTION, objectName="caution", wordWrap=True)
        row = QHBoxLayout()
        self.keys = {name: QPushButton(words, autoDefault=False) for name, words in KEYS.items()}
        for number, (name, button) in enumerate(self.keys.items(), start=1):
            button.clicked.connect(lambda _on, name=name: self.answer(name))
            if name in ANSWERS:
                button.setShortcut(str(number))
            row.addWidget(button)
        row.addStretch(1)
        box.addWidget(self.line, 1)
        box.addLayout(row)
        box.addWidget(self.caution)

    @property
    def trials(self) -> tuple[Any, ...]:
        return tuple(self.state.axis.stall_trials or ())

    def stand(self, trials: tuple[Any, ...] | None = None) -> StallStand:
        """Where the search stands, or would stand after these trials. Raises BadValue."""
        axis = self.state.axis
        lowest, highest = axis.stall_lowest, axis.stall_highest
        if lowest is None or highest is None:
            raise BadValue("the range of thresholds is not given; the driver's sheet says it", "stall_lowest")
        tried = self.trials if trials is None else trials
        return stall_stand(int(lowest), int(highest), axis.stall_greater_is or "",
                           [StallTrial(one.threshold, one.answer) for one in tried])

    def answer(self, name: str) -> None:
        """Write an answer down, take the last one back, or begin anew."""
        try:
            stand = self.stand()
        except BadValue:
            return
        if name == "begin anew":
            self._keep(())
        elif name == "one back":
            self._keep(self.trials[:-1])
        elif stand.next is not None:
            held = {one: float(value) for one in HELD if isinstance(value := self.state.solution.get(one), (int, float))}
            made = StallTrialBody.model_validate({"threshold": stand.next, "answer": name, "conditions": held})
            self._keep((*self.trials, made))

    def _keep(self, trials: tuple[Any, ...]) -> None:
        self.session.edit_all([(self.session.axis_path("stall_trials"), trials or None),
                               (self.session.axis_path("stall_threshold"), self.stand(trials).found)],
                              f"{self.state.axis.name}: stall threshold tried")

    def redraw(self) -> None:
        try:
            stand = self.stand()
        except BadValue as why:
            other = self.state.axis.home_by not in (None, "stall")
            self._words = NOT_BY_STALL if other else f"{str(why)[:1].upper()}{str(why)[1:]}."
            stand = None
        stale = self._stale_since() if stand is not None and stand.found is not None else ""
        if stand is not None:
            self._words = f"{stand.found} does not hold any more: {stale}. Search again." if stale else stand.sentence
        for name, button in self.keys.items():
            button.setEnabled(stand is not None and (bool(self.trials) if name not in ANSWERS else stand.next is not None))
        axis = self.state.axis
        self.line.show_trials(axis.stall_lowest, axis.stall_highest, self.trials, None if stand is None else stand.next,
                              None if stand is None else stand.found)
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """Where the search stands."""
        return self._words, ""

    def _stale_since(self) -> str:
        """What held while the good one was confirmed and holds no more."""
        solution, changed = self.state.solution, []
        for name, then in (self.trials[-1].conditions or {}).items():
            now = solution.get(name) if solution.sheet.knows(name) else None
            if isinstance(now, (int, float)) and isinstance(then, (int, float)) and abs(now - then) > 1e-3 * max(abs(then), 1e-9):
                changed.append(f"{in_a_sentence(solution.sheet.label(name))} was {then:g}, is {now:g}")
        return "; ".join(changed)


class TrialLine(QWidget):
    """The range from end to end, the trials on it by what came of them, the next one and the one found."""

    natural = (520.0, 110.0)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(96)
        self.shown: tuple[Any, ...] = (None, None, (), None, None)

    def show_trials(self, lowest: Any, highest: Any, trials: tuple[Any, ...], following: int | None, found: int | None) -> None:
        self.shown = lowest, highest, trials, following, found
        told = ", ".join(f"{one.threshold} {one.answer}" for one in trials) or "no trial yet"
        between = "Thresholds" if lowest is None or highest is None else f"Thresholds from {lowest} to {highest}"
        self.setAccessibleName(f"{between}: {told}")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        lowest, highest, trials, following, found = self.shown
        if lowest is None or highest is None or not lowest < highest:
            self._principle(painter)
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        left, right, y = 40.0, paper(self).width() - 40.0, paper(self).height() / 2

        def at(threshold: float) -> float:
            return left + (right - left) * (threshold - lowest) / (highest - lowest)

        painter.setPen(theme.pen("muted", 2.0))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        for value in (lowest, highest):
            say(painter, QRectF(at(value) - 40, y + 14, 80, 18), f"{value:g}", "muted", align=Qt.AlignmentFlag.AlignHCenter)
        said_up_to = -WORD
        for threshold, answer in sorted({(one.threshold, one.answer) for one in trials}):
            painter.setPen(theme.pen(COLORS[answer], 2.0))
            painter.setBrush(theme.color(COLORS[answer]))
            painter.drawEllipse(QPointF(at(threshold), y), 6, 6)
            if at(threshold) - WORD / 2 >= said_up_to:  # where trials crowd, those between the named ones show by their colour
                said_up_to = at(threshold) + WORD / 2
                say(painter, QRectF(at(threshold) - 40, y - 34, 80, 18), answer, COLORS[answer],
                    align=Qt.AlignmentFlag.AlignHCenter)
        shown = found if found is not None else following
        if shown is not None:
            painter.setPen(theme.pen("accent", 2.4))
            painter.drawLine(QPointF(at(shown), y - 16), QPointF(at(shown), y + 16))
            say(painter, QRectF(at(shown) - 60, y + 16, 120, 24), f"{shown:g}", "accent", 20, bold=True,
                align=Qt.AlignmentFlag.AlignHCenter)

    def _principle(self, painter: QPainter) -> None:
        """What is sought, as long as nobody has said the range: between stopping too early and not at all."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        left, right, y = 40.0, paper(self).width() - 40.0, paper(self).height() / 2
        wide = right - left
        for begin, end, color, words, then in (
                (0.0, 0.36, "tight", "too sensitive", "stops before the end"), (0.36, 0.64, "good", "good", "stops at the end"),
                (0.64, 1.0, "short", "too dull", "runs on into the end")):
            part = QRectF(left + begin * wide, y - 14, (end - begin) * wide, 28)
            painter.fillRect(part, theme.color(color, 70))
            say(painter, part, words, color, 15, bold=True, align=Qt.AlignmentFlag.AlignHCenter)
            say(painter, part.translated(0, 30), then, "muted", 13, align=Qt.AlignmentFlag.AlignHCenter)
        say(painter, QRectF(left, y - 52, 200, 18), "lowest threshold: ?", "muted", 13)
        say(painter, QRectF(right - 200, y - 52, 200, 18), "highest threshold: ?", "muted", 13, align=Qt.AlignmentFlag.AlignRight)
