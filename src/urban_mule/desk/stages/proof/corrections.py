"""Corrections: a ladder of what each would buy and what the next run really gave; the table, out as CSV."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.proof.periodic import POINTS_A_PERIOD, wave_at
from urban_mule.core.sheet.shown import solved_text
from urban_mule.core.sheet.units import number_text, with_doubt
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.painting import LEFT, RIGHT, Label, painted, paper, say
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.table import Table
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import small, travel
from urban_mule.store.text_files import BadFile, safe_name, write_whole

RUNGS = (("positioning_accuracy", "as it is", "as_it_was"), ("accuracy_with_scale", "scale corrected", "scale"),
         ("accuracy_with_backlash", "backlash compensated", "backlash"), ("accuracy_with_table", "table", "table"),
         ("accuracy_with_all", "table and backlash", "all"))
WAVES = ("accuracy_with_waves", "scale, backlash, waves", "waves")
BETWEEN = (("line", "line, in between"), ("table", "table, in between"))
FLOOR = ("accuracy_floor", "limit set by scatter", "floor")
MOST_PLACES = 2000  # of a table that follows a wave
HEAD = ("target", "correction", "increment", "after scale", "use")


class CorrectionsPicture(Picture):
    """The ladder on the left, the table on the right."""

    needs = frozenset({"positioning_reading", "accuracy_wanted", "correction_points", "promised_before", "accuracy_promised",
                       "accuracy_between", "wave_corrections", "travel"})

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
        self.waves = QPushButton("Waves as CSV…", autoDefault=False)
        self.waves.clicked.connect(self.save_waves)
        buttons = QHBoxLayout()
        buttons.addWidget(self.out)
        buttons.addWidget(self.waves)
        buttons.addStretch(1)
        right.addLayout(buttons)
        row.addWidget(self.ladder, 5)
        row.addLayout(right, 4)

    def says(self) -> tuple[str, str] | None:
        """What all corrections together would leave; None where the verdict on the table needs attention."""
        if any(one.check == "table" and one.level != "good" for one in self.state.judged("Proof")):
            return None
        solution, system = self.state.solution, self.state.system
        if solution.get("positioning_accuracy") is None:
            return "What corrections would buy is told by a positioning run.", ""
        now, floor = (solved_text(solution, name, system) for name in ("positioning_accuracy", "accuracy_floor"))
        if solution.get("accuracy_with_all") is None:
            return f"Accuracy A is {now}.", f"No table yet: {self.state.reason_unknown('correction_points')}."
        least, between = self._promises()["all"], solution.get("accuracy_between")
        to_small, unit = small(self.state)
        places = "" if between is None else (f" In between the targets a table leaves {size(between['table'] * to_small)} {unit},"
                                             f" scale and backlash alone {size(between['line'] * to_small)} {unit}.")
        return (f"A table and backlash compensation together would leave {size(least * to_small)} {unit} of {now} at the targets.",
                f"Below {floor} nothing helps but less scatter.{places}")

    def _promises(self) -> dict[str, float]:
        """Accuracy with each correction [travel], with the scatter that the correction has itself where the run tells that."""
        get = self.state.solution.get
        made = {key: get(name) for name, _, key in (*RUNGS, WAVES)} | {FLOOR[2]: get(FLOOR[0])} | (get("accuracy_promised") or {})
        return {key: float(value) for key, value in made.items() if value is not None}

    def redraw(self) -> None:
        get = self.state.solution.get
        (to_small, unit), (to_travel, long) = small(self.state), travel(self.state)
        before = get("promised_before")
        now, between = self._promises(), get("accuracy_between") or {}
        rungs = [(words, None if (value := now.get(key)) is None else value * to_small,
                  None if before is None else float(getattr(before, key)) * to_small) for _, words, key in (*RUNGS, FLOOR)]
        if WAVES[2] in now:
            rungs.insert(-1, (WAVES[1], now[WAVES[2]] * to_small, None))
        rungs[-1:-1] = [(words, float(between[key]) * to_small, None) for key, words in BETWEEN if key in between]
        wanted = get("accuracy_wanted")
        self.ladder.show_rungs(rungs, None if wanted is None else float(wanted) * to_small, unit)
        points = get("correction_points") or []
        self.table.source.show_rows([(
            f"{number_text(one['target'] * to_travel, 5)} {long}",
            f"{with_doubt(one['correction'] * to_small, one['uncertainty'] * to_small)} {unit}",
            *(f"{one[key] * to_small:.2f} {unit}" for key in ("increment", "correction_after_scale")),
            "yes" if one["worth"] else "no")
            for one in points])
        self.out.setEnabled(bool(points))
        self.waves.setVisible(bool(get("wave_corrections")))
        none_yet = f"No table yet: {self.state.reason_unknown('correction_points')}."
        self.said.setText(self._of_waves(len(points)) if points else none_yet)
        self.said_anew.emit()

    def _of_waves(self, points: int) -> str:
        """What repeats, as a correction of its own, and what a table of so many points makes of it."""
        (to_small, unit), (to_travel, long) = small(self.state), travel(self.state)
        waves, whole = self.state.solution.get("wave_corrections") or [], self.state.solution.get("travel")
        said = []
        for one in waves:
            amplitude = with_doubt(one["amplitude"] * to_small, one["amplitude_uncertainty"] * to_small)
            needed = None if whole is None else math.ceil(POINTS_A_PERIOD * float(whole) / one["period"])
            coarse = needed is not None and points < needed
            every = number_text(one["period"] * to_travel, 4)
            said.append(f"A wave repeats with {one['name']}, every {every} {long}: {amplitude} {unit},"
                        f" phase {math.degrees(one['phase']):.0f}° at 0."
                        + (f" A table of {points} points does not follow it; {needed} would." if coarse else ""))
        return " ".join(said)

    def wave_csv(self) -> str:
        """What repeats as CSV, in the units that are shown: the waves, then a table that follows them over the travel."""
        (to_small, unit), (to_travel, long) = small(self.state), travel(self.state)
        out = io.StringIO()
        rows = csv.writer(out, lineterminator="\n")
        waves = self.state.solution.get("wave_corrections") or []
        rows.writerow(["wave", f"period [{long}]", f"amplitude [{unit}]", "phase at 0 [°]"])
        for one in waves:
            rows.writerow([one["name"], f"{one['period'] * to_travel:.9g}", f"{one['amplitude'] * to_small:.6g}",
                           f"{math.degrees(one['phase']):.4g}"])
        whole = self.state.solution.get("travel")
        if waves and whole is not None:
            step = min(one["period"] for one in waves) / POINTS_A_PERIOD
            places = np.arange(0.0, min(float(whole), MOST_PLACES * step) + step / 2, step)
            rows.writerow([])
            rows.writerow([f"target [{long}]", f"correction [{unit}]"])
            for place, off in zip(places, wave_at(waves, places), strict=True):
                rows.writerow([f"{place * to_travel:.9g}", f"{-off * to_small:.6g}"])
        return out.getvalue()

    def save_waves(self) -> None:
        """Write the waves where the user says."""
        name = self._written("Waves to correct", "waves", self.wave_csv)
        if name:
            self.session.told.emit(f"{name}: the waves are written, with a table that follows them.")

    def _written(self, title: str, what: str, text: Callable[[], str]) -> str:
        """Write a text where the user says; where that is, nothing where it was not written."""
        name, _ = QFileDialog.getSaveFileName(self, title, f"{safe_name(self.state.axis.name)}-{what}.csv", "CSV (*.csv)")
        if name:
            try:
                write_whole(Path(name), text())
            except BadFile as why:
                self.session.told.emit(str(why))
                return ""
        return name

    def table_csv(self) -> str:
        """The table as CSV, in the units that are shown."""
        (to_small, unit), (to_travel, long) = small(self.state), travel(self.state)
        out = io.StringIO()
        rows = csv.writer(out, lineterminator="\n")
        names = ("correction", "increment", "correction_after_scale", "uncertainty")
        columns = (f"{name} [{unit}]" for name in names)
        rows.writerow([f"target [{long}]", *columns, "worth"])
        for one in self.state.solution.get("correction_points") or []:
            rows.writerow([f"{one['target'] * to_travel:.9g}", *(f"{one[key] * to_small:.6g}" for key in names),
                           "yes" if one["worth"] else "no"])
        return out.getvalue()

    def save(self) -> None:
        """Write the table where the user says."""
        name = self._written("Correction table", "corrections", self.table_csv)
        if name:
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
