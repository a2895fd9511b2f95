"""Decisions: a path in the order in which one thing fixes the next, made from the project; what is decided, why, what it fixes."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLineEdit, QPushButton, QRadioButton, QVBoxLayout, QWidget

from urban_mule.core.brief.decisions import DECISIONS
from urban_mule.desk.kit.painting import LEFT, Label, painted, say
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import draw_mark, theme
from urban_mule.desk.model.booked import book, one_step
from urban_mule.desk.model.scope import Scope
from urban_mule.store.deciding import MARKS, Stand, conditions_of, path_of_decisions
from urban_mule.store.document.brief import DecisionBody
from urban_mule.store.file.project_file import now

WIDTH, ROW = 196, 34  # px of the path, and of a station on it
SCHOOLS = max(len(one.schools) for one in DECISIONS)


class PathOf(QWidget):
    """The nine stations of the path, one below the other. chosen(place)."""

    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.stands: tuple[Stand, ...] = ()
        self.at = 0
        self.setFixedWidth(WIDTH)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def sizeHint(self) -> QSize:
        return QSize(WIDTH, ROW * len(DECISIONS))

    def show_stands(self, stands: tuple[Stand, ...], at: int) -> None:
        self.stands, self.at = stands, at
        one = stands[at]
        self.setAccessibleName(f"Decision {at + 1} of {len(stands)}, {one.decision.name}: {one.state}")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        high = self.height() / max(1, len(self.stands))
        painter.setPen(theme.pen("line", 2))
        painter.drawLine(QPointF(18, high / 2), QPointF(18, self.height() - high / 2))
        for place, one in enumerate(self.stands):
            top = high * place
            if place == self.at:
                painter.fillRect(QRectF(0, top + 1, WIDTH, high - 2), theme.color("terrain"))
            draw_mark(painter, MARKS[one.state], QPointF(18, top + high / 2), 6)
            say(painter, QRectF(36, top, WIDTH - 36, high / 2 + 4), one.decision.name, "accent" if place == self.at else "ink", 13,
                bold=True, align=LEFT)
            said = f"{one.state}, early" if one.early and one.state != "open" else one.state
            say(painter, QRectF(36, top + high / 2 + 3, WIDTH - 36, high / 2 - 3), said, "muted", 12,
                align=LEFT)
        if self.hasFocus():
            painter.setPen(theme.pen("accent", 1.2))
            painter.drawRect(QRectF(0.5, high * self.at + 0.5, WIDTH - 1, high - 1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.stands:
            self.chosen.emit(min(len(self.stands) - 1, int(event.position().y() * len(self.stands) / max(1, self.height()))))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0) if event is not None else 0
        if step and 0 <= self.at + step < len(self.stands):
            self.chosen.emit(self.at + step)
        elif not step:
            super().keyPressEvent(event)


class DecisionsPicture(Picture):
    """The path on the left; on the right the decision that is chosen. go(given): somebody wants its field."""

    go = pyqtSignal(str)

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.stands: tuple[Stand, ...] = ()
        self.at = 0
        row, right = QHBoxLayout(self), QVBoxLayout()
        row.setContentsMargins(12, 8, 12, 8)
        row.setSpacing(20)
        right.setSpacing(5)
        self.path = PathOf()
        self.path.chosen.connect(self.choose)
        self.question = Label(objectName="headline", wordWrap=True)
        self.fact = Label(wordWrap=True)
        self.schools = [QRadioButton() for _ in range(SCHOOLS)]
        self.whens = [Label(objectName="label", wordWrap=True) for _ in self.schools]
        self.group = QButtonGroup(self)
        self.decided = QLineEdit(accessibleName="What is decided", placeholderText="what is decided, in your words")
        self.why = QLineEdit(accessibleName="Why", placeholderText="why")
        self.fixes, self.warns = Label(objectName="label", wordWrap=True), Label(objectName="caution", wordWrap=True)
        self.write = QPushButton("Write it down", objectName="strong", autoDefault=False)
        self.write.clicked.connect(self.decide)
        self.lead = QPushButton("Go to where it stands", autoDefault=False)
        self.lead.clicked.connect(lambda: self.go.emit(self.stands[self.at].decision.given))
        right.addWidget(self.question)
        right.addWidget(self.fact)
        for button, when in zip(self.schools, self.whens, strict=True):
            self.group.addButton(button)
            line = QHBoxLayout()
            line.addWidget(button)
            line.addWidget(when, 1)
            right.addLayout(line)
        for edit in (self.decided, self.why):
            edit.returnPressed.connect(self.decide)
            right.addWidget(edit)
        right.addWidget(self.fixes)
        right.addWidget(self.warns)
        right.addStretch(1)
        keys = QHBoxLayout()
        keys.addWidget(self.write)
        keys.addWidget(self.lead)
        keys.addStretch(1)
        right.addLayout(keys)
        row.addWidget(self.path)
        row.addLayout(right, 1)
        session.book_changed.connect(self._anew)

    def choose(self, place: int) -> None:
        """Look at another decision."""
        self.at = place
        self._show(fresh=True)

    def says(self) -> tuple[str, str] | None:
        """How many decisions are written down, and which comes next."""
        stands = path_of_decisions(self.session.project)
        written = sum(one.state == "written down" for one in stands)
        again = [one.decision.name for one in stands if one.state == "look again"]
        open_ = [one.decision.name for one in stands if one.state in ("open", "decided in the project")]
        nxt = f"Look again at {', '.join(again)}: what came before is another now." if again else (
            f"Next on the path: {open_[0]}." if open_ else "Nothing is open.")
        return f"{written} of {len(stands)} decisions are written down.", nxt

    def redraw(self) -> None:
        self.stands = path_of_decisions(self.session.project)
        typing = self.decided.hasFocus() or self.why.hasFocus()
        self._show(fresh=not typing)

    def _show(self, fresh: bool) -> None:
        one = self.stands[self.at]
        self.path.show_stands(self.stands, self.at)
        self.question.setText(one.decision.question)
        self.fact.setText(f"The project says: {one.fact}." if one.fact else "The project says nothing of it yet.")
        for place, (button, when) in enumerate(zip(self.schools, self.whens, strict=True)):
            there = place < len(one.decision.schools)
            button.setVisible(there)
            when.setVisible(there)
            if there:
                school = one.decision.schools[place]
                button.setText(school.name)
                when.setText(f"when {school.when}")
        if fresh:
            self.group.setExclusive(False)
            for button in self.schools:
                button.setChecked(one.written is not None and button.text() == one.written.school and not button.isHidden())
            self.group.setExclusive(True)
            self.decided.setText("" if one.written is None else one.written.decided)
            self.why.setText("" if one.written is None else one.written.why)
        ends = "; ".join(f"{name}: {what}" for name, what in one.decision.fixes)
        self.fixes.setText(f"It fixes further on – {ends}." if ends else "Nothing hangs on it further on.")
        self.warns.setText(_warning(one))
        self.warns.setVisible(bool(self.warns.text()))
        self.lead.setVisible(one.decision.given not in ("stop", "noise", "spindles"))

    def decide(self) -> None:
        """Write the decision down with what the earlier ones say now."""
        name = self.stands[self.at].decision.name
        school = next((button.text() for button in self.schools if button.isChecked() and not button.isHidden()), "")
        decided = self.decided.text().strip()
        if not school and not decided:
            self.warns.setText("Choose an approach, or say what is decided.")
            self.warns.show()
            return
        made = DecisionBody.model_validate({
            "decision": name, "school": school, "decided": decided, "why": self.why.text().strip(), "taken": now().isoformat(),
            "conditions": conditions_of(self.session.project, name)})
        others = tuple(one for one in self.session.project.decisions or () if one.decision != name)
        with one_step(self.session, f"decided: {name}"):
            self.session.edit(("decisions",), (*others, made), f"decided: {name}")
            book(self.session, f"Decided, {name}: {'; '.join(part for part in (school, decided) if part)}."
                 + (f" {made.why}" if made.why else ""))
        self.redraw()
        self._show(fresh=True)


def _warning(one: Stand) -> str:
    """What must be looked at again, and the risk of deciding it now."""
    if one.changed:
        said = "; ".join(f"{name} was “{was}”, is “{now_ or 'open'}”" for name, was, now_ in one.changed)
        return f"Look again: {said}. Write it down anew when it still holds."
    if one.early:
        return f"Decided before {' and '.join(one.early)}, it can be done; the risk: {one.decision.risk}."
    return ""
