"""The trail: the stages in working order as a path over terrain; it climbs where the margin is thin."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath
from PyQt6.QtWidgets import QSizePolicy, QWidget

from urban_mule.core.sheet.stages import STAGES, StageName
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.kit.painting import painted
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Scope, Whole
from urban_mule.desk.model.upkeep import UpkeepTasks
from urban_mule.desk.model.words import state_word

HEIGHT = 92
OVERDUE = 0.6  # how high the path stands where something is overdue


def climb(verdict: Verdict | None) -> float:
    """How high the path stands at a stage, 0 to 1: by the headroom of its deciding verdict."""
    if verdict is None:
        return 0.05
    if verdict.level == "short":
        return 1.0
    room = 0.5 if verdict.headroom is None else verdict.headroom
    return {"tight": 0.85 - 0.4 * room, "good": 0.42 - 0.37 * room, "unknown": 0.2}[verdict.level]


class Trail(QWidget):
    """The path. Any stage opens at any time: click, or Left and Right, or Ctrl with a digit."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session: Scope = session
        self._whole = session
        self._upkeep = UpkeepTasks(session)
        self.stage: StageName = STAGES[0]
        self._stages: tuple[StageName, ...] = STAGES
        self._profile: tuple[tuple[str, int], ...] = ()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        session.changed.connect(self._refresh)
        session.axis_changed.connect(self._refresh)
        session.book_changed.connect(self._refresh)
        self._refresh()

    def sizeHint(self) -> QSize:
        return QSize(1000, HEIGHT)

    def minimumSizeHint(self) -> QSize:
        return QSize(560, HEIGHT)

    def _refresh(self, names: object = None) -> None:
        profile = tuple((self.level(stage), round(HEIGHT / 2 * self._climb(stage))) for stage in STAGES)
        if names is not None and profile == self._profile:
            return  # an edit that changes no verdict leaves the path as it is
        self._profile = profile
        states = ", ".join(f"{stage} {state_word(level)}" for stage, (level, _) in zip(STAGES, profile, strict=True))
        self.setAccessibleName(f"Trail, at {self.stage}. {states}")
        self.update()

    def level(self, stage: StageName) -> str:
        """The state of a stage: its deciding verdict, or whether anything stands there yet."""
        worst = self.session.worst(stage)
        if worst is not None:
            return worst.level
        if stage == "Log" and self._overdue():
            return "tight"
        return "good" if self.session.has_entries() else "unknown"

    def _overdue(self) -> bool:
        """Whether something of the shown axis should have been looked after by now."""
        return self.session is self._whole and any(one.late for one in self._upkeep.of_axis(self._whole.axis))

    def _climb(self, stage: StageName) -> float:
        return OVERDUE if stage == "Log" and self._overdue() else climb(self.session.worst(stage))

    def show_stage(self, stage: StageName) -> None:
        self.stage = stage
        self._refresh()

    def show_of(self, session: Scope) -> None:
        """Show the path of an axis, or of another subject, which may have some of the stages only."""
        self.session, self._stages = session, session.stages
        self._refresh()

    def places(self) -> list[QPointF]:
        """Where each stage stands on the path."""
        step = (self.width() - 40) / len(STAGES)
        low, high = HEIGHT - 32.0, 20.0
        return [
            QPointF(30 + step * (i + 0.5), low - (low - high) * self._climb(stage))
            for i, stage in enumerate(STAGES)
        ]

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        points = self.places()
        here = STAGES.index(self.stage)
        ground = HEIGHT - 24.0
        path = smooth([QPointF(0, ground - 4), *points, QPointF(self.width(), ground - 6)])
        hill = QPainterPath(path)
        hill.lineTo(self.width(), ground)
        hill.lineTo(0, ground)
        painter.fillPath(hill, theme.color("terrain"))
        painter.setPen(theme.pen("muted", 1.4))
        painter.drawPath(path)
        painter.setPen(theme.pen("accent", 3))
        painter.drawPath(smooth([QPointF(0, ground - 4), *points[:here + 1]]))
        for point, stage in zip(points, STAGES, strict=True):
            here_too = stage in self._stages
            if here_too:
                draw_mark(painter, self.level(stage), point, 6)
            now = stage == self.stage
            painter.setFont(font(13, bold=now))
            painter.setPen(theme.color("accent" if now else "ink" if here_too else "muted"))
            painter.drawText(QRectF(point.x() - 50, ground + 3, 100, 18), Qt.AlignmentFlag.AlignCenter, stage)
        self._flag(painter, points[here])
        if self.hasFocus():
            painter.setPen(theme.pen("accent", 1.5))
            painter.drawLine(QPointF(points[here].x() - 28, HEIGHT - 2), QPointF(points[here].x() + 28, HEIGHT - 2))

    @staticmethod
    def _flag(painter: QPainter, foot: QPointF) -> None:
        painter.setPen(theme.pen("accent", 1.6))
        painter.drawLine(QPointF(foot.x(), foot.y() - 6), QPointF(foot.x(), foot.y() - 19))
        cloth = QPainterPath(QPointF(foot.x(), foot.y() - 20))
        cloth.lineTo(foot.x() + 12, foot.y() - 16)
        cloth.lineTo(foot.x(), foot.y() - 12)
        painter.fillPath(cloth, theme.color("accent"))

    def _choose(self, index: int) -> None:
        if 0 <= index < len(STAGES):
            self.chosen.emit(STAGES[index])

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            near = [abs(event.position().x() - point.x()) for point in self.places()]
            self._choose(near.index(min(near)))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key())) if event is not None else None
        if step is not None:
            self._choose(STAGES.index(self.stage) + step)
        else:
            super().keyPressEvent(event)


def smooth(points: list[QPointF]) -> QPainterPath:
    """A path through points that neither overshoots nor swings: level at each of them."""
    path = QPainterPath(points[0])
    for before, after in pairwise(points):
        middle = (before.x() + after.x()) / 2
        path.cubicTo(QPointF(middle, before.y()), QPointF(middle, after.y()), after)
    return path
