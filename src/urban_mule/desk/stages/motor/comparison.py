"""Up to four drives side by side: the figures in rows, each with its verdict, and where each drive is tightest."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QSizePolicy, QWidget

from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.shown import value_text
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict, worst
from urban_mule.desk.kit.painting import fitted, painted
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.words import label
from urban_mule.store.document.project import Project
from urban_mule.store.solve import solve_axis

ROWS = (  # quantity, and the check that judges it; those that a kind of motor does not have are left out
    ("working_margin", "torque margin"), ("continuous_margin", "continuous torque"), ("inertia_ratio", "inertia ratio"),
    ("cycle_temperature_rise", "cycle heat"), ("voltage_needed", "supply voltage"), ("corner_speed", "kind of motor"),
    ("pulse_rate", "pulse rate"))
STAGES = ("Load", "Motor", "Drive")  # whose verdicts a choice of the drive can change
NAMES, ROW, LINE = 186.0, 20.0, 17.0
HEAD, TIGHTEST = 4 * LINE, 5 * LINE  # two lines each for name and setting; what is tightest in whole


@record(frozen=True)
class Drive:
    """One column: its name and setting, its solution and verdicts."""

    name: str
    setting: str
    solution: Solution
    verdicts: tuple[Verdict, ...]
    system: str


def solved(name: str, setting: str, project: Project, index: int) -> Drive:
    """A drive on its axis, solved without the readings, which no choice of a drive changes."""
    axis = project.axes[index].model_copy(update={"readings": ()})
    solution = solve_axis(project, axis)
    verdicts = tuple(v for v in solution.verdicts() if v.stage in STAGES and v.level != "unknown")
    return Drive(name, setting, solution, verdicts, str(project.unit_system))


class Comparison(QWidget):
    """One column a drive; its figures come from the whole sheet, solved for it alone."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setMinimumHeight(round(HEAD + TIGHTEST + ROW * (len(ROWS) - 1)) + 20)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.drives: list[Drive] = []

    def show_drives(self, drives: list[tuple[str, str, Project, int]]) -> None:
        """drives: name, setting, the project with the drive on it, the place of the axis."""
        self.session.works.run(("the comparison", id(self)), self, lambda _progress: [solved(*one) for one in drives], self._show)

    def _show(self, drives: list[Drive]) -> None:
        self.drives = drives
        self.setAccessibleName("Side by side: " + "; ".join(
            f"{drive.name}: {', '.join(f'{label(name)} {self.figure(drive, name)}' for name, _ in ROWS)}" for drive in self.drives))
        self.update()

    @staticmethod
    def figure(drive: Drive, name: str) -> str:
        """A figure of a drive with its unit, or nothing where its kind has none."""
        value = drive.solution.get(name)
        return "" if value is None else str(value_text(drive.solution.sheet, name, value, drive.system))

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        if not self.drives:
            painter.setFont(font(13))
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter,
                             "Choose up to four rows (Ctrl or Shift) to see them side by side.")
            return
        names = [row for row in ROWS if any(self.figure(drive, row[0]) for drive in self.drives)]
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        for number, (name, _) in enumerate(names):
            painter.drawText(QRectF(12, HEAD + 12 + ROW * number, NAMES - 14, ROW), Qt.AlignmentFlag.AlignVCenter, label(name))
        painter.drawText(QRectF(12, HEAD + 14 + ROW * len(names), NAMES - 14, ROW), Qt.AlignmentFlag.AlignVCenter,
                         "where it is tightest")
        width = (self.width() - NAMES - 12) / max(2, len(self.drives))
        for number, drive in enumerate(self.drives):
            self._column(painter, drive, names, QRectF(NAMES + width * number, 8, width - 14, self.height() - 12))

    def _column(self, painter: QPainter, drive: Drive, names: list[tuple[str, str]], box: QRectF) -> None:
        y = box.top()
        for text, color, bold in ((drive.name, "accent", True), (drive.setting, "muted", False)):
            painter.setFont(font(12, bold=bold))
            painter.setPen(theme.color(color))
            lines = fitted(painter.fontMetrics(), text, box.width(), 2 * LINE)
            painter.drawText(QRectF(box.left(), y, box.width(), 2 * LINE), 0, lines)
            y += LINE * (1 + lines.count("\n"))
        for number, (name, check) in enumerate(names):
            y = box.top() + HEAD + 4 + ROW * number
            level = next((v.level for v in drive.verdicts if v.check == check), "")
            if level:
                draw_mark(painter, level, QPointF(box.left() + 6, y + ROW / 2), 5)
            painter.setFont(font(14, bold=True))
            painter.setPen(theme.color("ink"))
            painter.drawText(QRectF(box.left() + 18, y, box.width() - 18, ROW), Qt.AlignmentFlag.AlignVCenter,
                             self.figure(drive, name))
        tightest = worst(drive.verdicts)
        if tightest is not None:
            y = box.top() + HEAD + 6 + ROW * len(names)
            draw_mark(painter, tightest.level, QPointF(box.left() + 6, y + 10), 5)
            painter.setFont(font(12))
            room = QRectF(box.left() + 18, y + 2, box.width() - 18, box.bottom() - y)
            painter.drawText(room, 0, fitted(painter.fontMetrics(), tightest.sentence, room.width(), room.height() - 4))
