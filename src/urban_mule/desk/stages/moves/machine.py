"""All axes: which of them move at once, step by step, as lanes over time with what they draw, and the axis that holds them up."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.moves.machine_cycle import Lanes
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.chart import DASH, ceiling
from urban_mule.desk.kit.painting import CENTRE, LEFT, Label, painted, say, say_lines
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.stages.moves.machine_steps import Steps
from urban_mule.store.document.parts import StepModel

NAMES, POWER, LANE = 64.0, 0.3, 30.0  # px of names at the left; share of the height for the power; px of a lane at most
MOST = 190  # px of the steps, beyond which they are scrolled
PATH = ("machine_cycle",)


class MachinePicture(Picture):
    """Lanes and power above; beneath, a column a step: who moves in it, and how long it rests."""

    needs = frozenset({"machine_cycle", "machine_lanes", "machine_power", "held_up_by", "axes_together"})
    session: Whole

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        self.lanes = LanesOverTime()
        self.steps = Steps(self.toggle, self.rest)
        self.wrong = Label(objectName="wrong", wordWrap=True)
        self.wrong.hide()
        row = QHBoxLayout()
        row.setContentsMargins(12, 0, 12, 4)
        self.add, self.drop, self.clear = (QPushButton(words, autoDefault=False) for words in (
            "Add a step", "Drop the last step", "Forget the steps"))
        for key, act in zip((self.add, self.drop, self.clear), (self.add_step, self.drop_step, self.forget), strict=True):
            key.clicked.connect(lambda _on, act=act: act())
            row.addWidget(key)
        row.addStretch(1)
        box.addWidget(self.lanes, 1)
        box.addWidget(self.steps)
        box.addWidget(self.wrong)
        box.addLayout(row)

    @property
    def cycle(self) -> tuple[StepModel, ...]:
        """The steps as the document has them."""
        return self.session.project.machine_cycle or ()

    def redraw(self) -> None:
        names = [axis.name for axis in self.session.project.axes]
        self.lanes.show_cycle(self.session.together, names)
        self.steps.rows.show_steps(self.cycle, names)
        self.steps.setVisible(bool(self.cycle))
        self.steps.setFixedHeight(min(self.steps.height_of_all, MOST))
        self.drop.setVisible(bool(self.cycle))
        self.clear.setVisible(bool(self.cycle))
        self.add.setText("Add a step" if self.cycle else "Say which axes move at once")
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """How long the machine's cycle takes and who holds it up."""
        verdict = self.session.together.verdict("machine cycle")
        if verdict is None:
            return ("Which axes move at once is not said: all are counted as moving at once, at their hardest.",
                    "Say it step by step; supply and mains are then those of what really moves together.")
        if verdict.level == "unknown":
            return "The machine's cycle is not known yet.", verdict.sentence
        return verdict.sentence, verdict.next

    def _take(self, steps: Iterable[StepModel], label: str) -> None:
        try:
            self.session.edit(PATH, tuple(steps) or None, label)
        except BadValue as why:
            self.wrong.setText(f"{str(why)[:1].upper()}{str(why)[1:]}.")
            self.wrong.show()
            return
        self.wrong.hide()

    def add_step(self) -> None:
        """One more step; the first ones are one for each axis that has a cycle, in turn."""
        if self.cycle:
            self._take((*self.cycle, StepModel.model_validate({"axes": ()})), "a step of the machine's cycle")
            return
        moving = [axis.name for axis in self.session.project.axes if axis.cycle] or [self.state.axis.name]
        self._take([StepModel.model_validate({"axes": (name,)}) for name in moving], "the machine's cycle, one axis after another")

    def drop_step(self) -> None:
        """The last step goes."""
        self._take(self.cycle[:-1], "a step of the machine's cycle less")

    def forget(self) -> None:
        """Nothing is said of which axes move at once any more."""
        self._take((), "which axes move at once is not said")

    def toggle(self, place: int, name: str, moves: bool) -> None:
        """Let an axis move in a step, or not."""
        steps, order = list(self.cycle), [axis.name for axis in self.session.project.axes]
        kept = {*steps[place].axes, name} if moves else {*steps[place].axes} - {name}
        steps[place] = steps[place].model_copy(update={"axes": tuple(one for one in order if one in kept)})
        self._take(steps, f"step {place + 1}: {name} {'moves' if moves else 'stands'}")

    def rest(self, place: int, text: str) -> None:
        """How long the machine rests after a step [s]."""
        steps = list(self.cycle)
        try:
            value = float(text.replace(",", ".") or 0.0)
            steps[place] = StepModel.model_validate({"axes": steps[place].axes, "dwell": value})
        except ValueError:
            self.wrong.setText(f"{text[:20]!r} is no rest; a number of seconds is needed, 0 or more.")
            self.wrong.show()
            return
        self._take(steps, f"step {place + 1}: rests {number_text(value, 3)} s")


