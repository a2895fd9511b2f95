"""The anatomy of every stage: headline, picture, what you know, what follows, the working slip over it."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QPoint, QRect, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from urban_mule.core.sheet.given import in_a_sentence, is_reading
from urban_mule.core.sheet.verdict import Verdict, headline, missing_in, next_number
from urban_mule.core.subjects import as_looked_up
from urban_mule.desk.kit.leaves import Leaves
from urban_mule.desk.kit.links import Links
from urban_mule.desk.kit.lower import Lower
from urban_mule.desk.kit.one_line import OneLine
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.slip import Slip
from urban_mule.desk.kit.theme import polish_again
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.words import label
from urban_mule.desk.stages.beside import Fields, VerdictLine
from urban_mule.desk.stages.sharing import KNOWN, MOST_BESIDE, NARROW, SharedOut
from urban_mule.desk.stages.spec import StageSpec
from urban_mule.store.book import changed_conditions
from urban_mule.store.document.project import from_practice

if TYPE_CHECKING:
    from urban_mule.desk.shared.round_view import RoundView
    from urban_mule.desk.shared.setup_view import SetupView
    from urban_mule.desk.stages.measure import MeasureBar

FIRST = 8  # ms before the first fields are made, so that the picture is painted first
READ_AS = {"travel": ("scale_reading",), "lengths": ("scale_reading",), "reversal": ("reversal_history",)}  # on the sheet, too
ODDS = {"torque margin": ("working_margin", "No step is lost"),  # by what a check judges: what is told of builds like this
        "lost motion": ("expected_lost_motion", "It stays within the accuracy wanted")}
CLEAR = 0.95  # share of builds from which on odds say no more than the sentence does
LONG_CYCLE = 200  # moves, from which on trying advice takes longer than the window may be silent


class StageView(SharedOut):
    """One stage for the shown axis. Subclasses replace `build_fields` where a stage is more than a grid of fields.

    It is built in parts, one each turn of the event loop after it is first shown, or earlier while nothing else is to do.
    wanted(name): somebody wants the field of a given, on whatever stage. to_print(sheet): somebody wants a card on paper.
    begun(way): somebody begins with an axis, the demo or a tour of it. measure_wanted(kind): somebody begins a round of a kind, on
    the stage where such readings are taken.
    """

    to_print = pyqtSignal(str)
    wanted = pyqtSignal(str)
    begun = pyqtSignal(str)
    measure_wanted = pyqtSignal(str)

    def __init__(self, session: Scope, spec: StageSpec, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.spec = session, spec
        self.lines: list[VerdictLine] = []
        self._joined: set[str] = set()
        self._kept = {}
        self._lacking = {}
        self._filling = QTimer(self, singleShot=True, interval=FIRST)
        self._filling.timeout.connect(self._go_on_filling)
        self.setObjectName(f"stage {spec.name}")
        self.headline = Label(objectName="headline", wordWrap=True)
        self.subline = Label(objectName="subline", wordWrap=True)
        self.leaves = Leaves(session, spec.leaves)
        self.box = box = QVBoxLayout(self)
        box.setContentsMargins(16, 8, 8, 8)
        box.setSpacing(6)
        box.addWidget(self.headline)
        self.beneath = QHBoxLayout()
        self.beneath.addWidget(self.subline, 1)
        box.addLayout(self.beneath)
        self.missing = Links()
        self.missing.chosen.connect(self.follow_link)
        box.addWidget(self.missing)
        self.also = QVBoxLayout()
        self.also.setSpacing(0)
        box.addLayout(self.also)
        box.addWidget(self.leaves, 1)
        self._place_words()
        self.leaves.said.connect(self._say)
        self.leaves.turned.connect(self._leaf_turned)
        self.below = Lower()
        box.addWidget(self.below)
        self.measure: MeasureBar | None = None
        self.round: RoundView | None = None
        self.setup: SetupView | None = None
        self.slip = Slip(session, self)
        self._awaited: tuple[str, str] | None = None  # whose number, of which check, something is filled in for
        self._outdated = False  # hidden or half built when another axis was chosen, and made for the former one
        # The picture comes when the rest has its size: a chart that is laid out five times is painted five times.
        self._steps = [self._fill_left, self._fill_right, self._fill_bottom, self._polish, self.leaves.make_first,
                       self._draw_first, self.leaves.begin, self._begin]
        self.ahead = [
            self._take_size, self._paint_first, *(partial(self.leaves.leaf, word) for word, _ in spec.leaves[1:])]
        self._next = QTimer(self, singleShot=True, interval=0)
        self._next.timeout.connect(self._go_on)
        self._late: frozenset[str] = frozenset()
        self._telling = QTimer(self, singleShot=True, interval=0)
        self._telling.timeout.connect(self._tell_on)
        session.axis_changed.connect(self._of_other_axis)
        self._say()

    def _begin(self) -> None:
        self.session.changed.connect(self._changed)
        self.session.sure_changed.connect(self._surer)
        if self._outdated:
            self.rebuild()
        else:
            self.refresh()

    def _surer(self, _names: object) -> None:
        """The odds in the line beneath the headline, and how wide the numbers are now."""
        if self.isVisible():
            self._say()
            self.lay()

    def _fill_bottom(self) -> None:
        self.take_readings()
        self.caution = Label(self.spec.caution, objectName="caution", wordWrap=True)
        self.box.addWidget(self.caution)
        self.caution.setVisible(bool(self.spec.caution))
        self.slip.raise_()

    def _fill_left(self) -> None:
        self.left = left = QWidget()
        left.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.know = know = QVBoxLayout(left)
        know.setContentsMargins(0, 0, 0, 0)
        know.setSpacing(4)
        self.know_heading = OneLine(KNOWN, objectName="heading")
        self.head = QHBoxLayout()
        self.head.setSpacing(2)
        self.head.addWidget(self.know_heading, 1)
        know.addLayout(self.head)
        self.fields = Fields()
        know.addWidget(self.fields)
        self.build_fields(know)
        know.addStretch(1)
        self.below.row.addWidget(left, 1)

    def _fill_right(self) -> None:
        self.follows = right = QWidget()
        follows = QVBoxLayout(right)
        follows.setContentsMargins(0, 0, 0, 0)
        follows.setSpacing(2)
        self.follows_heading = Label("What follows", objectName="heading")
        follows.addWidget(self.follows_heading)
        self.results = self._results()
        follows.addWidget(self.results)
        follows.addStretch(1)
        self.below.row.addWidget(right, 1)
        right.setVisible(bool(self.spec.results))

    def _of_other_axis(self) -> None:
        """Become a stage of the axis that is shown now: at once, or when it is built or looked at next."""
        self._outdated = True
        if self.isHidden():
            self.slip.close_slip()
            self.close_round()
        else:
            self._catch_up()

    def _catch_up(self) -> None:
        """Become a stage of the shown axis now; what is half built is built first, which ends with the same."""
        if self._steps:
            self.finish()
        else:
            self.rebuild()

    def setVisible(self, visible: bool) -> None:
        if visible and self._outdated:  # before its children show what belongs to another axis
            self._catch_up()
        super().setVisible(visible)

    def rebuild(self) -> None:
        """Another axis: the same stage with its fields and results."""
        self._outdated = False
        self.slip.close_slip()
        self.refill()
        self.put_results(self._results())  # before a round closes and shows them: another kind of axis has not what those ask for
        self.close_round()
        if self.measure is not None:
            self.measure.refresh()
        self.refresh()

    def _changed(self, names: frozenset[str]) -> None:
        if not self.isVisible():
            return
        if len(getattr(self.session.axis, "cycle", None) or ()) > LONG_CYCLE:
            self._late |= names
            self._telling.start()
        else:
            self.refresh(names)

    def _tell_on(self) -> None:
        """Try the advice of the verdicts one by one, since with a long cycle each takes a while; then say it."""
        if self.session.state.tell_ahead(self.spec.name):
            self._telling.start()
            return
        late, self._late = self._late, frozenset()
        if self.isVisible():
            self.refresh(late)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        if self._steps:
            self._next.start()
        else:
            self.refresh()

    def verdicts_here(self) -> tuple[Verdict, ...]:
        """The verdicts of the leaf on top, of which the headline says the one that decides."""
        return tuple(one for one in self.further() if self.spec.leaf_of(one.check) == self.leaves.word)

    def further(self) -> tuple[Verdict, ...]:
        """The verdicts of the stage, their advice not tried yet: that of those which are said is, before they are."""
        return self.session.state.judged(self.spec.name)

    def _told(self, verdict: Verdict | None) -> Verdict | None:
        return None if verdict is None else self.session.state.told(verdict)

    def _leaf_turned(self, word: str) -> None:
        picture: Any = self.leaves.picture
        if word not in self._joined and hasattr(picture, "round_wanted"):  # a picture that begins rounds of its own
            picture.round_wanted.connect(self.open_round)
            self._joined.add(word)
        self._say()
        self.lay()

    def _rests_on(self, check: str, kinds: Iterable[str]) -> list[str]:
        """Of these kinds of readings, those that a check hangs on."""
        sheet = self.session.sheet
        needed = {name for rule in sheet.checks if rule.name == check for name in rule.parameters}
        return [kind for kind in kinds if any(
            name in sheet.inputs and not needed.isdisjoint({name, *sheet.dependents[name]})
            for name in (f"{kind}_reading", *READ_AS.get(kind, ())))]

    def whose(self, _verdict: Verdict) -> str:
        """What the names of the givens that a verdict lacks begin with, where they are none of the axis."""
        return ""

    def _say(self) -> Verdict | None:
        """Headline, the line beneath it and what is missing, by the verdict that decides."""
        if self.round is not None:
            from urban_mule.bench.sessions.kinds import words_of  # the plans are needed only where something is measured

            words = words_of(self.round.kind)
            self.headline.setText(f"{words[:1].upper()}{words[1:]} on {self.session.axis.name}, step by step")
            return None
        verdicts, own = self.verdicts_here(), self.leaves.says()
        deciding = None if own is not None else self._told(headline(verdicts))
        ahead = next_number(verdicts if missing_in(verdicts) or own is not None else self.further())
        needed = () if ahead is None else as_looked_up(ahead.missing)
        self.missing.show_links(() if ahead is None else tuple((self.whose(ahead) + name, self._called(name)) for name in needed))
        sentence, nxt = self.words(deciding) if own is None else own
        unfinished = ahead is not None and (deciding is None or deciding.level == "unknown" or (
            ahead.main and deciding.level == "tight"))  # what is tight stands in the line beneath
        following = self._next_one(ahead, needed[0]) if ahead is not None and own is None and unfinished else None
        if following is not None:
            (sentence, nxt), deciding = following, ahead
        self._lead_on(ahead)
        nxt = self._with_readings(deciding, self._with_odds(deciding, nxt))
        self.headline.setText(sentence)
        self.subline.setText(nxt)
        self.subline.setVisible(bool(nxt) or 1 < len(self.spec.leaves) <= MOST_BESIDE)
        self._tell_also(deciding)
        return deciding

    def follow_link(self, name: str) -> None:
        """Go where one of the links beneath the headline leads."""
        self.wanted.emit(name)

    def _called(self, name: str) -> str:
        """What a given is called, that of a link with its link."""
        return next((one.label(name) for one in (self.session.solution, self.session.together) if one.knows(name)), label(name))

    def _next_one(self, ahead: Verdict, name: str) -> tuple[str, str] | None:
        """What to fill in next as a headline, and what needs it; None for readings, of which the verdict tells more."""
        given = next((one.given_of(name)[0] for one in (self.session.solution, self.session.together) if one.knows(name)), None)
        if given is None or is_reading(given):
            return None
        return f"Next: {in_a_sentence(self._called(name))}", f"For the {ahead.check}: {given.doc}."

    def _lead_on(self, ahead: Verdict | None) -> None:
        """Point at the number whose last missing thing was just filled in."""
        awaited, self._awaited = self._awaited, None if ahead is None else (self.session.state.id, ahead.check)
        if awaited is None or awaited == self._awaited or awaited[0] != self.session.state.id or self._steps:
            return
        known = next((one for one in self.further() if one.check == awaited[1] and one.level != "unknown"), None)
        row = None if known is None else self.results.point_at(known.check)
        if row is not None:
            self.below.ensureWidgetVisible(row)

    def _with_odds(self, deciding: Verdict | None, nxt: str) -> str:
        """The line beneath a headline, with the odds of what it says where they are worth saying."""
        quantity, said = ODDS.get("" if deciding is None else deciding.check, ("", ""))
        sure = self.session.sure if quantity else None
        share = None if sure is None else sure.share_of_builds(quantity)
        if share is None or not 1 - CLEAR < share < CLEAR:
            return nxt
        return f"{said} in {round(20 * share)} of 20 such builds. {nxt}"

    def _with_readings(self, deciding: Verdict | None, nxt: str) -> str:
        """The line beneath a headline that rests on readings: of practice, or taken under other conditions."""
        state = self.session.state
        kinds = self._rests_on(deciding.check, self.spec.readings) if deciding is not None else ()
        for kind in kinds:
            last = state.axis.last_reading(kind)
            since = [] if last is None else changed_conditions(last, state.solution, state.system, state.axis.unit)
            if since:
                nxt = f"{nxt} The {kind} readings were taken under other conditions: {'; '.join(since)}.".strip()
        if any(from_practice(state.axis, kind) for kind in kinds):
            nxt = f"From practice readings, made up by this program.{f' If they were real: {nxt}' if nxt else ''}"
        return nxt

    def refresh(self, _names: object = None) -> None:
        """The leaves that this axis has, the headline and the worst verdict of the stage."""
        servo = getattr(self.session.axis, "motor_kind", "") == "servo"
        alone = () if self.spec.of_pairs and self.session.project.fellow_of(self.session.axis) is not None else self.spec.of_pairs
        self.leaves.leave_out((*(self.spec.of_steppers if servo else self.spec.of_servos), *alone))
        self._say()
        self._teach()
        self.lay()

    def _tell_also(self, said: Verdict | None) -> None:
        """The verdict that decides the stage, in a line, where the headline says another one and this one needs attention."""
        deciding = self._told(headline(self.further()))
        shown = [deciding] if deciding is not None and deciding.level in ("short", "tight") and (
            said is None or deciding.check != said.check) and self.leaves.word != "checks" else []
        if [(line.verdict.sentence, line.verdict.next) for line in self.lines] == [(v.sentence, v.next) for v in shown]:
            return
        if shown and self.lines:  # the same line goes on: another one would have its place only a little later
            self.lines[0].show_verdict(shown[0])
            return
        for line in self.lines:
            line.hide()  # else Qt, about to show it, would show it as a window of its own
            self.also.removeWidget(line)
            line.setParent(None)
            line.deleteLater()
        self.lines = [VerdictLine(verdict) for verdict in shown]
        for line in self.lines:
            line.pressed.connect(lambda check: self.leaves.turn(self.spec.leaf_of(check)))
            self.also.addWidget(line)
            line.show()

    def words(self, deciding: Verdict | None) -> tuple[str, str]:
        """Headline and the line beneath it."""
        if deciding is None:
            return self.spec.nothing.get(self.leaves.word, (self.spec.name, ""))
        nothing = deciding.next.startswith("Nothing to do")
        school = deciding.school if self.width() >= NARROW else ""
        return deciding.sentence, " ".join(part for part in ("" if nothing else deciding.next, school) if part)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        narrow = self.width() < NARROW
        if narrow != bool(self.headline.property("narrow")):
            self.headline.setProperty("narrow", narrow)
            polish_again(self.headline)
            self._say()
        self._place_words()
        if not self._steps:
            self._share_out()
            self.refresh()

    def open_working(self, name: str) -> None:
        """Slide the working of a result out under its row."""
        row = next((r for r in self.results.rows if r.name == name), None)
        self.results.unfold(name)
        if row is not None and row.isVisible():
            self.below.ensureWidgetVisible(row)
        anchor = QRect(self.width() // 2, self.height() // 2, 420, 20) if row is None or not row.isVisible() else QRect(
            row.mapTo(self, QPoint(0, 0)), row.size())
        self.slip.open(name, anchor)
        self.slip.setFocus()

    def go_on(self) -> None:
        """The cursor to the first field here that is missing; where none is it stays on what opened the dialog."""
        own = {given for _, given in self.spec.all_fields}
        for name in [one for one in self.session.state.next_missing(self.spec.name) if one in own][:1]:
            field = self.show_field(name)
            if field is not None:
                field.setFocus()

    def after(self, dialog: QDialog | None) -> None:
        """Go on when a dialog has been taken."""
        if dialog is not None:
            dialog.accepted.connect(self.go_on)

    def begin_at(self, _place: int, _name: str) -> None:
        """The cursor into a field of a link, where the stage has such."""
        self.begin_here()

    def begin_here(self) -> None:
        """Put the cursor where the stage is begun, when it is opened for something that is no field."""
        self.picture.setFocus()
