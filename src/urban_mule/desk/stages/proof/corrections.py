"""Corrections: a ladder of what each would buy and what the next run really gave; the table, out as CSV."""

from __future__ import annotations

import csv
import io
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.shown import solved_text
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import LEFT, RIGHT, Label, painted, paper, say
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.table import Table
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import small, travel
from urban_mule.store.text_files import BadFile, safe_name, write_whole

RUNGS = (("positioning_accuracy", "as it is", "as_it_was"), ("accuracy_with_scale", "scale corrected", "scale"),
         ("accuracy_with_backlash", "backlash compensated", "backlash"), ("accuracy_with_table", "table", "table"),
         ("accuracy_with_all", "table and backlash", "all"), ("accuracy_floor", "limit set by scatter", "floor"))
HEAD = ("target", "correction", "increment", "after scale", "recommended")


class CorrectionsPicture(Picture):
    """The ladder on the left, the table on the right."""

    needs = frozenset({"positioning_reading", "accuracy_wanted", "correction_points", "promised_before"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        row, right = QHBoxLayout(self), QVBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        self.ladder = Ladder()
        self.table = Table("The correction table", HEAD, 4, (0, 1, 2, 3))
        self.said = Label(objectName="label", wordWrap=True)
        self.out = QPushButton("Table as CSV…", autoDefault=False)
        self.out.clicked.connect(self.save)
        right.addWidget(self.table, 1)
        right.addWidget(self.said)
        right.addWidget(self.out, alignment=Qt.AlignmentFlag.AlignLeft)
        row.addWidget(self.ladder, 5)
        row.addLayout(right, 4)

    def says(self) -> tuple[str, str] | None:
        """What all corrections together would leave; None where the verdict on the table needs attention."""
        if any(one.check == "table" and one.level != "good" for one in self.state.verdicts("Proof")):
            return None
        solution, system = self.state.solution, self.state.system
        if solution.get("positioning_accuracy") is None:
            return "What corrections would buy is told by a positioning run.", ""
        now, least, floor = (solved_text(solution, name, system) for name in (
            "positioning_accuracy", "accuracy_with_all", "accuracy_floor"))
        if solution.get("accuracy_with_all") is None:
            return f"Accuracy A is {now}.", f"No table yet: {self.state.reason_unknown('correction_points')}."
        return (f"A table and backlash compensation together would leave {least} of {now}.",
                f"Below {floor} nothing helps but less scatter.")

    def redraw(self) -> None:
        get = self.state.solution.get
        (to_small, unit), (to_travel, long) = small(self.state), travel(self.state)
        before = get("promised_before")
        rungs = [(words, None if (value := get(name)) is None else float(value) * to_small,
                  None if before is None else float(getattr(before, key)) * to_small) for name, words, key in RUNGS]
        wanted = get("accuracy_wanted")
        self.ladder.show_rungs(rungs, None if wanted is None else float(wanted) * to_small, unit)
        points = get("correction_points") or []
        self.table.source.show_rows([(
            f"{number_text(one['target'] * to_travel, 5)} {long}", *(f"{one[key] * to_small:.2f} {unit}" for key in (
                "correction", "increment", "correction_after_scale")), "yes" if one["worth"] else "no")
            for one in points])
        self.out.setEnabled(bool(points))
        self.said.setText("" if points else f"No table yet: {self.state.reason_unknown('correction_points')}.")
        self.said_anew.emit()

    def table_csv(self) -> str:
        """The table as CSV, in the units that are shown."""
        (to_small, unit), (to_travel, long) = small(self.state), travel(self.state)
        out = io.StringIO()
        rows = csv.writer(out, lineterminator="\n")
        columns = (f"{name} [{unit}]" for name in ("correction", "increment", "correction_after_scale"))
        rows.writerow([f"target [{long}]", *columns, "worth"])
        for one in self.state.solution.get("correction_points") or []:
            rows.writerow([f"{one['target'] * to_travel:.9g}", *(f"{one[key] * to_small:.6g}" for key in (
                "correction", "increment", "correction_after_scale")), "yes" if one["worth"] else "no"])
        return out.getvalue()

    def save(self) -> None:
        """Write the table where the user says."""
        suggested = f"{safe_name(self.state.axis.name)}-corrections.csv"
        name, _ = QFileDialog.getSaveFileName(self, "Correction table", suggested, "CSV (*.csv)")
        if name:
            try:
                write_whole(Path(name), self.table_csv())
            except BadFile as why:
                self.session.told.emit(str(why))
                return
            points = len(self.state.solution.get("correction_points") or [])
            self.session.hardware.put({"correction_table": f"{points} points"})
            self.session.told.emit(f"{name}: the table is written, and recorded as what is on the controller.")


class Ladder(QWidget):
    """Bars of accuracy: what each correction would leave now, and as a ring what the run before had promised."""

    natural = (420.0, 230.0)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.rungs: list[tuple[str, float | None, float | None]] = []
        self.wanted: float | None = None
        self.unit = ""

    def show_rungs(self, rungs: list[tuple[str, float | None, float | None]], wanted: float | None, unit: str) -> None:
        """Take the numbers over: words, what it would leave, what the run before had promised."""
        self.rungs, self.wanted, self.unit = rungs, wanted, unit
        said = [f"{words} {number_text(value, 3)} {unit}" for words, value, _ in rungs if value is not None]
        self.setAccessibleName("; ".join(said) or "No run yet")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(paper(self), theme.color("panel"))
        known = [value for _, now, before in self.rungs for value in (now, before) if value is not None]
        if not known:
            say(painter, paper(self), "No run with repeats yet: what each correction would buy stands here.", "muted", 14,
                align=Qt.AlignmentFlag.AlignHCenter)
            return
        left, right = 168.0, paper(self).width() - 84.0
        most = max(*known, self.wanted or 0.0) or 1.0  # where nothing errs
        high = (paper(self).height() - 62.0) / len(self.rungs)
        for n, (words, now, before) in enumerate(self.rungs):
            y = 14 + high * (n + 0.5)
            say(painter, QRectF(10, y - 9, left - 18, 18), words, "ink", 13, bold=n == 0, align=RIGHT)
            if now is not None:
                bar = QRectF(left, y - 7, max(2.0, (right - left) * now / most), 14)
                painter.fillRect(bar, theme.color("muted" if n == len(self.rungs) - 1 else "blue"))
                place = QRectF(right + 6, y - 9, 74, 18)
                say(painter, place, f"{number_text(now, 3)} {self.unit}", "ink", 13, bold=True, align=RIGHT)
            if before is not None:
                painter.setPen(theme.pen("accent", 2.0))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(QPointF(left + (right - left) * before / most, y), 6, 6)
        if self.wanted is not None:
            x = left + (right - left) * self.wanted / most
            painter.setPen(theme.pen("good", 1.6, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, 10), QPointF(x, paper(self).height() - 44.0))
            on_left = x > 0.6 * paper(self).width()
            place = QRectF(x - 186 if on_left else x + 6, paper(self).height() - 46.0, 180, 16)
            say(painter, place, f"wanted {number_text(self.wanted, 3)} {self.unit}", "good", 12, align=RIGHT if on_left else LEFT)
        if any(before is not None for _, _, before in self.rungs):
            below = QRectF(12.0, paper(self).height() - 24.0, paper(self).width() - 20, 18)
            say(painter, below, "rings: what the run before had promised", "accent", 12)