class LanesOverTime(QWidget):
    """A lane an axis, a bar a move; strong where the others wait for it. Beneath, what all axes draw."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumHeight(160)
        self.lanes: Lanes | None = None
        self.together: Solution | None = None
        self.names: list[str] = []
        self.why = ""

    def show_cycle(self, together: Solution, names: list[str]) -> None:
        """Take over the lanes, or why there are none."""
        self.together, self.lanes = together, together.get("machine_lanes")
        said = {one.axis for one in self.lanes.moves} if self.lanes is not None else set()
        self.names = [name for name in names if name in said]
        self.why = "" if self.lanes is not None else f"No lanes yet: {together.find('machine_lanes').reason}."
        self.setAccessibleName(self.why or "Lanes over time. " + " ".join(
            f"{name} holds the others up by {number_text(held, 2)} s." for name, held in together.get("held_up_by") or ()))
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        area = QRectF(self.rect()).adjusted(14, 10, -14, -8)
        whole = None if self.together is None else self.together.get("machine_cycle_time")
        if self.lanes is None or whole is None:
            words = self.why or "No axis moves in these steps yet: tick who does."
            say_lines(painter, area.adjusted(0, 20, 0, 0), words, "muted", 15)
            return
        over = QRectF(area.left() + NAMES, area.top() + 16, area.width() - NAMES, area.height() - 32)
        beneath = QRectF(over.left(), over.bottom() - POWER * over.height(), over.width(), POWER * over.height())
        above = QRectF(over.left(), over.top(), over.width(), over.height() - beneath.height() - 14)
        self._moves(painter, above, over.width() / float(whole))
        self._power(painter, beneath, over.width() / float(whole))
        for step in self.lanes.steps:
            x = over.left() + step.ends * over.width() / float(whole)
            say(painter, QRectF(x - 60, over.bottom() + 2, 60, 16), f"{number_text(step.ends, 3)} s", "muted", 12, align=CENTRE)

    def _moves(self, painter: QPainter, area: QRectF, scale: float) -> None:
        assert self.lanes is not None
        high = min(LANE, area.height() / max(len(self.names), 1))
        for place, step in enumerate(self.lanes.steps):
            x = area.left() + step.begins * scale
            painter.setPen(theme.pen("line", 1.0, DASH))
            painter.drawLine(QPointF(x, area.top() - 14), QPointF(x, area.bottom()))
            say(painter, QRectF(x + 4, area.top() - 16, 80, 14), f"step {place + 1}", "muted", 12)
        for row, name in enumerate(self.names):
            y = area.top() + row * high
            say(painter, QRectF(area.left() - NAMES, y, NAMES - 8, high), name, "ink", 15, bold=True, align=LEFT)
            for one in self.lanes.moves:
                if one.axis != name:
                    continue
                step = self.lanes.steps[one.step]
                bar = QRectF(area.left() + one.begins * scale, y + 3, max((one.ends - one.begins) * scale, 2.0), high - 6)
                painter.fillRect(bar, theme.color("blue", 90))
                if step.slowest == name:
                    alone = QRectF(bar.right() - step.held_up * scale, bar.top(), step.held_up * scale, bar.height())
                    painter.fillRect(alone, theme.color("accent", 200))
                covered = step.slowest == name and step.held_up > 0.9 * (one.ends - one.begins)
                words = f"{number_text(one.ends - one.begins, 3)} s"
                say(painter, bar.adjusted(6, 0, -4, 0), words, "panel" if covered else "ink", 13)

    def _power(self, painter: QPainter, area: QRectF, scale: float) -> None:
        """What all axes draw over time, with its greatest and its mean, and what the supply gives."""
        assert self.together is not None
        found = self.together.get("machine_power")
        if found is None:
            say_lines(painter, area, "What they draw is not known yet: motor, driver and cycle of each tell it.", "muted", 13)
            return
        time, drawn = found
        peak, mean, given = (self.together.get(name) for name in ("machine_peak_power", "machine_mean_power", "supply_power"))
        top = ceiling(1.1 * float(peak))
        points = [QPointF(area.left() + float(t) * scale, area.bottom() - float(p) / top * area.height())
                  for t, p in zip(time, drawn, strict=True)]
        painter.setPen(theme.pen("accent", 1.6))
        painter.setBrush(theme.color("wash"))
        painter.drawPolygon(QPolygonF([QPointF(area.left(), area.bottom()), *points, QPointF(area.right(), area.bottom())]))
        say(painter, QRectF(area.left() - NAMES, area.top(), NAMES - 8, 32), "power", "ink", 13)
        words = f"at most {number_text(float(peak), 3)} W, {number_text(float(mean), 3)} W in the mean"
        words += "" if given is None else f"; the supply gives {number_text(float(given), 3)} W"
        say(painter, QRectF(area.left() + 8, area.top() - 16, area.width() - 8, 16), words, "ink", 13)
