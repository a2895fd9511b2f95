"""Log: a time line of what was set, measured, repaired and noted, and what is due."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from urban_mule.core.sheet.wording import counted
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.model.upkeep import UpkeepTasks
from urban_mule.store.file.project_file import ENTRY_KINDS, Entry

COLORS = {"set": "accent", "measured": "blue", "repaired": "good", "maintained": "violet", "note": "muted", "due": "tight"}


class LogPicture(Painted):
    """One lane a kind of entry, time from left to right. No quantity changes it."""

    session: Whole
    needs = frozenset({"the log"})

    def __init__(self, session: Whole, parent: object = None) -> None:
        super().__init__(session, parent)  # type: ignore[arg-type]
        self._entries: list[Entry] = []
        self.upkeep = UpkeepTasks(session)
        self._told: tuple[tuple[int, int, str], tuple[str, str]] = (0, 0, ""), ("", "")
        session.book_changed.connect(self._anew)

    def says(self) -> tuple[str, str] | None:
        """How much is written down, and what waits."""
        book = self.session.entries()
        asked = (id(book), len(book), self.session.axis.name)
        if asked != self._told[0]:  # an edit that writes nothing into the book does not read it
            entries = [e for e in book if e.subject == self.session.axis.id]
            due = [e for e in entries if e.kind == "due"]
            late = [one.task for one in self.upkeep.of_axis(self.session.axis) if one.late]
            waits = f"overdue is {', '.join(late[:3])}" if late else f"{len(due)} due" if due else "nothing is due"
            count = f"{len(book)} {'entry' if len(book) == 1 else 'entries'}"
            said = f"{count}, {len(entries)} of them for {self.session.axis.name}; {waits}."
            self._told = asked, (said, f"Due: {due[-1].said}" if due else "")
        return self._told[1]

    def redraw(self) -> None:
        self._entries = [e for e in self.session.entries() if e.subject == self.state.id]
        super().redraw()

    def paint(self, painter: QPainter, area: QRectF) -> None:
        entries = self._entries
        self.setAccessibleName(f"Time line with {counted(len(entries), 'entry', 'entries')}")
        painter.setFont(font(13))
        if not entries:
            painter.setPen(theme.color("muted"))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "Nothing written down for this axis yet.")
            return
        lane = (area.height() - 30) / len(ENTRY_KINDS)
        first, last = entries[0].time, entries[-1].time
        span = max((last - first).total_seconds(), 1.0)
        line = QRectF(area.left() + 92, area.top(), area.width() - 120, area.height() - 30)
        for index, kind in enumerate(ENTRY_KINDS):
            y = line.top() + lane * (index + 0.5)
            painter.setPen(theme.pen("line"))
            painter.drawLine(QPointF(line.left(), y), QPointF(line.right(), y))
            painter.setPen(theme.color(COLORS[kind]))
            painter.drawText(QRectF(area.left(), y - 10, 84, 20), Qt.AlignmentFlag.AlignVCenter, kind)
        marked: set[tuple[int, int]] = set()  # thousands of entries are no more strokes than the line has places
        for entry in entries:
            index = ENTRY_KINDS.index(entry.kind) if entry.kind in ENTRY_KINDS else ENTRY_KINDS.index("note")
            x = line.left() + line.width() * (entry.time - first).total_seconds() / span
            if (index, round(x)) in marked:
                continue
            marked.add((index, round(x)))
            y = line.top() + lane * (index + 0.5)
            painter.setPen(theme.pen(COLORS[ENTRY_KINDS[index]], 1.6))
            painter.setBrush(theme.color(COLORS[ENTRY_KINDS[index]]))
            painter.drawRect(QRectF(x - 4, y - 9, 8, 18))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(theme.color("muted"))
        days = {first.date(), last.date(), *(e.time.date() for e in entries if e.kind == "measured")}
        used = -1e9
        for day in sorted(days):
            x = line.left() + line.width() * min(1.0, max(0.0, (day - first.date()).total_seconds() / span))
            if x - used > 92:
                painter.drawText(QRectF(x - 45, area.bottom() - 24, 90, 18), Qt.AlignmentFlag.AlignCenter, f"{day.day} {day:%b %Y}")
                used = x
